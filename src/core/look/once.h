/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_ONCE_H
#define DIA_CORE_ONCE_H

#include <diachrome/fixed.h>
#include <diachrome/surface.h>

/* What looks work out once a frame, in 64 bits; kept apart from what is done for each element. */

/*
 * How far a pattern with so many turns on a surface has moved at a time, at a speed in um/s. A
 * whole number of 2^-32 turns a millisecond, so that 2^32 milliseconds are a whole number of
 * turns and the wrap of time does not show. The rounding of the rate is at most half a turn in
 * 49.7 days. |speed_um_s| * turns at most 2^30.
 */
dia_phase dia_once_travelled(const struct dia_surface *surface, int32_t turns, int32_t speed_um_s,
                             uint32_t ms);

/* The same for a pattern that comes again every spacing_um, whatever the length of the surface.
 * |speed_um_s| at most 2^30. */
dia_phase dia_once_moved(int32_t speed_um_s, uint32_t spacing_um, uint32_t ms);

/* The part of a whole that a phase is of a turn, rounded down. */
uint32_t dia_once_of(dia_phase phase, uint32_t whole);

/* How far that is, in um: 0 .. spacing_um - 1. */
uint32_t dia_once_offset(int32_t speed_um_s, uint32_t spacing_um, uint32_t ms);

/* A ramp of such a pattern: one turn every spacing_um. */
void dia_once_spaced(struct dia_ramp *ramp, const struct dia_surface *surface, uint32_t spacing_um,
                     dia_phase start);

/* A slot of time: which one it is of the whole number of them in 2^32 ms, and how far on. */
struct once_slot {
    uint32_t number, of;
    uint16_t part;
};
struct once_slot dia_once_slot_at(uint32_t ms, uint32_t slot_ms);

/* How far something has moved in cells of a size, 16 bits below the point and modulo 65536 cells,
 * so that noise, which comes again there, does not jump. */
uint32_t dia_once_cells(int32_t speed_um_s, uint32_t cell_um, uint32_t ms);

/* How long a period of period_ms has been going, in ms. */
uint32_t dia_once_elapsed(uint32_t ms, uint32_t period_ms);

/* What one thing does that goes over a way and rests before it comes again: how far it has come, in
 * um, way_um and more while it rests. The time of it all is 1 ms or more. */
uint32_t dia_once_gone(uint32_t ms, uint32_t way_um, uint32_t speed_um_s, uint32_t rest_ms);

/* How long a way takes at a speed of 1 or more: 1 ms to 9 days. */
uint32_t dia_once_way_ms(uint32_t way_um, uint32_t speed_um_s);

/* The part of a whole that is done after ms of of_ms. */
uint32_t dia_once_part(uint32_t whole, uint32_t ms, uint32_t of_ms);

/* A ramp of whole turns over a surface, as dia_ramp_init. */
void dia_once_turns(struct dia_ramp *ramp, const struct dia_surface *surface, int32_t turns,
                    dia_phase start);

/* A ramp of places in micrometres, from 0 at the start of the surface. */
void dia_once_places(struct dia_ramp *ramp, const struct dia_surface *surface);

/* Length of a surface in units of unit_um, 16 bits below the point. */
uint64_t dia_once_lengths(const struct dia_surface *surface, uint32_t unit_um);

#endif
