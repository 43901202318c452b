/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_DRIVE_H
#define DIA_CORE_DRIVE_H

#include <diachrome/colour.h>
#include <diachrome/fixed.h>

#include "srgb_table.h"

/*
 * The arithmetic of develop and of the limiter, which must agree to the last bit.
 *
 * Light runs here from 0 to 65280 = 255 * 256, so that 256 is one step of an 8-bit drive. Times
 * a gain (0..32768) it is a drive in 1/2^23 of a step: 65280 * 32768 = 255 * 2^23 exactly, so
 * full is 255 and nothing is lost.
 */
static inline uint16_t drive_of(uint8_t code)
{
    uint16_t light = dia_srgb_table[code];
    return (uint16_t)(light - (light >> 8));
}

#define DRIVE_CARRY 0x7fffffu

/*
 * Adds the carry of the pixel before; the whole steps go out, the rest is the next carry. The
 * product and a carry stay under 2^31. So over any stretch of pixels
 *     sum(out) * 2^23 = sum(v * gain) + first carry - last carry.
 */
static inline uint8_t drive_step(uint32_t *carry, uint16_t v, dia_share gain)
{
    uint32_t sum = (uint32_t)v * gain + *carry;
    *carry = sum & DRIVE_CARRY;
    return (uint8_t)(sum << 1 >> 24); /* >> 23; shifts by whole bytes are free on 8 bits */
}

/* Current of a sum of light in a channel after its gain, microamperes: light 65280 is channel_ua.
 * Rounded up, by at most 6. */
uint32_t drive_ua(uint32_t light, dia_share gain, uint16_t channel_ua);

#endif
