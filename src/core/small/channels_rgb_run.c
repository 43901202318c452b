/* SPDX-License-Identifier: MIT */
#include "../channels_rgb.h"
#include "../drive.h"

/* One channel after the other, all pixels of it: so a single carry and gain are at work at a time,
 * and stay in registers even where those have 8 bits. */
void channels_rgb_run(const struct dia_develop *develop, struct dia_carry *kept,
                      const struct dia_rgb *pixels, uint16_t n, uint8_t *out)
{
    for (uint8_t c = 0; c < 3; c++) {
        const uint8_t *code = (const uint8_t *)pixels + c;
        uint8_t *step = out + c;
        uint8_t carry = (uint8_t)kept->channel[c];
        dia_share gain = develop->gain[c];
        for (uint16_t i = n; i != 0; i--, code += 3, step += 3)
            *step = drive_step(&carry, drive_scaled(drive_of(*code), gain));
        kept->channel[c] = carry;
    }
}
