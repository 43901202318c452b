/* SPDX-License-Identifier: MIT */
#include <diachrome/colour.h>

#include "srgb_table.h"

dia_light dia_light_of(uint8_t code)
{
    return dia_srgb_table[code];
}

/*
 * The way back needs no second table: the curve is monotone, so eight halvings find the code
 * whose light is the last not above the one asked for; then the nearer of it and the next.
 */
uint8_t dia_code_of(dia_light light)
{
    uint8_t code = 0;
    for (uint8_t bit = 128; bit != 0; bit = (uint8_t)(bit >> 1)) {
        uint8_t higher = (uint8_t)(code | bit);
        if (dia_srgb_table[higher] <= light)
            code = higher;
    }
    if (code < 255) {
        uint16_t below = (uint16_t)(light - dia_srgb_table[code]);
        uint16_t above = (uint16_t)(dia_srgb_table[code + 1] - light);
        if (above < below)
            code++;
    }
    return code;
}

static uint8_t mix_channel(uint8_t a, uint8_t b, dia_share share)
{
    uint32_t light =
        (uint32_t)dia_light_of(a) * (DIA_SHARE_ONE - share) + (uint32_t)dia_light_of(b) * share;
    return dia_code_of((dia_light)(light >> 15));
}

struct dia_rgb dia_rgb_mix(struct dia_rgb a, struct dia_rgb b, dia_share share)
{
    struct dia_rgb mix = {mix_channel(a.r, b.r, share), mix_channel(a.g, b.g, share),
                          mix_channel(a.b, b.b, share)};
    return mix;
}
