/* SPDX-License-Identifier: MIT */
#include "channels_run.h"
#include "drive.h"

uint32_t dia_channels_rgb_draw_ua(const struct dia_develop *develop,
                                  const DIA_ROM struct dia_power *power,
                                  const struct dia_rgb *pixels, uint16_t n)
{
    const DIA_ROM uint16_t *curve = develop->curve;
    uint32_t ua = 0;
#ifdef __OPTIMIZE_SIZE__ /* one channel after the other is shorter */
    for (uint8_t c = 0; c < 3; c++) {
        uint32_t light = 0;
        const uint8_t *code = (const uint8_t *)pixels + c;
        for (uint16_t i = n; i != 0; i--, code += 3)
            light += drive_of(curve, *code);
        ua = drive_sum(ua, dia_drive_ua(light, develop->gain[c], power->channel_ua[c]));
    }
#else
    uint32_t light[3] = {0, 0, 0};
    for (; n != 0; n--, pixels++) {
        light[0] += drive_of(curve, pixels->r);
        light[1] += drive_of(curve, pixels->g);
        light[2] += drive_of(curve, pixels->b);
    }
    for (uint8_t c = 0; c < 3; c++)
        ua = drive_sum(ua, dia_drive_ua(light[c], develop->gain[c], power->channel_ua[c]));
#endif
    return ua;
}

const DIA_ROM struct dia_channels dia_channels_rgb = {3, 3, 1, dia_channels_rgb_run,
                                                      dia_channels_rgb_draw_ua};
