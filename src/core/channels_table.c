/* SPDX-License-Identifier: MIT */
#include <diachrome/develop.h>

#include "channels_rgb.h"
#include "drive.h"

enum dia_status dia_develop_prepare(struct dia_develop *develop, uint16_t table[256])
{
    const dia_share *gain = develop->gain;
    if (gain[0] != gain[1] || gain[1] != gain[2])
        return DIA_UNSUPPORTED;
    for (uint16_t code = 0; code < 256; code++)
        table[code] = drive_scaled(drive_of(develop->curve, (uint8_t)code), gain[0]);
    develop->table = table;
    develop->table_gain = gain[0];
    return DIA_OK;
}

/* One channel of n pixels, all in registers; the new carry. */
static uint8_t channel_run(const uint16_t *table, const uint8_t *codes, uint8_t *steps, uint16_t n,
                           uint8_t carry)
{
    for (; n != 0; n--, codes += 3, steps += 3)
        *steps = drive_step(&carry, table[*codes]);
    return carry;
}

static void run(const struct dia_develop *develop, struct dia_carry *kept,
                const struct dia_rgb *pixels, uint16_t n, uint8_t *out)
{
    const dia_share *gain = develop->gain;
    if (!develop->table || gain[0] != develop->table_gain || gain[1] != gain[0] ||
        gain[2] != gain[0]) { /* nobody has prepared this frame */
        dia_channels_rgb.run(develop, kept, pixels, n, out);
        return;
    }
    for (uint8_t c = 0; c < 3; c++)
        kept->channel[c] = channel_run(develop->table, (const uint8_t *)pixels + c, out + c, n,
                                       (uint8_t)kept->channel[c]);
}

const DIA_ROM struct dia_channels dia_channels_rgb_table = {3, 3, 1, run, dia_channels_rgb_draw_ua};
