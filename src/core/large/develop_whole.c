/* SPDX-License-Identifier: MIT */
#include <diachrome/develop.h>

#include "../drive.h"
#include "../seven.h"

/* In kinds of three channels. (White that is taken out of three rounded ones would be too much.) */
enum dia_status dia_develop_whole(struct dia_develop *develop, uint16_t table[256])
{
    if (develop->channels->count != 3 || develop->channels == &dia_channels_rgb_table)
        return DIA_UNSUPPORTED;
    develop->time_from = DIA_WHOLE_STEPS;
    develop->table = table;
    return DIA_OK;
}

/* Bytes by their codes: no carry goes on from pixel to pixel. */
void dia_develop_run_whole(struct dia_develop *develop, const struct dia_rgb *pixels, uint16_t n,
                           uint8_t *out)
{
    struct dia_carry carry;
    uint16_t *table = (uint16_t *)(uintptr_t)develop->table; /* the caller's, to be written */
    const uint16_t *curve = develop->curve;
    const dia_share *gain = develop->gain;
    const uint8_t *place = develop->place;
    if (!table || gain[0] != gain[1] || gain[1] != gain[2]) {
        dia_carry_begin(&carry, develop);
        dia_develop_run(develop, &carry, pixels, n, out);
        return;
    }
    for (uint16_t k = 0; k < 256; k++) {
        uint8_t code = (uint8_t)k;
        table[k] = develop->channels->steps == 1
                       ? drive_scaled(drive_of(curve, code), gain[0]) >> 8
                       : (uint16_t)(drive_scaled(seven_of(curve, code), gain[0]) >> SEVEN_BITS |
                                    develop->mark);
    }
    for (; n != 0; n--, pixels++, out += 3) {
        struct dia_rgb px = *pixels;
        out[place[0]] = (uint8_t)table[px.r];
        out[place[1]] = (uint8_t)table[px.g];
        out[place[2]] = (uint8_t)table[px.b];
    }
}
