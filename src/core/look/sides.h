/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_SIDES_H
#define DIA_CORE_SIDES_H

#include <diachrome/look.h>

/* Where a wipe, a reveal or a pulse begins (enum dia_from), and how far from there elements are. */

extern const DIA_ROM char dia_from_words[];

/* From the beginning to the furthest element, um. */
uint32_t dia_sides_length(const struct dia_surface *surface, int32_t from);

/* Places of elements first .. first + n - 1 from the beginning, um; `ramp` from dia_once_places().
 */
void dia_sides_run(const struct dia_ramp *ramp, const struct dia_surface *surface, int32_t from,
                   uint32_t first, uint32_t n, uint32_t *out);

/*
 * A look that is one colour before a place, another behind a second one, and something else between
 * them need not look at each element of a straight line, along which places only rise. Of n
 * elements from `first` on, how many lie before `low` um, and how many of the others before `high`.
 * On other surfaces and from other sides none and all: then each has to be looked at.
 */
struct sides_parts {
    uint32_t before, within;
    uint8_t straight;
};
struct sides_parts dia_sides_split(const struct dia_ramp *places, int32_t from, uint32_t first,
                                   uint32_t n, uint32_t low_um, uint32_t high_um);

/* The same for those that render a run: fills what lies before and behind, and leaves first, n and
 * out to be those between. */
void dia_sides_fill(const struct dia_ramp *places, int32_t from, uint32_t low_um, uint32_t high_um,
                    struct dia_rgb before, struct dia_rgb behind, uint32_t *first, uint32_t *n,
                    struct dia_rgb **out);

#endif
