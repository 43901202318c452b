/* SPDX-License-Identifier: MIT */
#include "channels_run.h"
#include "level.h"

/* 2^15 * 31 / (level * times), rounded down; the last of each is of no level. */
const DIA_ROM uint16_t dia_level_times[32] = {16, 8, 8, 4, 4, 4, 4, 2, 2, 2, 2, 2, 2, 2, 2, 1,
                                              1,  1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 0};
const DIA_ROM uint16_t dia_level_by[32] = {63488, 63488, 42325, 63488, 50790, 42325, 36278, 63488,
                                           56433, 50790, 46173, 42325, 39069, 36278, 33860, 63488,
                                           59753, 56433, 53463, 50790, 48371, 46173, 44165, 42325,
                                           40632, 39069, 37622, 36278, 35027, 33860, 32768, 0};

void dia_level_plainly(const struct dia_develop *develop, struct dia_carry *kept,
                       const struct dia_rgb *pixels, uint16_t n, uint8_t *out)
{
    const uint8_t part = (1u << LEVEL_FRACTION) - 1;
    uint16_t before = level_before(kept);
    uint8_t carry[3];
    for (uint8_t c = 0; c < 3; c++)
        carry[c] = (uint8_t)((uint8_t)kept->channel[c] >> (8 - LEVEL_FRACTION));
    for (; n != 0; n--, pixels++, out += 4) {
        const uint8_t codes[3] = {pixels->r, pixels->g, pixels->b};
        uint16_t light[3], most = 0;
        for (uint8_t c = 0; c < 3; c++) {
            light[c] = drive_scaled(drive_of(develop->curve, codes[c]), develop->gain[c]);
            most = light[c] > most ? light[c] : most;
        }
        uint16_t level = level_of(most);
        uint16_t times = dia_level_times[level - 1], by = dia_level_by[level - 1];
        for (uint8_t c = 0; c < 3; c++) {
            uint16_t sum = product_high((uint16_t)(light[c] * times), by);
            if (level <= before)
                sum = (uint16_t)(sum + carry[c]);
            carry[c] = (uint8_t)(sum & part);
            out[develop->place[c]] = (uint8_t)(sum >> LEVEL_FRACTION);
        }
        out[develop->place[3]] = (uint8_t)(level | develop->mark);
        before = level;
    }
    for (uint8_t c = 0; c < 3; c++)
        kept->channel[c] = (uint16_t)(carry[c] << (8 - LEVEL_FRACTION));
    kept->channel[3] = (uint16_t)(before + 256u);
}

static uint32_t draw_ua(const struct dia_develop *develop, const DIA_ROM struct dia_power *power,
                        const struct dia_rgb *pixels, uint16_t n)
{
    return dia_channels_rgb_draw_ua(develop, power, pixels, n);
}

const DIA_ROM struct dia_channels dia_channels_level = {4, 3, 1, dia_channels_level_run, draw_ua};
