/* SPDX-License-Identifier: MIT */
#include "../channels_run.h"
#include "../level.h"

void dia_channels_level_run(const struct dia_develop *develop, struct dia_carry *carry,
                            const struct dia_rgb *pixels, uint16_t n, uint8_t *out)
{
    dia_level_plainly(develop, carry, pixels, n, out);
}
