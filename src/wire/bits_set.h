/* SPDX-License-Identifier: MIT */
#ifndef DIA_WIRE_BITS_SET_H
#define DIA_WIRE_BITS_SET_H

#include <stdint.h>

/* How many bits of n bytes are set. */
static inline uint32_t bits_set(const uint8_t *bytes, uint16_t n)
{
    uint32_t count = 0;
    for (; n != 0; n--) {
        for (uint8_t left = *bytes++; left != 0; left &= (uint8_t)(left - 1u))
            count++;
    }
    return count;
}

#endif
