/* SPDX-License-Identifier: MIT */
#include <string.h>

#include "../channels_rgb.h"
#include "../drive.h"
#include "lane.h"

#define WORTH_A_TABLE 256

static void run_plainly(const struct dia_develop *develop, uint8_t carry[3],
                        const struct dia_rgb *pixels, uint16_t n, uint8_t *out)
{
    const dia_share *gain = develop->gain;
    const uint16_t *curve = develop->curve;
    const uint8_t *place = develop->place;
    for (; n != 0; n--, pixels++, out += 3) {
        struct dia_rgb px = *pixels;
        out[place[0]] = drive_step(&carry[0], drive_scaled(drive_of(curve, px.r), gain[0]));
        out[place[1]] = drive_step(&carry[1], drive_scaled(drive_of(curve, px.g), gain[1]));
        out[place[2]] = drive_step(&carry[2], drive_scaled(drive_of(curve, px.b), gain[2]));
    }
}

#define AT_ONCE       64u /* pixels */
#define LANE(channel) lane_of(channel, 16, 64)

/*
 * The three channels of a pixel side by side in a word, 16 bits each: no sum overflows them (see
 * drive.h), so one addition does for all three. What goes out is the upper byte of each; sums are
 * kept close together, and their upper bytes taken in a loop of its own that turns into vectors.
 */
static void add_up(const uint64_t (*table)[256], uint64_t *carry, const uint8_t *codes, uint32_t n,
                   uint8_t *out)
{
    uint16_t sums[3 * AT_ONCE + 1]; /* the fourth of the last pixel goes nowhere */
    uint64_t sum = *carry;
    const uint64_t carries =
        (uint64_t)255 << LANE(0) | (uint64_t)255 << LANE(1) | (uint64_t)255 << LANE(2);
    for (uint32_t i = 0; i < 3 * n; i += 3) {
        uint64_t drives = table[0][codes[i]] + table[1][codes[i + 1]] + table[2][codes[i + 2]];
        sum = (sum & carries) + drives;
        memcpy(&sums[i], &sum, sizeof sum);
    }
    *carry = sum & carries;
    for (uint32_t i = 0; i < 3 * n; i++)
        out[i] = (uint8_t)(sums[i] >> 8);
}

/* Pixels that are black, from the start: they stay black, and leave the carry as it is. */
static uint16_t dark(const struct dia_rgb *pixels, uint16_t n)
{
    const uint8_t *codes = (const uint8_t *)pixels;
    uint32_t bytes = 3u * n, i = 0;
    for (uint64_t eight; i + 8 <= bytes; i += 8) {
        memcpy(&eight, codes + i, 8);
        if (eight != 0)
            break;
    }
    while (i < bytes && codes[i] == 0)
        i++;
    return (uint16_t)(i / 3);
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

/* Light times gain of all 256 codes, once for many pixels: 6 KB of stack. Stretches of black are
 * passed over. */
static void run_by_table(const struct dia_develop *develop, uint8_t carry[3],
                         const struct dia_rgb *pixels, uint16_t n, uint8_t *out)
{
    uint64_t table[3][256];
    uint64_t sum = 0;
    for (unsigned c = 0; c < 3; c++)
        sum |= (uint64_t)carry[c] << LANE(develop->place[c]);
    make_table(table, develop);
    while (n != 0) {
        uint16_t black = dark(pixels, n);
        memset(out, 0, 3u * black);
        pixels += black;
        out += 3u * black;
        n = (uint16_t)(n - black);
        uint16_t some = n < AT_ONCE ? n : AT_ONCE;
        add_up((const uint64_t(*)[256])table, &sum, (const uint8_t *)pixels, some, out);
        pixels += some;
        out += 3u * some;
        n = (uint16_t)(n - some);
    }
    for (unsigned c = 0; c < 3; c++)
        carry[c] = (uint8_t)(sum >> LANE(develop->place[c]));
}

void dia_channels_rgb_run(const struct dia_develop *develop, struct dia_carry *kept,
                          const struct dia_rgb *pixels, uint16_t n, uint8_t *out)
{
    uint8_t carry[3] = {(uint8_t)kept->channel[0], (uint8_t)kept->channel[1],
                        (uint8_t)kept->channel[2]};
    if (n < WORTH_A_TABLE)
        run_plainly(develop, carry, pixels, n, out);
    else
        run_by_table(develop, carry, pixels, n, out);
    for (unsigned c = 0; c < 3; c++)
        kept->channel[c] = carry[c];
}
