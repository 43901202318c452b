/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_LENGTHS_H
#define DIA_CORE_LENGTHS_H

#include <stdint.h>

/* So many pitches, um: who makes a surface sees to it that all of it is less than 2^31. */
static inline int32_t pitches_um(uint32_t n, int32_t pitch_um)
{
    return (int32_t)n * pitch_um;
}

/* Two lengths one after the other, um, at most INT32_MAX. */
static inline int32_t lengths_um(int32_t a, int32_t b)
{
    uint32_t sum = (uint32_t)a + (uint32_t)b;
    return sum > INT32_MAX ? INT32_MAX : (int32_t)sum;
}

/* A place, and so much further on, um: neither is beyond 2^31 for whoever made the surface. */
static inline int32_t further_um(int32_t place_um, int32_t by_um)
{
    return (int32_t)((uint32_t)place_um + (uint32_t)by_um);
}

/* A length, um, and 1 for none: what others divide by. */
static inline int32_t some_um(int32_t length_um)
{
    return length_um ? length_um : 1;
}

/* How far two places are from each other, um. */
uint32_t dia_apart_um(int32_t a, int32_t b);

#endif
