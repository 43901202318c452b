/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_DRIVE_H
#define DIA_CORE_DRIVE_H

#include <diachrome/colour.h>
#include <diachrome/fixed.h>

#include "product.h"
#include "srgb_table.h"

/*
 * The arithmetic of develop and of the limiter, which must agree.
 *
 * Light runs here from 0 to 65280 = 255 * 256, so that 256 is one step of an 8-bit drive. Times a
 * gain (0..32768) and rounded down it is the drive in 1/256 of a step; full stays exactly full.
 */
static inline uint16_t drive_of(const DIA_ROM uint16_t *curve, uint8_t code)
{
    return curve[code];
}

static inline uint16_t drive_scaled(uint16_t v, dia_share gain)
{
    return (uint16_t)((uint32_t)v * gain << 1 >> 16); /* >> 15; whole bytes are free on 8 bits */
}

/*
 * Adds the carry of the pixel before, 0..255; the whole steps go out, the rest is the next carry.
 * The sum is 65280 + 255 at most. So over any stretch of pixels
 *     sum(out) * 256 = sum(drive_scaled) + first carry - last carry.
 */
static inline uint8_t drive_step(uint8_t *carry, uint16_t scaled)
{
    uint16_t sum = (uint16_t)(scaled + *carry);
    *carry = (uint8_t)sum;
    return (uint8_t)(sum >> 8);
}

/* Currents add up to the largest number there is, which counts as without end. */
static inline uint32_t drive_sum(uint32_t a, uint32_t b)
{
    uint32_t sum = a + b;
    return sum < b ? UINT32_MAX : sum;
}

/* Current of a sum of light in a channel after its gain, microamperes: light 65280 is channel_ua.
 * Rounded up, by at most 6. */
uint32_t dia_drive_ua(uint32_t light, dia_share gain, uint16_t channel_ua);

#endif
