/* SPDX-License-Identifier: MIT */
#ifndef DIA_BENCH_CHANCE_H
#define DIA_BENCH_CHANCE_H

#include <stdint.h>

/* Whether something that happens so often, in millionths, happens now. xorshift32; the state is
 * never 0 once it is not. */
static inline int chance(uint32_t *state, uint32_t ppm)
{
    if (ppm == 0)
        return 0;
    *state ^= *state << 13;
    *state ^= *state >> 17;
    *state ^= *state << 5;
    return *state % 1000000u < ppm;
}

#endif
