/* SPDX-License-Identifier: MIT */
#include "shade.h"

void shades_make(struct shades *shades, struct dia_rgb from, struct dia_rgb to)
{
    for (uint8_t k = 0; k <= SHADES; k++)
        shades->of[k] = shade(from, to, k == SHADES ? 65535u : (uint16_t)(k << 10));
}
