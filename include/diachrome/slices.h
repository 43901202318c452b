/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_SLICES_H
#define DIACHROME_SLICES_H

#include <stdint.h>

#include "linkage.h"

DIA_BEGIN

/*
 * Levels by time: lamps that are only on or off get a level by being on for a part of each
 * period, which is cut into slices. With n bits of depth a period has 2^n - 1 units.
 *
 *   weighted  n slices of 1, 2, 4 .. 2^(n-1) units: the fewest interrupts, but the shortest must
 *             be long enough for the next one to be shifted
 *   even      2^n - 1 slices of a unit, with the bits spread evenly: the least flicker
 */
enum dia_slices { DIA_SLICES_WEIGHTED, DIA_SLICES_EVEN };

/* Length of a unit in us for a refresh in thousandths of a period a second, rounded down so that
 * the refresh is reached; 0 when it cannot be. */
uint16_t dia_slices_unit_us(uint32_t refresh_mhz, uint8_t depth);

/* Ticks a period. */
uint16_t dia_slices_count(enum dia_slices slices, uint8_t depth);

DIA_END

#endif
