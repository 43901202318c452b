/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_SURFACE_H
#define DIACHROME_SURFACE_H

#include <stdint.h>

#include "config.h"
#include "linkage.h"
#include "status.h"

DIA_BEGIN

/*
 * The elements of one device, or of several joined ones, with their places. Looks never ask how
 * the elements lie: they ask for coordinates.
 *
 * Straight lines need nothing but this header. layout.h has rings, folded lines, grids, panels and
 * lists of points; each makes a struct dia_surface too.
 *
 * Cost: a ramp on a line takes 25 cycles an element on an ATmega328P, else what its layout takes.
 * Context: any; threads may work at once on objects of their own.
 */

/* The coordinates of an element. A look runs along one of them, and drawings use x and y. */
enum dia_axis {
    DIA_ALONG,  /* from the first place to the last: along a line, clockwise round a ring, along the
                   rows of a grid, from point to point */
    DIA_X,      /* to the right, as seen from the front */
    DIA_Y,      /* downwards */
    DIA_RADIUS, /* away from the middle */
    DIA_ANGLE,  /* clockwise round the middle, from straight up */
    DIA_SIDE,   /* of a folded line: there, and back; of panels: panel after panel */
    DIA_INDEX   /* in the order of the wire */
};
#define DIA_AXES 7u

/* Where an element is, in micrometres, x to the right and y downwards. */
struct dia_point {
    int32_t x_um, y_um;
};

struct dia_layout; /* see layout.h */

struct dia_surface {
    uint32_t count;   /* elements, 1 or more */
    int32_t start_um; /* place of element 0 of a line in micrometres */
    int32_t pitch_um; /* from one element to the next in micrometres, 1 or more */
    const DIA_ROM struct dia_layout *layout; /* NULL: a straight line */
    const void *of;                          /* what the layout is made of; the caller owns it */
    uint8_t axis;                            /* enum dia_axis: what looks run along */
};

/*
 * A straight line of count elements; element i lies at start + i * pitch. Its length is
 * count * pitch: each element owns one pitch, so that a pattern which fits the length also
 * closes when the line is bent to a ring. DIA_BAD_VALUE (and surface untouched) when count or pitch
 * is not positive, or when an element would lie beyond the 2147 m that the format holds.
 */
enum dia_status dia_surface_line(struct dia_surface *surface, uint32_t count, int32_t start_um,
                                 int32_t pitch_um);

/* Place of element i (0..count-1) on a line, in micrometres. */
int32_t dia_surface_place_um(const struct dia_surface *surface, uint32_t i);

/* Length of the coordinate that looks run along, in micrometres. Of a line: count * pitch. */
int32_t dia_surface_length_um(const struct dia_surface *surface);

/* The same surface, for looks that run along another coordinate. */
static inline struct dia_surface dia_surface_along(struct dia_surface surface, enum dia_axis axis)
{
    surface.axis = (uint8_t)axis;
    return surface;
}

/*
 * Lengths and speeds of looks are in micrometres (a second). These are so many pitches, in
 * thousandths of them, and such a part of the length that looks run along, in millionths: 3.5 px
 * are dia_surface_px_um(&line, 3500), a turn in two seconds is dia_surface_part_um(&line, 500000) a
 * second. Rounded to nearest; at most INT32_MAX, at least -INT32_MAX.
 */
int32_t dia_surface_px_um(const struct dia_surface *surface, int32_t px_1000ths);
int32_t dia_surface_part_um(const struct dia_surface *surface, int32_t millionths);

/*
 * A number that rises evenly along a surface: what looks use to lay a pattern out in space
 * without knowing how the elements lie.
 *
 * It rises by `span` over the whole length (span 2^32 = one turn of a dia_phase) and is taken
 * modulo 2^32. Set up once a frame (one 64-bit division), run for any stretch of elements.
 * On a line each step is rounded down, so element i is low by less than i / 2^32 of a turn; on
 * other layouts a place is known to 1 / 65536 of the length.
 */
struct dia_ramp {
    uint32_t start, step;
    uint16_t fine;                     /* of a layout: what is below the step */
    const struct dia_surface *surface; /* NULL: a line */
};

void dia_ramp_init(struct dia_ramp *ramp, const struct dia_surface *surface, uint64_t span,
                   uint32_t start);

/* Values of elements first .. first + n - 1 into out (n of them). */
void dia_ramp_run(const struct dia_ramp *ramp, uint32_t first, uint32_t n, uint32_t *out);

DIA_END

#endif
