/* SPDX-License-Identifier: MIT */
#include <diachrome/config.h>
#include "../sine.h"

/*
 * The steps of sine_of, each in a loop of its own over 16 bits: compilers for machines without
 * vector products of 32 bits make one instruction of each. What it is multiplied with comes from
 * outside of this file, else they take the products apart again.
 */
static inline int16_t less(int16_t a, int16_t b)
{
    return (int16_t)(uint16_t)((uint16_t)a - (uint16_t)b);
}

static inline void levels_of(int16_t *z, uint32_t n, uint16_t *levels, const int16_t terms[3])
{
    const int16_t a = terms[0], b = terms[1], c = terms[2];
    int16_t square[DIA_RUN], rest[DIA_RUN];
    for (uint32_t i = 0; i < n; i++)
        square[i] = upper(z[i], z[i]);
    for (uint32_t i = 0; i < n; i++)
        rest[i] = less(b, upper(square[i], c));
    for (uint32_t i = 0; i < n; i++)
        rest[i] = less(a, (int16_t)(uint16_t)((uint16_t)upper(square[i], rest[i]) << 2));
    for (uint32_t i = 0; i < n; i++) {
        uint16_t more = (uint16_t)((uint16_t)upper(z[i], rest[i]) << 1);
        uint16_t level = (uint16_t)((uint16_t)((uint16_t)z[i] + more) ^ 0x8000u);
        levels[i] = (uint16_t)((uint16_t)(level - 1u) + (uint16_t)(level >> 15));
    }
}

static inline void mirrored(const dia_phase *phases, uint32_t n, int16_t *z)
{
    for (uint32_t i = 0; i < n; i++)
        z[i] = (int16_t)(uint16_t)(phases[i] >> 16);
    for (uint32_t i = 0; i < n; i++) { /* mirrored, doubled, and from -1 on */
        uint16_t half = (uint16_t)((uint16_t)z[i] ^ (uint16_t)(z[i] >> 15));
        z[i] = (int16_t)(uint16_t)((uint16_t)((uint16_t)(half << 1) | 1u) ^ 0x8000u);
    }
}

/* Full runs in loops whose length the compiler knows. */
void dia_sine_run(const dia_phase *phases, uint32_t n, uint16_t *levels)
{
    int16_t z[DIA_RUN];
    for (; n >= DIA_RUN; n -= DIA_RUN, phases += DIA_RUN, levels += DIA_RUN) {
        mirrored(phases, DIA_RUN, z);
        levels_of(z, DIA_RUN, levels, dia_sine_terms);
    }
    mirrored(phases, n, z);
    levels_of(z, n, levels, dia_sine_terms);
}
