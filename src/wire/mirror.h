/* SPDX-License-Identifier: MIT */
#ifndef DIA_WIRE_MIRROR_H
#define DIA_WIRE_MIRROR_H

#include <stdint.h>

/*
 * Eight bytes as a matrix of 8 by 8 bits, mirrored at its diagonal: out[0] has bit 7 of each byte,
 * out[7 * stride] bit 0; byte k is bit k of them. First bits within 2 by 2 blocks change places,
 * then the blocks within 4 by 4, then those. Twelve exchanges of words instead of 64 of bits.
 */
static inline void mirror(const uint8_t in[8], uint8_t *out, uint16_t stride)
{
    /* byte 7 the highest, so that byte k comes out as bit k */
    uint32_t x = (uint32_t)in[7] << 24 | (uint32_t)in[6] << 16 | (uint32_t)in[5] << 8 | in[4];
    uint32_t y = (uint32_t)in[3] << 24 | (uint32_t)in[2] << 16 | (uint32_t)in[1] << 8 | in[0];
    uint32_t t;
    t = (x ^ (x >> 7)) & 0x00aa00aau;
    x ^= t ^ (t << 7);
    t = (y ^ (y >> 7)) & 0x00aa00aau;
    y ^= t ^ (t << 7);
    t = (x ^ (x >> 14)) & 0x0000ccccu;
    x ^= t ^ (t << 14);
    t = (y ^ (y >> 14)) & 0x0000ccccu;
    y ^= t ^ (t << 14);
    t = (x & 0xf0f0f0f0u) | ((y >> 4) & 0x0f0f0f0fu);
    y = ((x << 4) & 0xf0f0f0f0u) | (y & 0x0f0f0f0fu);
    x = t;
    for (uint8_t i = 0; i < 4; i++) {
        out[i * stride] = (uint8_t)(x >> 24);
        out[(i + 4u) * stride] = (uint8_t)(y >> 24);
        x <<= 8;
        y <<= 8;
    }
}

#endif
