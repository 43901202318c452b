/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_BIG_ENDIAN_H
#define DIA_HOST_BIG_ENDIAN_H

#include <stdint.h>

/* Numbers as PNG has them: the upper byte first. */
static inline uint32_t get32(const uint8_t *from)
{
    return (uint32_t)from[0] << 24 | (uint32_t)from[1] << 16 | (uint32_t)from[2] << 8 | from[3];
}

static inline void put32(uint8_t *to, uint32_t value)
{
    to[0] = (uint8_t)(value >> 24);
    to[1] = (uint8_t)(value >> 16);
    to[2] = (uint8_t)(value >> 8);
    to[3] = (uint8_t)value;
}

#endif
