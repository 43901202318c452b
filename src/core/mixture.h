/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_MIXTURE_H
#define DIA_CORE_MIXTURE_H

#include <stdint.h>

#include "product.h"

/*
 * (a * (65536 - part) + b * part) / 65536, rounded down. On processors of 8 bits in one product of
 * 16 bits.
 */
static inline uint16_t mixture_in(uint16_t a, uint16_t b, uint16_t part)
{
#if UINTPTR_MAX > 65535
    return (uint16_t)(((uint32_t)a * (65536u - part) + (uint32_t)b * part) >> 16);
#else
    return b < a ? product_taken(a, a - b, part) : (uint16_t)(a + product_high(b - a, part));
#endif
}

/* The same with parts of 32768, all of them too. */
static inline uint16_t mixture_of(uint16_t a, uint16_t b, uint16_t part)
{
#if UINTPTR_MAX > 65535
    return (uint16_t)(((uint32_t)a * (32768u - part) + (uint32_t)b * part) >> 15);
#else
    return part & 32768u ? b : mixture_in(a, b, (uint16_t)(part * 2u));
#endif
}

#endif
