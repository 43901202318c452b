/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_LEVEL_H
#define DIA_CORE_LEVEL_H

#include "drive.h"

/*
 * Parts with a 5-bit level for the whole pixel before the 8 bits of each channel: what shows is
 * byte * level, 0..7905 = 255 * 31. The least level that holds the brightest channel is taken, so
 * a dim pixel keeps up to 13 bits.
 *
 * 2^18 is one such small step: full light is 7905 * 2^18. A product v * gain is 255 * 2^23 for
 * full, that is 8160 * 2^18, so less a 32nd it is in small steps.
 */
#define SMALL_STEP 18

/* 65536 / level, rounded down: with it a quotient is right or one too small. */
extern const DIA_ROM uint16_t dia_level_reciprocals[32];

static inline uint16_t level_over(uint16_t x, uint8_t level)
{
    uint16_t quotient = (uint16_t)((uint32_t)x * dia_level_reciprocals[level] >> 16);
    return x - quotient * level >= level ? (uint16_t)(quotient + 1) : quotient;
}

static inline uint32_t small_steps(const struct dia_develop *develop, uint8_t code, uint8_t channel)
{
    uint32_t product = (uint32_t)drive_of(develop->curve, code) * develop->gain[channel];
    return product - (product >> 5);
}

/*
 * One channel: the carry of the pixel before is used as far as it is less than one step here, so
 * that a bright pixel does not light the dark one after it; the rest is lost. So the sum over the
 * strip never exceeds the exact one by more than the first carry.
 */
static inline uint8_t level_step(uint32_t *carry, uint32_t light, uint8_t level)
{
    uint32_t step = (uint32_t)level << SMALL_STEP, kept = *carry < step ? *carry : step - 1;
    uint32_t sum = light + kept;
    uint16_t byte = level_over((uint16_t)(sum >> SMALL_STEP), level);
    if (byte > 255)
        byte = 255;
    *carry = sum - byte * step;
    return (uint8_t)byte;
}

/* dia_carry_begin knows nothing of levels: what it leaves in the fourth channel is turned into the
 * first carries when the first pixel's level is known. */
#define LEVEL_BEGUN UINT32_MAX

static inline void level_begin(struct dia_carry *carry, uint8_t level)
{
    uint32_t phase = carry->channel[3]; /* 1/256 of a step */
    for (uint8_t c = 0; c < 3; c++)
        carry->channel[c] = phase * ((uint32_t)level << (SMALL_STEP - 8));
    carry->channel[3] = LEVEL_BEGUN;
}

static inline void level_plainly(const struct dia_develop *develop, struct dia_carry *carry,
                                 const struct dia_rgb *pixels, uint16_t n, uint8_t *out)
{
    for (; n != 0; n--, pixels++, out += 4) {
        uint32_t light[3] = {small_steps(develop, pixels->r, 0), small_steps(develop, pixels->g, 1),
                             small_steps(develop, pixels->b, 2)};
        uint32_t most = light[0] > light[1] ? light[0] : light[1];
        most = light[2] > most ? light[2] : most;
        uint8_t level = (uint8_t)((most >> (SMALL_STEP + 8)) + 1);
        if (carry->channel[3] != LEVEL_BEGUN)
            level_begin(carry, level);
        for (uint8_t c = 0; c < 3; c++)
            out[develop->place[c]] = level_step(&carry->channel[c], light[c], level);
        out[develop->place[3]] = level | develop->mark;
    }
}

#endif
