/* SPDX-License-Identifier: MIT */
#include <stddef.h>

#include <diachrome/develop.h>

#include "drive.h"
#include "srgb_table.h"

void dia_develop_init(struct dia_develop *develop, const DIA_ROM struct dia_channels *channels)
{
    develop->channels = channels;
    develop->curve = dia_drive_table;
    develop->table = NULL;
    develop->table_gain = 0;
    for (uint8_t c = 0; c < 4; c++) {
        develop->white[c] = DIA_SHARE_ONE;
        develop->place[c] = c;
    }
    develop->master = DIA_SHARE_ONE;
    develop->time_from = 0;
    develop->mark = 0;
    dia_develop_begin(develop, 0);
}

void dia_develop_order(struct dia_develop *develop, struct dia_order order)
{
    for (uint8_t k = 0; k < develop->channels->count; k++)
        develop->place[order.channel[k] & 3u] = k;
}

static uint8_t bits_reversed(uint8_t x)
{
    x = (uint8_t)(x >> 4 | x << 4);
    x = (uint8_t)((x & 0xccu) >> 2 | (x & 0x33u) << 2);
    return (uint8_t)((x & 0xaau) >> 1 | (x & 0x55u) << 1);
}

/* Counting with the bits reversed spreads 256 starting carries as evenly in time as can be: a
 * half step shows on every second frame, a quarter on every fourth. */
void dia_develop_begin(struct dia_develop *develop, uint32_t slot)
{
    for (uint8_t c = 0; c < 4; c++)
        develop->gain[c] = dia_share_of(develop->white[c], develop->master);
    develop->phase = develop->time_from == DIA_TIME_ALWAYS ? bits_reversed((uint8_t)slot) : 128;
}

void dia_develop_choose(struct dia_develop *develop, uint32_t slot, const struct dia_rgb *pixels,
                        uint16_t n)
{
    const uint8_t *codes = (const uint8_t *)pixels;
    if (develop->time_from <= DIA_TIME_ALWAYS)
        return;
    develop->phase = 128;
    for (; n != 0; n--) {
        for (uint8_t c = 0; c < 3; c++) {
            uint8_t code = *codes++;
            uint16_t drive = drive_scaled(drive_of(develop->curve, code), develop->gain[c]);
            if (code != 0 && (uint8_t)(drive >> 8) < develop->time_from)
                return;
        }
    }
    develop->phase = bits_reversed((uint8_t)slot);
}

void dia_develop_limit(struct dia_develop *develop, dia_share share)
{
    for (uint8_t c = 0; c < 4; c++)
        develop->gain[c] = dia_share_of(develop->gain[c], share);
}

void dia_carry_begin(struct dia_carry *carry, const struct dia_develop *develop)
{
    uint16_t first = develop->phase;
    if (develop->channels->steps > 1) /* 2: shorter than a product, where flash is dear */
        first = (uint16_t)(first + first);
    for (uint8_t c = 0; c < 4; c++)
        carry->channel[c] = first;
}
