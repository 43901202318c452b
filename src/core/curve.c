/* SPDX-License-Identifier: MIT */
#include <diachrome/develop.h>

#define FULL 65280u

/* log2 of a number of 32 bits below the point, 2^32 and less, as a negative number of them; bit by
 * bit: each squaring doubles the logarithm. */
static uint64_t less_than_one(uint64_t x)
{
    uint64_t whole = 0, part = 0;
    while (x < 0x80000000u) { /* from a half to 1 */
        x <<= 1;
        whole++;
    }
    /* x is 2^-f; f is found from its upper bit on */
    for (int bit = 31; bit >= 0; bit--) {
        x = x * x >> 32;
        if (x < 0x80000000u) {
            x <<= 1;
            part |= (uint64_t)1 << bit;
        }
    }
    return (whole << 32) + part;
}

/* 2^-f of 32 bits below the point: a root of a half for each bit that is set. */
static uint64_t power_of(uint64_t f)
{
    uint64_t x = 0x100000000u, root = 0x80000000u; /* 2^-1, then its root, ... */
    uint32_t part = (uint32_t)f;
    for (uint32_t bit = 0x80000000u; bit != 0; bit >>= 1) {
        uint64_t high = 0x100000000u, low = root; /* the root of root, by halving */
        while (high - low > 1) {
            uint64_t middle = (high + low) / 2;
            if (middle * middle >> 32 <= root)
                low = middle;
            else
                high = middle;
        }
        root = low;
        if (part & bit)
            x = x * root >> 32;
    }
    return f >> 32 < 33 ? x >> (f >> 32) : 0;
}

enum dia_status dia_curve_gamma(uint16_t table[256], uint16_t gamma)
{
    if (gamma < 1000 || gamma > 4000)
        return DIA_BAD_VALUE;
    table[0] = 0;
    for (uint32_t code = 1; code < 255; code++) {
        uint64_t f = less_than_one(((uint64_t)code << 32) / 255u);
        uint64_t light = power_of((f >> 10) * gamma / 1000u << 10);
        table[code] = (uint16_t)((light * FULL + 0x80000000u) >> 32);
    }
    table[255] = FULL;
    return DIA_OK;
}

enum dia_status dia_white_measured(dia_share white[4], const uint32_t seen[3])
{
    uint32_t least = seen[0] < seen[1] ? seen[0] : seen[1];
    least = seen[2] < least ? seen[2] : least;
    for (uint8_t c = 0; c < 3; c++) {
        if (seen[c] == 0 || seen[c] > 65536u)
            return DIA_BAD_VALUE;
    }
    for (uint8_t c = 0; c < 3; c++)
        white[c] = (dia_share)((least * DIA_SHARE_ONE + seen[c] / 2u) / seen[c]);
    white[3] = DIA_SHARE_ONE;
    return DIA_OK;
}
