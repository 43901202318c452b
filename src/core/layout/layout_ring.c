/* SPDX-License-Identifier: MIT */
#include <diachrome/layout.h>
#include <diachrome/signal.h>

#include "lengths.h"

/* From element to element. */
static dia_phase step_of(const struct dia_surface *surface)
{
    const struct dia_ring *ring = (const struct dia_ring *)surface->of;
    dia_phase step = UINT32_MAX / surface->count;
    return ring->reversed ? 0u - step : step;
}

/* radius * cosine, in 32 bits */
static int32_t leg(int32_t radius_um, dia_phase angle)
{
    int32_t cosine = 32767 - (int32_t)dia_signal_sine(angle);
    return (radius_um >> 15) * cosine + ((radius_um & 32767) * cosine >> 15);
}

static void ring_points(const struct dia_surface *surface, uint32_t first, uint32_t n,
                        struct dia_point *out)
{
    const struct dia_ring *ring = (const struct dia_ring *)surface->of;
    dia_phase step = step_of(surface), angle = step * first;
    for (; n != 0; n--, out++, angle += step) {
        out->x_um = leg(ring->diameter_um / 2, angle - 0x40000000u);
        out->y_um = -leg(ring->diameter_um / 2, angle);
    }
}

static void ring_bounds(const struct dia_surface *surface, struct dia_bounds *bounds)
{
    const struct dia_ring *ring = (const struct dia_ring *)surface->of;
    bounds->left_um = bounds->top_um = -ring->diameter_um / 2;
    /* an element alone has the whole way round as its pitch */
    bounds->width_um = bounds->height_um = lengths_um(ring->diameter_um, surface->pitch_um);
    bounds->middle_x_um = bounds->middle_y_um = 0;
    bounds->reach_um = some_um(ring->diameter_um / 2);
    bounds->length_um = pitches_um(surface->count, surface->pitch_um);
}

static int ring_shares(const struct dia_surface *surface, enum dia_axis axis, uint32_t first,
                       uint32_t n, uint16_t *out)
{
    if (axis == DIA_RADIUS) {
        for (uint32_t i = 0; i < n; i++)
            out[i] = 65535u;
        return 1;
    }
    if (axis != DIA_ALONG && axis != DIA_ANGLE)
        return 0;
    dia_phase step = step_of(surface), angle = step * first + 0x8000u;
    for (uint32_t i = 0; i < n; i++, angle += step)
        out[i] = (uint16_t)(angle >> 16);
    return 1;
}

static const DIA_ROM struct dia_layout layout = {ring_points, ring_bounds, ring_shares};

enum dia_status dia_surface_ring(struct dia_surface *surface, const struct dia_ring *ring,
                                 uint32_t count)
{
    if (count == 0 || ring->diameter_um < 1 || ring->diameter_um > 600000000)
        return DIA_BAD_VALUE;
    /* 355 / 113 is pi */
    uint32_t round = (uint32_t)ring->diameter_um / 113u * 355u +
                     (uint32_t)ring->diameter_um % 113u * 355u / 113u;
    if (round / count == 0)
        return DIA_BAD_VALUE;
    surface->count = count;
    surface->start_um = 0;
    surface->pitch_um = (int32_t)(round / count);
    surface->layout = &layout;
    surface->of = ring;
    surface->axis = DIA_ALONG;
    return DIA_OK;
}
