/* SPDX-License-Identifier: MIT */
#include "../channels_run.h"
#include "../drive.h"
#include "../white.h"

void dia_channels_rgbw_run(const struct dia_develop *develop, struct dia_carry *kept,
                           const struct dia_rgb *pixels, uint16_t n, uint8_t *out)
{
    uint8_t carry[4];
    for (uint8_t c = 0; c < 4; c++)
        carry[c] = (uint8_t)kept->channel[c];
    for (; n != 0; n--, pixels++, out += 4) {
        uint16_t v[4];
        white_apart(v, *pixels, develop->curve);
        for (uint8_t c = 0; c < 4; c++)
            out[develop->place[c]] = drive_step(&carry[c], drive_scaled(v[c], develop->gain[c]));
    }
    for (uint8_t c = 0; c < 4; c++)
        kept->channel[c] = carry[c];
}
