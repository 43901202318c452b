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

/*
 * Rows of a panel that have their turn one after the other, each with `depth` planes of light for
 * 1, 2, 4 .. units. The plane that comes is shifted while one is lit, in a tick of tick_us. One
 * whose light is shorter than that is lit while the tick waits, and dark while it shifts, so that
 * its slice is a tick longer than its light.
 *
 * The slice of plane k, of a whole row, and the unit with which a row is lit for most of its time
 * at this refresh or a faster one; 0: there is none. That last one tries all units: when a program
 * begins.
 */
uint32_t dia_slices_plane_us(uint16_t unit_us, uint16_t tick_us, uint8_t plane);
uint32_t dia_slices_row_us(uint16_t unit_us, uint16_t tick_us, uint8_t depth);
uint16_t dia_slices_row_unit_us(uint32_t refresh_mhz, uint8_t rows, uint16_t tick_us,
                                uint8_t depth);

DIA_END

#endif
