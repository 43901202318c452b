/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/layout.h>

#include "lengths.h"
#include "polar.h"

#define FURTHEST 500000000

static void places_points(const struct dia_surface *surface, uint32_t first, uint32_t n,
                          struct dia_point *out)
{
    const struct dia_places *places = (const struct dia_places *)surface->of;
    if (places->points)
        memcpy(out, places->points + first, (size_t)n * sizeof *out);
    else /* of those that are kept nobody knows where they lie */
        memset(out, 0, (size_t)n * sizeof *out);
}

static void places_bounds(const struct dia_surface *surface, struct dia_bounds *bounds)
{
    const struct dia_places *places = (const struct dia_places *)surface->of;
    *bounds = places->bounds;
}

static int places_shares(const struct dia_surface *surface, enum dia_axis axis, uint32_t first,
                         uint32_t n, uint16_t *out)
{
    const struct dia_places *places = (const struct dia_places *)surface->of;
    if (!places->shares[axis])
        return 0;
    memcpy(out, places->shares[axis] + first, (size_t)n * sizeof *out);
    return 1;
}

static const DIA_ROM struct dia_layout layout = {places_points, places_bounds, places_shares};

/* Of x and y as far as 1000 m: to a 32768th of the length. */
static int32_t distance(uint32_t x, uint32_t y)
{
    uint8_t times = 0;
    if (x == 0 || y == 0)
        return (int32_t)(x + y);
    for (; (x | y) > 32767u; x >>= 1, y >>= 1)
        times++;
    uint32_t root = dia_polar_root(x * x + y * y);
    return root > (uint32_t)INT32_MAX >> times ? INT32_MAX : (int32_t)(root << times);
}

static int measure(struct dia_bounds *bounds, const struct dia_point *points, uint32_t count,
                   int32_t pitch_um)
{
    struct dia_point low = {FURTHEST, FURTHEST}, high = {-FURTHEST, -FURTHEST};
    int32_t reach = 1;
    for (uint32_t i = 0; i < count; i++) {
        struct dia_point p = points[i];
        if (p.x_um < -FURTHEST || p.x_um > FURTHEST || p.y_um < -FURTHEST || p.y_um > FURTHEST)
            return -1;
        low.x_um = p.x_um < low.x_um ? p.x_um : low.x_um;
        low.y_um = p.y_um < low.y_um ? p.y_um : low.y_um;
        high.x_um = p.x_um > high.x_um ? p.x_um : high.x_um;
        high.y_um = p.y_um > high.y_um ? p.y_um : high.y_um;
    }
    bounds->left_um = low.x_um;
    bounds->top_um = low.y_um;
    bounds->width_um = lengths_um(high.x_um - low.x_um, pitch_um);
    bounds->height_um = lengths_um(high.y_um - low.y_um, pitch_um);
    bounds->middle_x_um = low.x_um + (high.x_um - low.x_um) / 2;
    bounds->middle_y_um = low.y_um + (high.y_um - low.y_um) / 2;
    for (uint32_t i = 0; i < count; i++) {
        int32_t far = distance(dia_apart_um(points[i].x_um, bounds->middle_x_um),
                               dia_apart_um(points[i].y_um, bounds->middle_y_um));
        reach = far > reach ? far : reach;
    }
    bounds->reach_um = reach;
    bounds->length_um = pitches_um(count, pitch_um);
    return 0;
}

enum dia_status dia_surface_places(struct dia_surface *surface, struct dia_places *places,
                                   const struct dia_point *points, uint32_t count, int32_t pitch_um)
{
    struct dia_surface line;
    struct dia_bounds bounds;
    if (pitch_um > FURTHEST || dia_surface_line(&line, count, 0, pitch_um) != DIA_OK ||
        measure(&bounds, points, count, pitch_um) != 0)
        return DIA_BAD_VALUE;
    memset(places, 0, sizeof *places);
    places->points = points;
    places->bounds = bounds;
    line.layout = &layout;
    line.of = places;
    *surface = line;
    return DIA_OK;
}

void dia_places_keep(struct dia_surface *kept, struct dia_places *places,
                     const struct dia_surface *from, enum dia_axis axis, uint16_t *memory)
{
    struct dia_surface surface = *from;
    dia_surface_shares(from, axis, 0, from->count, memory);
    if (from->of != places) {
        memset(places, 0, sizeof *places);
        dia_surface_bounds(from, &places->bounds);
        surface.layout = &layout;
        surface.of = places;
    }
    places->shares[axis] = memory;
    *kept = surface;
}
