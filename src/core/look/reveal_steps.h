/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_REVEAL_STEPS_H
#define DIA_CORE_REVEAL_STEPS_H

#include <diachrome/look.h>

/* Places are from where it begins to the furthest element, a pitch each. */
uint32_t dia_reveal_places(const struct dia_surface *surface, int32_t from);

/* How many places are lit from the beginning on, and how many of those are out again, some steps
 * after the start. */
struct reveal_lit {
    uint32_t to, out_to;
};
struct reveal_lit dia_reveal_lit(const struct dia_reveal *p, uint32_t ms, uint32_t places);

#endif
