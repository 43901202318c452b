/* SPDX-License-Identifier: MIT */
#include "../channels_run.h"
#include "../seven.h"

void dia_channels_seven_run(const struct dia_develop *develop, struct dia_carry *kept,
                            const struct dia_rgb *pixels, uint16_t n, uint8_t *out)
{
    seven_plainly(develop, kept, pixels, n, out);
}
