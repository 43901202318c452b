/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_SEVEN_H
#define DIA_CORE_SEVEN_H

#include "arrange.h"
#include "drive.h"

/* A step of a 7-bit drive: twice that of one of 8 bits. */
#define SEVEN_BITS 9
#define SEVEN_STEP (1u << SEVEN_BITS)

/* Light from 0 to 65280 as 0 to 65024 = 127 * 512: less a 255th, exactly at both ends. A sum with a
 * carry is 65024 + 511 at most. */
static inline uint16_t seven_of(const DIA_ROM uint16_t *curve, uint8_t code)
{
    uint16_t v = drive_of(curve, code);
    return (uint16_t)(v - (uint16_t)(((uint32_t)v + (v >> 8) + 1u) >> 8));
}

/* One channel after the other, for few pixels or little memory. */
static inline void seven_plainly(const struct dia_develop *develop, struct dia_carry *kept,
                                 const struct dia_rgb *pixels, uint16_t n, uint8_t *out)
{
    uint8_t in_place = &pixels->r == out;
    for (uint8_t c = 0; c < 3; c++) {
        const uint8_t *code = (const uint8_t *)pixels + c;
        uint8_t *step = out + (in_place ? c : develop->place[c]);
        uint16_t carry = (uint16_t)kept->channel[c];
        dia_share gain = develop->gain[c];
        uint8_t mark = develop->mark;
        for (uint16_t i = n; i != 0; i--, code += 3, step += 3) {
            uint16_t sum = (uint16_t)(drive_scaled(seven_of(develop->curve, *code), gain) + carry);
            *step = (uint8_t)(sum >> SEVEN_BITS | mark);
            carry = sum & (SEVEN_STEP - 1u);
        }
        kept->channel[c] = carry;
    }
    if (in_place)
        dia_arrange(develop->place, out, n);
}

#endif
