/* SPDX-License-Identifier: MIT */
#include <diachrome/lamp.h>

#include "srgb_table.h"

/* 0.2126, 0.7152 and 0.0722 in 65536ths, which add up to 65536. */
uint8_t dia_lamp_of(struct dia_rgb colour)
{
    uint32_t light = (uint32_t)dia_srgb_table[colour.r] * 13933u +
                     (uint32_t)dia_srgb_table[colour.g] * 46871u +
                     (uint32_t)dia_srgb_table[colour.b] * 4732u;
    return dia_code_of((dia_light)(light >> 16));
}

#define HALF_LIT 14146u /* light of code 128 */

void dia_lamps_develop(const uint8_t *levels, uint16_t n, dia_share master, uint8_t depth,
                       uint8_t *steps)
{
    uint8_t full = (uint8_t)((1u << depth) - 1u);
    uint32_t half = depth == 1 ? 65536u - HALF_LIT : 32768u;
    for (uint16_t i = 0; i < n; i++) {
        uint16_t light = (uint16_t)((uint32_t)dia_srgb_table[levels[i]] * master >> 15);
        steps[i] = (uint8_t)(((uint32_t)light * full + half) >> 16);
    }
}
