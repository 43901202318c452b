/* SPDX-License-Identifier: MIT */
#include <diachrome/layout.h>

#include "once.h"
#include "plane.h"

void dia_plane_make(struct plane *plane, const struct dia_surface *surface, uint32_t cell_um)
{
    plane->flat = !surface->layout || dia_surface_extent_um(surface, DIA_Y) <= surface->pitch_um;
    plane->across_of = dia_surface_along(*surface, DIA_X);
    plane->down = dia_surface_along(*surface, plane->flat ? DIA_ALONG : DIA_Y);
    plane->height = (uint32_t)dia_once_lengths(&plane->down, cell_um);
    dia_ramp_init(&plane->x, &plane->across_of, dia_once_lengths(&plane->across_of, cell_um), 0);
    dia_ramp_init(&plane->y, &plane->down, plane->height, 0);
    plane->even = plane->flat && !plane->y.surface;
}

void dia_plane_across(const struct plane *plane, uint32_t first, uint32_t n, uint32_t *out)
{
    if (plane->flat) {
        while (n-- != 0)
            *out++ = 0;
        return;
    }
    dia_ramp_run(&plane->x, first, n, out);
}

void dia_plane_down(const struct plane *plane, uint32_t first, uint32_t n, uint32_t *out)
{
    dia_ramp_run(&plane->y, first, n, out);
}
