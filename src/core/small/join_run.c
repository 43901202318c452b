/* SPDX-License-Identifier: MIT */
#include "../join.h"

void dia_join_run(struct dia_rgb *out, const uint8_t *r, const uint8_t *g, const uint8_t *b,
                  uint32_t n)
{
    for (; n != 0; n--, out++) {
        out->r = *r++;
        out->g = *g++;
        out->b = *b++;
    }
}

void dia_fill_run(struct dia_rgb *out, struct dia_rgb colour, uint32_t n)
{
    for (; n != 0; n--)
        *out++ = colour;
}
