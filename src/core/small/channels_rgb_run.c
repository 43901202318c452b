/* SPDX-License-Identifier: MIT */
#include "../channels_rgb.h"
#include "small.h"

/* One channel after the other, all pixels of it: so a single carry and gain are at work at a time.
 */
void dia_channels_rgb_run(const struct dia_develop *develop, struct dia_carry *kept,
                          const struct dia_rgb *pixels, uint16_t n, uint8_t *out)
{
    for (uint8_t c = 0; c < 3; c++)
        kept->channel[c] =
            small_channel_run((const uint8_t *)pixels + c, out + c, n, develop->gain[c],
                              develop->curve, (uint8_t)kept->channel[c]);
}
