/* SPDX-License-Identifier: MIT */
#include <diachrome/fixed.h>

#include "once.h"

dia_phase once_travelled(const struct dia_surface *surface, int32_t turns, int32_t speed_um_s,
                         uint32_t ms)
{
    int64_t turns_um = (int64_t)speed_um_s * turns;
    uint64_t size = (uint64_t)(turns_um < 0 ? -turns_um : turns_um) << 32;
    uint64_t per_ms = (uint64_t)dia_surface_length_um(surface) * 1000u;
    uint32_t rate = (uint32_t)((size + per_ms / 2) / per_ms);
    uint32_t phase = ms * rate;
    return turns_um < 0 ? 0u - phase : phase;
}

void once_turns(struct dia_ramp *ramp, const struct dia_surface *surface, int32_t turns,
                dia_phase start)
{
    dia_ramp_init(ramp, surface, (uint64_t)turns << 32, start);
}

void once_places(struct dia_ramp *ramp, const struct dia_surface *surface)
{
    dia_ramp_init(ramp, surface, (uint64_t)dia_surface_length_um(surface), 0);
}

uint64_t once_lengths(const struct dia_surface *surface, uint32_t unit_um)
{
    return ((uint64_t)dia_surface_length_um(surface) << 16) / unit_um;
}
