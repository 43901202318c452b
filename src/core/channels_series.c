/* SPDX-License-Identifier: MIT */
#include <diachrome/develop.h>

#include "drive.h"

/* r g b times gain in 1/256 of a drive step, and the greatest of them. */
static inline uint16_t scaled(uint16_t v[3], struct dia_rgb px, const struct dia_develop *develop)
{
    const dia_share *gain = develop->gain;
    const DIA_ROM uint16_t *curve = develop->curve;
    v[0] = drive_scaled(drive_of(curve, px.r), gain[0]);
    v[1] = drive_scaled(drive_of(curve, px.g), gain[1]);
    v[2] = drive_scaled(drive_of(curve, px.b), gain[2]);
    uint16_t most = v[0] > v[1] ? v[0] : v[1];
    return v[2] > most ? v[2] : most;
}

/*
 * Dies in series draw what the brightest channel draws, so it is the sum of the brightest that
 * must come out right. One carry serves all three: it follows the brightest, and the others are
 * compared with the same carry, so none of them can overtake it.
 */
static void run(const struct dia_develop *develop, struct dia_carry *carry,
                const struct dia_rgb *pixels, uint16_t n, uint8_t *out)
{
    uint8_t shared = (uint8_t)carry->channel[0];
    for (; n != 0; n--, pixels++, out += 3) {
        uint16_t v[3], most = scaled(v, *pixels, develop);
        for (uint8_t c = 0; c < 3; c++)
            out[develop->place[c]] = (uint8_t)((uint16_t)(v[c] + shared) >> 8);
        shared = (uint8_t)(most + shared);
    }
    carry->channel[0] = shared;
}

static uint32_t draw_ua(const struct dia_develop *develop, const DIA_ROM struct dia_power *power,
                        const struct dia_rgb *pixels, uint16_t n)
{
    uint32_t light = 0;
    for (; n != 0; n--, pixels++) {
        uint16_t v[3];
        light += scaled(v, *pixels, develop);
    }
    return dia_drive_ua(light, DIA_SHARE_ONE, power->channel_ua[0]);
}

const DIA_ROM struct dia_channels dia_channels_series = {3, 1, 1, run, draw_ua};
