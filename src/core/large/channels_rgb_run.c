/* SPDX-License-Identifier: MIT */
#include "../channels_run.h"
#include "../drive.h"
#include "by_table.h"

static void run_plainly(const struct dia_develop *develop, struct dia_carry *kept,
                        const struct dia_rgb *pixels, uint16_t n, uint8_t *out)
{
    const dia_share *gain = develop->gain;
    const uint16_t *curve = develop->curve;
    const uint8_t *place = develop->place;
    uint8_t carry[3] = {(uint8_t)kept->channel[0], (uint8_t)kept->channel[1],
                        (uint8_t)kept->channel[2]};
    for (; n != 0; n--, pixels++, out += 3) {
        struct dia_rgb px = *pixels;
        out[place[0]] = drive_step(&carry[0], drive_scaled(drive_of(curve, px.r), gain[0]));
        out[place[1]] = drive_step(&carry[1], drive_scaled(drive_of(curve, px.g), gain[1]));
        out[place[2]] = drive_step(&carry[2], drive_scaled(drive_of(curve, px.b), gain[2]));
    }
    for (unsigned c = 0; c < 3; c++)
        kept->channel[c] = carry[c];
}

static void make_table(uint64_t (*table)[256], const struct dia_develop *develop)
{
    for (unsigned c = 0; c < 3; c++) {
        for (int code = 0; code < 256; code++)
            table[c][code] =
                (uint64_t)drive_scaled(drive_of(develop->curve, (uint8_t)code), develop->gain[c])
                << LANE(develop->place[c]);
    }
}

void dia_channels_rgb_run(const struct dia_develop *develop, struct dia_carry *kept,
                          const struct dia_rgb *pixels, uint16_t n, uint8_t *out)
{
    uint64_t table[3][256], carry = 0;
    if (n < WORTH_A_TABLE) {
        run_plainly(develop, kept, pixels, n, out);
        return;
    }
    make_table(table, develop);
    for (unsigned c = 0; c < 3; c++)
        carry |= (uint64_t)(uint8_t)kept->channel[c] << LANE(develop->place[c]);
    by_table((const uint64_t(*)[256])table, &carry, pixels, n, 8, 0, out);
    for (unsigned c = 0; c < 3; c++)
        kept->channel[c] = (uint8_t)(carry >> LANE(develop->place[c]));
}
