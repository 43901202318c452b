/* SPDX-License-Identifier: MIT */
#include "../arrange.h"
#include "../channels_run.h"
#include "small.h"

/* One channel after the other, all pixels of it: so a single carry and gain are at work at a time.
 */
void dia_channels_rgb_run(const struct dia_develop *develop, struct dia_carry *kept,
                          const struct dia_rgb *pixels, uint16_t n, uint8_t *out)
{
    const uint8_t *code = &pixels->r;
    uint8_t in_place = code == out;
    for (uint8_t c = 0; c < 3; c++)
        kept->channel[c] =
            dia_small_channel_run(code + c, out + (in_place ? c : develop->place[c]), n,
                                  develop->gain[c], develop->curve, (uint8_t)kept->channel[c]);
    if (in_place)
        dia_arrange(develop->place, out, n);
}
