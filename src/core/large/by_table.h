/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_BY_TABLE_H
#define DIA_CORE_BY_TABLE_H

#include <string.h>

#include <diachrome/colour.h>

#include "lane.h"

/*
 * Three channels by tables of the drives of all codes, made once for many pixels (6 KB of stack).
 *
 * The channels of a pixel stand side by side in a word, 16 bits each: no sum overflows them (see
 * drive.h), so one addition does for all three. What goes out is the upper bits of each; sums are
 * kept close together, and their upper bits taken in a loop of its own that turns into vectors.
 */
#define WORTH_A_TABLE 256u /* pixels */
#define AT_ONCE       64u
#define LANE(channel) lane_of(channel, 16, 64)

/* A drive step is 1 << bits; mark is set in every byte. */
static inline void add_up(const uint64_t (*table)[256], uint64_t *carry, const uint8_t *codes,
                          uint32_t n, unsigned bits, uint8_t mark, uint8_t *out)
{
    uint16_t sums[3 * AT_ONCE + 1]; /* the fourth of the last pixel goes nowhere */
    uint64_t sum = *carry, rest = (1u << bits) - 1;
    const uint64_t carries = rest << LANE(0) | rest << LANE(1) | rest << LANE(2);
    for (uint32_t i = 0; i < 3 * n; i += 3) {
        uint64_t drives = table[0][codes[i]] + table[1][codes[i + 1]] + table[2][codes[i + 2]];
        sum = (sum & carries) + drives;
        memcpy(&sums[i], &sum, sizeof sum);
    }
    *carry = sum & carries;
    for (uint32_t i = 0; i < 3 * n; i++)
        out[i] = (uint8_t)(sums[i] >> bits | mark);
}

/* Pixels that are black, from the start: they stay black, and leave the carry as it is. */
static inline uint16_t dark(const struct dia_rgb *pixels, uint16_t n)
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

/* n pixels; carry holds that of each byte of a pixel. Stretches of black are passed over. */
static inline void by_table(const uint64_t (*table)[256], uint64_t *carry,
                            const struct dia_rgb *pixels, uint16_t n, unsigned bits, uint8_t mark,
                            uint8_t *out)
{
    while (n != 0) {
        uint16_t black = dark(pixels, n);
        memset(out, mark, 3u * black);
        pixels += black;
        out += 3u * black;
        n = (uint16_t)(n - black);
        uint16_t some = n < AT_ONCE ? n : AT_ONCE;
        add_up(table, carry, (const uint8_t *)pixels, some, bits, mark, out);
        pixels += some;
        out += 3u * some;
        n = (uint16_t)(n - some);
    }
}

#endif
