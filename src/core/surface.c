/* SPDX-License-Identifier: MIT */
#include <diachrome/surface.h>

enum dia_status dia_surface_line(struct dia_surface *surface, uint32_t count, int32_t start_um,
                                 int32_t pitch_um)
{
    if (count == 0 || pitch_um <= 0)
        return DIA_BAD_VALUE;
    int64_t length = (int64_t)count * pitch_um;
    if (length > INT32_MAX || start_um + length > INT32_MAX)
        return DIA_BAD_VALUE;
    surface->count = count;
    surface->start_um = start_um;
    surface->pitch_um = pitch_um;
    return DIA_OK;
}

int32_t dia_surface_place_um(const struct dia_surface *surface, uint32_t i)
{
    return surface->start_um + (int32_t)i * surface->pitch_um;
}

int32_t dia_surface_length_um(const struct dia_surface *surface)
{
    return (int32_t)surface->count * surface->pitch_um;
}

void dia_ramp_init(struct dia_ramp *ramp, const struct dia_surface *surface, uint64_t span,
                   uint32_t start)
{
    ramp->start = start;
    ramp->step = (uint32_t)(span / surface->count);
}

void dia_ramp_run(const struct dia_ramp *ramp, uint32_t first, uint32_t n, uint32_t *out)
{
    const uint32_t step = ramp->step; /* out might be the ramp, for all a compiler knows */
    uint32_t value = ramp->start + first * step;
    for (uint32_t i = 0; i < n; i++) {
        out[i] = value;
        value += step;
    }
}

void dia_ramp_run_upper(const struct dia_ramp *ramp, uint32_t first, uint32_t n, uint16_t *out)
{
    const uint32_t step = ramp->step;
    uint32_t value = ramp->start + first * step;
    for (uint32_t i = 0; i < n; i++) {
        out[i] = (uint16_t)(value >> 16);
        value += step;
    }
}
