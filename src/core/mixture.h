/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_MIXTURE_H
#define DIA_CORE_MIXTURE_H

#include <stdint.h>

/* (a * (32768 - part) + b * part) / 32768, rounded down; part is 0..32768. */
#if UINTPTR_MAX > 65535
static inline uint16_t mixture_of(uint16_t a, uint16_t b, uint16_t part)
{
    return (uint16_t)(((uint32_t)a * (32768u - part) + (uint32_t)b * part) >> 15);
}
#else
/* In one product of 16 bits, for processors of 8. */
static inline uint16_t mixture_of(uint16_t a, uint16_t b, uint16_t part)
{
    uint16_t apart = b < a ? (uint16_t)(a - b) : (uint16_t)(b - a);
    uint32_t product = (uint32_t)apart * part;
    if (b < a)
        return (uint16_t)(a - (uint16_t)((product + 32767u) << 1 >> 16));
    return (uint16_t)(a + (uint16_t)(product << 1 >> 16));
}
#endif

#endif
