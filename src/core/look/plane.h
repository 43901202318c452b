/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_PLANE_H
#define DIA_CORE_PLANE_H

#include <diachrome/look.h>

/*
 * Two coordinates for looks that need a plane, in cells of a size, 16 bits below the point. What is
 * flat (a line, one row of a grid) counts as standing: it has no width, and its length goes down.
 */
struct plane {
    struct dia_surface across_of, down; /* the surface along x and along y */
    struct dia_ramp x, y;
    uint32_t height;    /* of all of it, in cells */
    uint8_t flat, even; /* even: flat, and y goes by y.step from element to element */
};
void dia_plane_make(struct plane *plane, const struct dia_surface *surface, uint32_t cell_um);

/* Of elements first .. first + n - 1. */
void dia_plane_across(const struct plane *plane, uint32_t first, uint32_t n, uint32_t *out);
void dia_plane_down(const struct plane *plane, uint32_t first, uint32_t n, uint32_t *out);

#endif
