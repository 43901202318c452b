/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_SURFACE_H
#define DIACHROME_SURFACE_H

#include <stdint.h>

#include "status.h"

/*
 * The elements of one device with their places.
 *
 * Today a surface is a straight line: element i lies at start + i * pitch. Its length is
 * count * pitch: each element owns one pitch, so that a pattern which fits the length also
 * closes when the line is bent to a ring.
 */
struct dia_surface {
    uint32_t count;   /* elements, 1 or more */
    int32_t start_um; /* place of element 0 in micrometres */
    int32_t pitch_um; /* from one element to the next in micrometres, 1 or more */
};

/*
 * A straight line of count elements. DIA_BAD_VALUE (and surface untouched) when count or pitch
 * is not positive, or when an element would lie beyond the 2147 m that the format holds.
 */
enum dia_status dia_surface_line(struct dia_surface *surface, uint32_t count, int32_t start_um,
                                 int32_t pitch_um);

/* Place of element i (0..count-1) on the line, in micrometres. */
int32_t dia_surface_place_um(const struct dia_surface *surface, uint32_t i);

/* count * pitch, in micrometres. */
int32_t dia_surface_length_um(const struct dia_surface *surface);

/*
 * A number that rises evenly along a surface: what looks use to lay a pattern out in space
 * without knowing how the elements lie.
 *
 * It rises by `span` over the whole length (span 2^32 = one turn of a dia_phase) and is taken
 * modulo 2^32. Set up once a frame (one 64-bit division), run for any stretch of elements.
 * Each step is rounded down, so element i is low by less than i / 2^32 of a turn.
 */
struct dia_ramp {
    uint32_t start, step;
};

void dia_ramp_init(struct dia_ramp *ramp, const struct dia_surface *surface, uint64_t span,
                   uint32_t start);

/* Values of elements first .. first + n - 1 into out (n of them). */
void dia_ramp_run(const struct dia_ramp *ramp, uint32_t first, uint32_t n, uint32_t *out);

/* The upper 16 bits of the same values: 65536 places on a turn are enough for a colour. */
void dia_ramp_run_upper(const struct dia_ramp *ramp, uint32_t first, uint32_t n, uint16_t *out);

#endif
