/* SPDX-License-Identifier: MIT */
#ifndef DIA_LIVE_SUM_H
#define DIA_LIVE_SUM_H

#include <stddef.h>
#include <stdint.h>

/* FNV-1a, 64 bits: the same on all nodes for the same bytes. And short, as nodes tell it. */
#define SUM_BEGINS UINT64_C(14695981039346656037)

static inline uint64_t sum_on(uint64_t sum, const void *bytes, size_t size)
{
    for (const uint8_t *at = bytes; size; size--)
        sum = (sum ^ *at++) * UINT64_C(1099511628211);
    return sum;
}

static inline uint32_t sum_short(uint64_t sum)
{
    return (uint32_t)(sum ^ sum >> 32);
}

#endif
