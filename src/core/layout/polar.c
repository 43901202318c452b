/* SPDX-License-Identifier: MIT */
#include <diachrome/config.h>

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

/* An eighth of a turn by a table, straight between its values; the others are mirrored. */
uint16_t dia_polar_angle(int16_t x, int16_t y)
{
    uint16_t across = (uint16_t)(x < 0 ? -x : x), up = (uint16_t)(y < 0 ? -y : y);
    uint16_t low = across < up ? across : up, high = across < up ? up : across;
    if (high == 0)
        return 0;
    uint16_t part = (uint16_t)(((uint32_t)low << 15) / high); /* 0..32768 */
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
