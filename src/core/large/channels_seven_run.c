/* SPDX-License-Identifier: MIT */
#include "../channels_run.h"
#include "../seven.h"
#include "by_table.h"

static void make_table(uint64_t (*table)[256], const struct dia_develop *develop)
{
    for (unsigned c = 0; c < 3; c++) {
        for (int code = 0; code < 256; code++)
            table[c][code] =
                (uint64_t)drive_scaled(seven_of(develop->curve, (uint8_t)code), develop->gain[c])
                << LANE(develop->place[c]);
    }
}

void dia_channels_seven_run(const struct dia_develop *develop, struct dia_carry *kept,
                            const struct dia_rgb *pixels, uint16_t n, uint8_t *out)
{
    uint64_t table[3][256], carry = 0;
    if (n < WORTH_A_TABLE) {
        seven_plainly(develop, kept, pixels, n, out);
        return;
    }
    make_table(table, develop);
    for (unsigned c = 0; c < 3; c++)
        carry |= (uint64_t)(kept->channel[c] & (SEVEN_STEP - 1)) << LANE(develop->place[c]);
    by_table((const uint64_t(*)[256])table, &carry, pixels, n, SEVEN_BITS, develop->mark, out);
    for (unsigned c = 0; c < 3; c++)
        kept->channel[c] = (uint16_t)(carry >> LANE(develop->place[c])) & (SEVEN_STEP - 1);
}
