/* SPDX-License-Identifier: MIT */
#include "../join.h"
#include "../shade.h"

#define AT_ONCE 64u

static void shade_codes(uint8_t *codes, uint8_t from, uint8_t to, const uint16_t *levels,
                        uint32_t n)
{
    for (uint32_t i = 0; i < n; i++)
        codes[i] = shade_code(from, to, shade_256ths(levels[i]));
}

/* 1: they are all the same. */
static int are_one(const uint16_t *levels, uint32_t n)
{
    uint16_t differs = 0;
    for (uint32_t i = 0; i < n; i++)
        differs |= levels[i] ^ levels[0];
    return differs == 0;
}

/* Channel by channel, in loops that turn into vectors; then the three are put together. */
void dia_shade_run(struct dia_rgb *out, struct dia_rgb from, struct dia_rgb to,
                   const uint16_t *levels, uint32_t n)
{
    uint8_t r[AT_ONCE], g[AT_ONCE], b[AT_ONCE];
    while (n != 0) {
        uint32_t run = n < AT_ONCE ? n : AT_ONCE;
        if (are_one(levels, run)) {
            dia_fill_run(out, shade(from, to, *levels), run);
        } else {
            shade_codes(r, from.r, to.r, levels, run);
            shade_codes(g, from.g, to.g, levels, run);
            shade_codes(b, from.b, to.b, levels, run);
            dia_join_run(out, r, g, b, run);
        }
        out += run;
        levels += run;
        n -= run;
    }
}
