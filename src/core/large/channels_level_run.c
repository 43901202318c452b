/* SPDX-License-Identifier: MIT */
#include "../channels_run.h"
#include "../level.h"
#include "lane.h"

/*
 * The same bytes as dia_level_plainly. All that does not wait for a carry is done for 64 pixels at
 * once, in loops that turn into vectors; then the channels of a pixel stand side by side in a word,
 * in the order of its bytes, and one addition does for all of them, as in by_table.h. Loops that
 * are no vectors go in steps of four.
 */
#define WORTH_A_TABLE 256u /* pixels; 3 KB of stack */
#define AT_ONCE       64u
#define BEFORE        8u /* so that what follows lies as vectors like it */

struct some {
    uint16_t light[3][AT_ONCE]; /* then the drive */
    uint16_t level[BEFORE + AT_ONCE];
    uint16_t times[AT_ONCE], by[AT_ONCE], shown[AT_ONCE];
    uint16_t sums[4 * AT_ONCE];
    uint8_t rises[AT_ONCE];
};

static inline void look_up(struct some *some, const uint16_t (*table)[256],
                           const struct dia_rgb *pixels)
{
    for (uint32_t i = 0; i < AT_ONCE; i += 4) {
        for (uint32_t k = i; k < i + 4; k++) {
            some->light[0][k] = table[0][pixels[k].r];
            some->light[1][k] = table[1][pixels[k].g];
            some->light[2][k] = table[2][pixels[k].b];
        }
    }
}

static inline void find_levels(struct some *some, uint8_t mark)
{
    uint16_t *level = some->level + BEFORE;
    for (uint32_t i = 0; i < AT_ONCE; i++) {
        uint16_t most = some->light[0][i];
        most = some->light[1][i] > most ? some->light[1][i] : most;
        most = some->light[2][i] > most ? some->light[2][i] : most;
        level[i] = level_of(most);
    }
    for (uint32_t i = 0; i < AT_ONCE; i += 4) {
        for (uint32_t k = i; k < i + 4; k++) {
            some->times[k] = dia_level_times[level[k] - 1];
            some->by[k] = dia_level_by[level[k] - 1];
        }
    }
    for (uint32_t i = 0; i < AT_ONCE; i++) {
        some->rises[i] = level[i] > some->level[BEFORE + i - 1];
        some->shown[i] = (uint16_t)((level[i] | mark) << LEVEL_FRACTION);
    }
}

static inline void divide(struct some *some, uint16_t *light)
{
    for (uint32_t i = 0; i < AT_ONCE; i++)
        light[i] = product_high((uint16_t)(light[i] * some->times[i]), some->by[i]);
}

static inline void side_by_side(struct some *some, const uint16_t *const *at)
{
    const uint16_t *first = at[0], *second = at[1], *third = at[2], *fourth = at[3];
    for (uint32_t i = 0; i < AT_ONCE; i++) {
        some->sums[4 * i] = first[i];
        some->sums[4 * i + 1] = second[i];
        some->sums[4 * i + 2] = third[i];
        some->sums[4 * i + 3] = fourth[i];
    }
}

static inline uint64_t add_up(struct some *some, uint64_t sum, uint64_t carries)
{
    const uint64_t kept[2] = {carries, 0};
    for (uint32_t i = 0; i < AT_ONCE; i += 4) {
        for (uint32_t k = i; k < i + 4; k++) {
            uint64_t drives;
            memcpy(&drives, &some->sums[4 * k], sizeof drives);
            sum = (sum & kept[some->rises[k]]) + drives;
            memcpy(&some->sums[4 * k], &sum, sizeof sum);
        }
    }
    return sum & carries;
}

void dia_channels_level_run(const struct dia_develop *develop, struct dia_carry *kept,
                            const struct dia_rgb *pixels, uint16_t n, uint8_t *out)
{
    uint16_t table[3][256];
    struct some some;
    uint64_t sum = 0, carries = 0;
    const uint16_t *at[4];
    if (n < WORTH_A_TABLE) {
        dia_level_plainly(develop, kept, pixels, n, out);
        return;
    }
    for (unsigned c = 0; c < 3; c++) {
        unsigned lane = lane_of(develop->place[c], 16, 64);
        for (uint32_t code = 0; code < 256; code++)
            table[c][code] =
                drive_scaled(drive_of(develop->curve, (uint8_t)code), develop->gain[c]);
        carries |= (uint64_t)((1u << LEVEL_FRACTION) - 1) << lane;
        sum |= (uint64_t)((uint8_t)kept->channel[c] >> (8 - LEVEL_FRACTION)) << lane;
        /* cppcheck-suppress uninitvar; where they are, not what is in them */
        at[develop->place[c]] = some.light[c];
    }
    at[develop->place[3]] = some.shown;
    some.level[BEFORE - 1] = level_before(kept);
    for (; n >= AT_ONCE; n = (uint16_t)(n - AT_ONCE)) {
        look_up(&some, (const uint16_t(*)[256])table, pixels);
        find_levels(&some, develop->mark);
        for (unsigned c = 0; c < 3; c++)
            divide(&some, some.light[c]);
        side_by_side(&some, at);
        sum = add_up(&some, sum, carries);
        for (uint32_t i = 0; i < 4 * AT_ONCE; i++)
            out[i] = (uint8_t)(some.sums[i] >> LEVEL_FRACTION);
        some.level[BEFORE - 1] = some.level[BEFORE + AT_ONCE - 1];
        pixels += AT_ONCE;
        out += 4u * AT_ONCE;
    }
    for (unsigned c = 0; c < 3; c++) {
        uint8_t carry = (uint8_t)(sum >> lane_of(develop->place[c], 16, 64));
        kept->channel[c] = (uint16_t)(carry << (8 - LEVEL_FRACTION));
    }
    kept->channel[3] = (uint16_t)(some.level[BEFORE - 1] + 256u);
    dia_level_plainly(develop, kept, pixels, n, out);
}
