/* SPDX-License-Identifier: MIT */
#ifndef DIA_WIRE_BITS_H
#define DIA_WIRE_BITS_H

#include <diachrome/driver.h>

/* What drawings of a bit, or of a level, a lamp have in common. */

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

/* Lamp number `output` on or off; those beyond the drawing are left alone. */
static inline void bits_put(struct dia_driver *driver, uint32_t output, uint8_t on)
{
    uint8_t mask = (uint8_t)(1u << (output & 7u));
    uint32_t at = output >> 3;
    if (at >= driver->drawing_bytes)
        return;
    uint8_t *byte = driver->drawing + at;
    *byte = (uint8_t)(on ? *byte | mask : *byte & ~mask);
}

/* dia_driver_levels of a drawing of a level a lamp. */
static inline void bytes_levels(struct dia_driver *driver, const uint8_t *level, uint32_t n,
                                const DIA_ROM uint16_t *outputs)
{
    for (uint32_t i = 0; i < n; i++) {
        uint32_t at = outputs ? outputs[i] : i;
        if (at < driver->drawing_bytes)
            driver->drawing[at] = level[i];
    }
}

/* The same of a drawing of bits. */
static inline void bits_levels(struct dia_driver *driver, const uint8_t *level, uint32_t n,
                               const DIA_ROM uint16_t *outputs)
{
    for (uint32_t i = 0; i < n; i++)
        bits_put(driver, outputs ? outputs[i] : i, level[i] >= 128);
}

#endif
