/* SPDX-License-Identifier: MIT */
#include "channels_run.h"
#include "drive.h"
#include "seven.h"

static uint32_t draw_ua(const struct dia_develop *develop, const DIA_ROM struct dia_power *power,
                        const struct dia_rgb *pixels, uint16_t n)
{
    /* a full light is 65024 here and 65280 for dia_drive_ua: a 254th on top, which is a 256th, a
     * 32768th, a 2^22th and so on; the 12 is more than what is left out, so it is rounded up */
    uint32_t ua = 0;
    for (uint8_t c = 0; c < 3; c++) {
        uint32_t light = 0;
        const uint8_t *code = (const uint8_t *)pixels + c;
        for (uint16_t i = n; i != 0; i--, code += 3)
            light += seven_of(develop->curve, *code);
        ua = drive_sum(ua, dia_drive_ua(light + (light >> 8) + (light >> 15) + (light >> 22) + 12,
                                        develop->gain[c], power->channel_ua[c]));
    }
    return ua;
}

const DIA_ROM struct dia_channels dia_channels_seven = {3, 3, 2, dia_channels_seven_run, draw_ua};
