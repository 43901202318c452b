/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_HUE_CIRCLE_H
#define DIA_CORE_HUE_CIRCLE_H

#include <diachrome/colour.h>
#include <diachrome/fixed.h>
#include <diachrome/config.h>
#include <diachrome/surface.h>

/*
 * The hues once round, from red by yellow, green, blue, even to the eye: 3600 bytes of flash. On
 * 300 pixels the largest step in OKLab between neighbours is at most 1.5 times the smallest.
 */
#define HUES 1200u
extern const DIA_ROM struct dia_rgb
    dia_hue_circle[HUES + 1]; /* the last is not used, but may be read */

/*
 * Which hue is at a phase: the upper 24 bits of the phase times 75 / 2^20, in products of 8 bits
 * and sums of 16. Add HUE_HALF to the phase first for the nearest one.
 */
static inline uint16_t hue_at(dia_phase phase)
{
    uint16_t high = (uint16_t)((uint8_t)(phase >> 24) * 75u);
    uint16_t middle = (uint16_t)((uint8_t)(phase >> 16) * 75u);
    uint16_t low = (uint16_t)((uint8_t)(phase >> 8) * 75u);
    return (uint16_t)(high + ((uint16_t)(middle + (low >> 8)) >> 8)) >> 4;
}
#define HUE_HALF 1789570u

/* The hues of elements first .. first + n - 1 at the phases of a ramp: in core/small and
 * core/large, with the same bytes. */
void dia_hue_run(const struct dia_ramp *ramp, uint32_t first, uint32_t n, struct dia_rgb *out);

#endif
