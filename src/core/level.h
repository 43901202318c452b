/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_LEVEL_H
#define DIA_CORE_LEVEL_H

#include "drive.h"

/*
 * Parts with a 5-bit level for the whole pixel before the 8 bits of each channel: what shows is
 * byte * level, up to 255 * 31. The least level that holds the brightest channel is taken, so a
 * dim pixel keeps up to 13 bits: light, 0..65280 as everywhere, by 65280 / 31, rounded up; 1 for
 * none. With x = most * 31 = above * 65536 + below, x by 65280 is above, and one more where what is
 * left, above * 256 + below, is more than 65280 still.
 */
static inline uint16_t level_of(uint16_t most)
{
    uint16_t above = product_high(most, 31), below = (uint16_t)(most * 31u);
    uint16_t more = below > (uint16_t)(65280u - (uint16_t)(above << 8));
    return (uint16_t)(above + more + 1u);
}

/*
 * The drive, in 1/128 of a step of the byte, is light * 31 / (2 * level), and never more; full is
 * exactly full. First the light times a power of two, which leaves it below 2^16; then the upper
 * half of a product. Less than two 128ths are cut off. Of level l, in place l - 1.
 */
#define LEVEL_FRACTION 7 /* bits */
extern const DIA_ROM uint16_t dia_level_times[32], dia_level_by[32];

/*
 * What is carried from a pixel to the next is a part of a step. A step of a higher level is larger:
 * where the level rises nothing is carried, so that the sum over the strip never exceeds the exact
 * one by more than the first carry. The fourth carry is the level of the pixel before, and 256;
 * before the first pixel there is none.
 */
static inline uint16_t level_before(const struct dia_carry *carry)
{
    return carry->channel[3] < 256u ? 31 : (uint16_t)(carry->channel[3] - 256u);
}

/* One pixel after the other. */
void dia_level_plainly(const struct dia_develop *develop, struct dia_carry *kept,
                       const struct dia_rgb *pixels, uint16_t n, uint8_t *out);

#endif
