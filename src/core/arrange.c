/* SPDX-License-Identifier: MIT */
#include "arrange.h"

void dia_arrange(const uint8_t place[3], uint8_t *out, uint16_t n)
{
    if (place[0] == 0 && place[1] == 1)
        return;
    for (; n != 0; n--, out += 3) {
        uint8_t r = out[0], g = out[1], b = out[2];
        out[place[0]] = r;
        out[place[1]] = g;
        out[place[2]] = b;
    }
}
