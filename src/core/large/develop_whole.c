/* SPDX-License-Identifier: MIT */
#include <diachrome/develop.h>

#include "../drive.h"

/*
 * A curve of whole steps, with the gain already in it: then no carry changes from pixel to pixel,
 * in kinds of three channels. (White that is taken out of three rounded ones would be too much.)
 */
enum dia_status dia_develop_whole(struct dia_develop *develop, uint16_t table[256])
{
    if (develop->channels->count != 3 || develop->channels == &dia_channels_rgb_table)
        return DIA_UNSUPPORTED;
    develop->time_from = DIA_WHOLE_STEPS;
    develop->table = table;
    return DIA_OK;
}

void dia_develop_run_whole(struct dia_develop *develop, const struct dia_rgb *pixels, uint16_t n,
                           uint8_t *out)
{
    struct dia_develop whole = *develop;
    struct dia_carry carry;
    uint16_t *table = (uint16_t *)(uintptr_t)develop->table; /* the caller's, to be written */
    uint16_t mask = develop->channels->steps == 1 ? 0xff00u : 0xfe00u;
    const dia_share *gain = develop->gain;
    if (table && gain[0] == gain[1] && gain[1] == gain[2]) {
        for (uint16_t code = 0; code < 256; code++)
            table[code] = drive_scaled(drive_of(develop->curve, (uint8_t)code), gain[0]) & mask;
        whole.curve = table;
        for (uint8_t c = 0; c < 3; c++)
            whole.gain[c] = DIA_SHARE_ONE;
    }
    dia_carry_begin(&carry, &whole);
    dia_develop_run(&whole, &carry, pixels, n, out);
}
