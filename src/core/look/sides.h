/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_SIDES_H
#define DIA_CORE_SIDES_H

#include <diachrome/look.h>

/* Where a wipe, a reveal or a pulse begins (enum dia_from), and how far from there elements are. */

extern const DIA_ROM char dia_from_words[];

/* From the beginning to the furthest element, um. */
uint32_t sides_length(const struct dia_surface *surface, int32_t from);

/* Places of elements first .. first + n - 1 from the beginning, um; `ramp` from once_places(). */
void sides_run(const struct dia_ramp *ramp, const struct dia_surface *surface, int32_t from,
               uint32_t first, uint32_t n, uint32_t *out);

#endif
