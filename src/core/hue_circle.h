/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_HUE_CIRCLE_H
#define DIA_CORE_HUE_CIRCLE_H

#include <diachrome/colour.h>
#include <diachrome/fixed.h>
#include <diachrome/rom.h>

/*
 * The hues once round, from red by yellow, green, blue, even to the eye: 3600 bytes of flash. On
 * 300 pixels the largest step in OKLab between neighbours is at most 1.5 times the smallest.
 */
#define HUES 1200u
extern const DIA_ROM struct dia_rgb hue_circle[HUES];

/* Which hue is at a phase: the phase in 24 bits times 75 / 2^20. Add HUE_HALF to the phase first
 * for the nearest one. */
static inline uint16_t hue_at(dia_phase phase)
{
    return (uint16_t)((phase >> 8) * 75u >> 20);
}
#define HUE_HALF 1789570u

#endif
