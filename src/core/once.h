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
dia_phase once_travelled(const struct dia_surface *surface, int32_t turns, int32_t speed_um_s,
                         uint32_t ms);

/* A ramp of whole turns over a surface, as dia_ramp_init. */
void once_turns(struct dia_ramp *ramp, const struct dia_surface *surface, int32_t turns,
                dia_phase start);

/* A ramp of places in micrometres, from 0 at the start of the surface. */
void once_places(struct dia_ramp *ramp, const struct dia_surface *surface);

/* Length of a surface in units of unit_um, 16 bits below the point. */
uint64_t once_lengths(const struct dia_surface *surface, uint32_t unit_um);

#endif
