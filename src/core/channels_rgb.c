/* SPDX-License-Identifier: MIT */
#include "channels_run.h"
#include "drive.h"

uint32_t dia_channels_rgb_draw_ua(const struct dia_develop *develop,
                                  const DIA_ROM struct dia_power *power,
                                  const struct dia_rgb *pixels, uint16_t n)
{
    uint32_t ua = 0;
    for (uint8_t c = 0; c < 3; c++) {
        uint32_t light = 0;
        const uint8_t *code = (const uint8_t *)pixels + c;
        for (uint16_t i = n; i != 0; i--, code += 3)
            light += drive_of(develop->curve, *code);
        ua = drive_sum(ua, dia_drive_ua(light, develop->gain[c], power->channel_ua[c]));
    }
    return ua;
}

const DIA_ROM struct dia_channels dia_channels_rgb = {3, 3, 1, dia_channels_rgb_run,
                                                      dia_channels_rgb_draw_ua};
