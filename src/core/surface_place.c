/* SPDX-License-Identifier: MIT */
#include <diachrome/surface.h>

#include "layout/lengths.h"

int32_t dia_surface_place_um(const struct dia_surface *surface, uint32_t i)
{
    return further_um(surface->start_um, pitches_um(i, surface->pitch_um));
}

uint32_t dia_apart_um(int32_t a, int32_t b)
{
    return a < b ? (uint32_t)b - (uint32_t)a : (uint32_t)a - (uint32_t)b;
}
