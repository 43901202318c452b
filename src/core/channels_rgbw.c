/* SPDX-License-Identifier: MIT */
#include "channels_run.h"
#include "drive.h"
#include "white.h"

static uint32_t draw_ua(const struct dia_develop *develop, const DIA_ROM struct dia_power *power,
                        const struct dia_rgb *pixels, uint16_t n)
{
    uint32_t light[4] = {0, 0, 0, 0};
    for (; n != 0; n--, pixels++) {
        uint16_t v[4];
        white_apart(v, *pixels, develop->curve);
        for (uint8_t c = 0; c < 4; c++)
            light[c] += v[c];
    }
    uint32_t ua = 0;
    for (uint8_t c = 0; c < 4; c++)
        ua = drive_sum(ua, dia_drive_ua(light[c], develop->gain[c], power->channel_ua[c]));
    return ua;
}

const DIA_ROM struct dia_channels dia_channels_rgbw = {4, 4, 1, dia_channels_rgbw_run, draw_ua};
