/* SPDX-License-Identifier: MIT */
#include <diachrome/surface.h>

int32_t dia_surface_place_um(const struct dia_surface *surface, uint32_t i)
{
    return surface->start_um + (int32_t)i * surface->pitch_um;
}
