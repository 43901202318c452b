/* SPDX-License-Identifier: MIT */
#include "channels_run.h"
#include "level.h"

const DIA_ROM uint16_t dia_level_reciprocals[32] = {
    0,    65535, 32768, 21845, 16384, 13107, 10922, 9362, 8192, 7281, 6553,
    5957, 5461,  5041,  4681,  4369,  4096,  3855,  3640, 3449, 3276, 3120,
    2978, 2849,  2730,  2621,  2520,  2427,  2340,  2259, 2184, 2114,
};

static uint32_t draw_ua(const struct dia_develop *develop, const DIA_ROM struct dia_power *power,
                        const struct dia_rgb *pixels, uint16_t n)
{
    return dia_channels_rgb_draw_ua(develop, power, pixels, n);
}

const DIA_ROM struct dia_channels dia_channels_level = {4, 3, 1, dia_channels_level_run, draw_ua};
