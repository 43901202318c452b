/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_SINE_H
#define DIA_CORE_SINE_H

#include <diachrome/fixed.h>

#define SINE_A 18680
#define SINE_B 21018
#define SINE_C 9340

/* The upper half of a product: one instruction where there are vectors. */
static inline int16_t upper(int16_t a, int16_t b)
{
    return (int16_t)((int32_t)a * b >> 16);
}

/*
 * (1 - cos) / 2 of a phase, 0..65535, within 7 of them. Without a table and without a branch, and
 * in 16 bits, so that a loop of it turns into vectors. From the trough to the crest it is the sine
 * of z, -1..1 quarter turns in 32768ths: z + z (a - z^2 (b - z^2 c)), with the coefficients of
 * least error.
 */
static inline uint16_t sine_of(dia_phase phase)
{
    uint16_t part = (uint16_t)(phase >> 16);
    uint16_t half = part & 0x8000u ? (uint16_t)(part ^ 0xffffu) : part; /* mirrored */
    int16_t z = (int16_t)(uint16_t)((uint16_t)((unsigned)half << 1 | 1u) ^ 0x8000u);
    int16_t square = upper(z, z), rest = (int16_t)(SINE_B - upper(square, SINE_C));
    int16_t more = (int16_t)(SINE_A - 4 * upper(square, rest));
    int16_t sine = (int16_t)(z + 2 * upper(z, more));
    uint16_t level = (uint16_t)((uint16_t)sine ^ 0x8000u);
    return (uint16_t)(level - 1u + (unsigned)(level >> 15)); /* 1..65535 to 0..65535 */
}

/* Of n phases: in core/small and core/large, with the same levels. */
void dia_sine_run(const dia_phase *phases, uint32_t n, uint16_t *levels);
extern const int16_t dia_sine_terms[3]; /* of core/large only */

#endif
