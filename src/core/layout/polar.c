/* SPDX-License-Identifier: MIT */
#include <diachrome/config.h>

#include "../product.h"
#include "polar.h"

uint16_t dia_polar_root(uint32_t square)
{
    uint16_t root = 0;
    for (uint16_t bit = 0x8000u; bit != 0; bit >>= 1) {
        uint32_t tried = (uint32_t)(root | bit);
        if (tried * tried <= square)
            root = (uint16_t)tried;
    }
    return root;
}

/* atan(k / 32) in 65536ths of a turn, rounded. */
static const DIA_ROM uint16_t angles[33] = {
    0,    326,  651,  975,  1297, 1617, 1933, 2246, 2555, 2860, 3159,
    3453, 3742, 4025, 4302, 4572, 4836, 5094, 5344, 5589, 5826, 6058,
    6282, 6500, 6712, 6917, 7117, 7310, 7498, 7680, 7856, 8026, 8192,
};

/* 2^22 / x, rounded down, where x is the largest number of 15 bits with 32 + k in its upper 6. */
static const DIA_ROM uint8_t reciprocals[32] = {
    248, 240, 234, 227, 221, 215, 210, 204, 199, 195, 190, 186, 182, 178, 174, 170,
    167, 163, 160, 157, 154, 151, 148, 146, 143, 141, 138, 136, 134, 132, 130, 128,
};

/*
 * low * 32768 / high, rounded down, without a division, which takes a small controller some 600
 * cycles. `near` is never more than 2^30 / high: by the table within 1/32 of it, after one step of
 * Newton's within 1/1000. So the first quotient is at most 36 too small; what is left over, divided
 * in the same way, leaves it at most 1 too small.
 */
static uint16_t part_of(uint16_t low, uint16_t high)
{
    if (low == high)
        return 32768u;
    for (; high < 0x4000u; high = (uint16_t)(high << 1))
        low = (uint16_t)(low << 1);
    uint16_t near = (uint16_t)(reciprocals[(high >> 9) & 31u] << 8);
    uint32_t off = ((uint32_t)1 << 30) - product_of(high, near);
    near = (uint16_t)(near + (product_of(near, (uint16_t)(off >> 15)) >> 15));
    uint16_t part = (uint16_t)(product_of(low, near) >> 15);
    uint32_t left = ((uint32_t)low << 15) - product_of(part, high);
    uint16_t more = (uint16_t)(product_of((uint16_t)(left >> 5), near) >> 25);
    left -= product_of(more, high);
    return (uint16_t)(part + more + (left >= high));
}

/* An eighth of a turn by a table, straight between its values; the others are mirrored. */
uint16_t dia_polar_angle(int16_t x, int16_t y)
{
    uint16_t across = (uint16_t)(x < 0 ? -x : x), up = (uint16_t)(y < 0 ? -y : y);
    uint16_t low = across < up ? across : up, high = across < up ? up : across;
    if (high == 0)
        return 0;
    uint16_t part = part_of(low, high);
    uint8_t k = (uint8_t)(part >> 10);
    uint16_t angle = angles[k < 32 ? k : 32];
    if (k < 32)
        angle = (uint16_t)(angle +
                           ((uint32_t)(uint16_t)(angles[k + 1u] - angle) * (part & 1023u) + 512u) /
                               1024u);
    if (across > up)
        angle = (uint16_t)(16384u - angle);
    if (y > 0)
        angle = (uint16_t)(32768u - angle);
    return x < 0 ? (uint16_t)(0u - angle) : angle;
}
