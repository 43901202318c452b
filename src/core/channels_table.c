/* SPDX-License-Identifier: MIT */
#include <diachrome/develop.h>

#include "arrange.h"
#include "channels_run.h"
#include "drive.h"
#include "table_run.h"

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

static void run(const struct dia_develop *develop, struct dia_carry *kept,
                const struct dia_rgb *pixels, uint16_t n, uint8_t *out)
{
    const dia_share *gain = develop->gain;
    uint8_t in_place = &pixels->r == out;
    if (!develop->table || gain[0] != develop->table_gain || gain[1] != gain[0] ||
        gain[2] != gain[0]) { /* nobody has prepared this frame */
        dia_channels_rgb.run(develop, kept, pixels, n, out);
        return;
    }
    for (uint8_t c = 0; c < 3; c++)
        kept->channel[c] =
            dia_table_run(develop->table, &pixels->r + c, out + (in_place ? c : develop->place[c]),
                          n, (uint8_t)kept->channel[c]);
    if (in_place)
        dia_arrange(develop->place, out, n);
}

const DIA_ROM struct dia_channels dia_channels_rgb_table = {3, 3, 1, run, dia_channels_rgb_draw_ua};
