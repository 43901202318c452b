/* SPDX-License-Identifier: MIT */
#include <diachrome/develop.h>

#include "drive.h"

/* r g b w, the white common to all three moved to w. */
static inline void divide(uint16_t v[4], struct dia_rgb px, const DIA_ROM uint16_t *curve)
{
    uint16_t r = drive_of(curve, px.r), g = drive_of(curve, px.g), b = drive_of(curve, px.b);
    uint16_t w = r < g ? r : g;
    if (b < w)
        w = b;
    v[0] = (uint16_t)(r - w);
    v[1] = (uint16_t)(g - w);
    v[2] = (uint16_t)(b - w);
    v[3] = w;
}

static void run(const struct dia_develop *develop, struct dia_carry *kept,
                const struct dia_rgb *pixels, uint16_t n, uint8_t *out)
{
    uint8_t carry[4];
    for (uint8_t c = 0; c < 4; c++)
        carry[c] = (uint8_t)kept->channel[c];
    for (; n != 0; n--, pixels++, out += 4) {
        uint16_t v[4];
        divide(v, *pixels, develop->curve);
        for (uint8_t c = 0; c < 4; c++)
            out[develop->place[c]] = drive_step(&carry[c], drive_scaled(v[c], develop->gain[c]));
    }
    for (uint8_t c = 0; c < 4; c++)
        kept->channel[c] = carry[c];
}

static uint32_t draw_ua(const struct dia_develop *develop, const DIA_ROM struct dia_power *power,
                        const struct dia_rgb *pixels, uint16_t n)
{
    uint32_t light[4] = {0, 0, 0, 0};
    for (; n != 0; n--, pixels++) {
        uint16_t v[4];
        divide(v, *pixels, develop->curve);
        for (uint8_t c = 0; c < 4; c++)
            light[c] += v[c];
    }
    uint32_t ua = 0;
    for (uint8_t c = 0; c < 4; c++)
        ua = drive_sum(ua, dia_drive_ua(light[c], develop->gain[c], power->channel_ua[c]));
    return ua;
}

const DIA_ROM struct dia_channels dia_channels_rgbw = {4, 4, 1, run, draw_ua};
