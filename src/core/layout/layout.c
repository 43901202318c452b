/* SPDX-License-Identifier: MIT */
#include <diachrome/layout.h>

#include "lengths.h"
#include "polar.h"

#define AT_ONCE 8u /* points; 64 bytes of stack */

void dia_surface_points(const struct dia_surface *surface, uint32_t first, uint32_t n,
                        struct dia_point *out)
{
    if (surface->layout) {
        surface->layout->points(surface, first, n, out);
        return;
    }
    uint32_t x_um = (uint32_t)dia_surface_place_um(surface, first);
    for (; n != 0; n--, out++, x_um += (uint32_t)surface->pitch_um) {
        out->x_um = (int32_t)x_um;
        out->y_um = 0;
    }
}

struct dia_point dia_surface_point(const struct dia_surface *surface, uint32_t i)
{
    struct dia_point point;
    dia_surface_points(surface, i, 1, &point);
    return point;
}

void dia_surface_bounds(const struct dia_surface *surface, struct dia_bounds *bounds)
{
    if (surface->layout) {
        surface->layout->bounds(surface, bounds);
        return;
    }
    int32_t span = pitches_um(surface->count - 1u, surface->pitch_um);
    bounds->left_um = surface->start_um;
    bounds->top_um = 0;
    bounds->width_um = bounds->length_um = lengths_um(span, surface->pitch_um);
    bounds->height_um = surface->pitch_um;
    bounds->middle_x_um = further_um(surface->start_um, span / 2);
    bounds->middle_y_um = 0;
    bounds->reach_um = some_um(span / 2);
}

int32_t dia_surface_extent_um(const struct dia_surface *surface, enum dia_axis axis)
{
    struct dia_bounds bounds;
    int32_t round;
    dia_surface_bounds(surface, &bounds);
    switch (axis) {
    case DIA_ALONG:
        return bounds.length_um;
    case DIA_X:
        return bounds.width_um;
    case DIA_Y:
        return bounds.height_um;
    case DIA_RADIUS:
        return bounds.reach_um;
    case DIA_ANGLE: /* 710 / 113 is two pi */
        round = bounds.reach_um < 300000000
                    ? bounds.reach_um / 113 * 710 + bounds.reach_um % 113 * 710 / 113
                    : INT32_MAX;
        return some_um(round);
    default: /* of a grid that may be more than there is */
        return surface->count > (uint32_t)INT32_MAX / (uint32_t)surface->pitch_um
                   ? INT32_MAX
                   : pitches_um(surface->count, surface->pitch_um);
    }
}

int32_t dia_surface_length_um(const struct dia_surface *surface)
{
    return surface->layout || surface->axis != DIA_ALONG
               ? dia_surface_extent_um(surface, (enum dia_axis)surface->axis)
               : pitches_um(surface->count, surface->pitch_um);
}

static void by_index(const struct dia_surface *surface, uint32_t first, uint32_t n, uint16_t *out)
{
    uint32_t step = UINT32_MAX / surface->count;
    for (uint32_t at = first * step + 0x8000u; n != 0; n--, at += step)
        *out++ = (uint16_t)(at >> 16);
}

/* Halves a length so that it fits 15 bits; how often. */
static uint8_t halved(uint32_t *length)
{
    uint8_t times = 0;
    for (; *length > 32767u; *length >>= 1)
        times++;
    return times;
}

static uint16_t share(uint32_t of, uint32_t rate)
{
    uint32_t value = (of * rate + 0x4000u) >> 15;
    return value > 65535u ? 65535u : (uint16_t)value;
}

/* x or y: both are kept as 15 bits of the extent, so that 32-bit products suffice. */
static void by_place(const struct dia_surface *surface, uint8_t down, uint32_t first, uint32_t n,
                     uint16_t *out)
{
    struct dia_bounds bounds;
    dia_surface_bounds(surface, &bounds);
    int32_t from = down ? bounds.top_um : bounds.left_um;
    uint32_t extent = (uint32_t)(down ? bounds.height_um : bounds.width_um);
    uint8_t times = halved(&extent);
    uint32_t rate = 0x80000000u / extent;
    struct dia_point points[AT_ONCE];
    for (uint32_t done = 0; done < n; done += AT_ONCE) {
        uint32_t run = n - done < AT_ONCE ? n - done : AT_ONCE;
        dia_surface_points(surface, first + done, run, points);
        for (uint32_t i = 0; i < run; i++)
            *out++ =
                share(dia_apart_um(down ? points[i].y_um : points[i].x_um, from) >> times, rate);
    }
}

/* From the middle to a place, so many times halved, towards 0. */
static int16_t shrunk(int32_t place, int32_t middle, uint8_t times)
{
    int16_t length = (int16_t)(dia_apart_um(place, middle) >> times);
    return (int16_t)(place < middle ? -length : length);
}

static void by_middle(const struct dia_surface *surface, uint8_t angle, uint32_t first, uint32_t n,
                      uint16_t *out)
{
    struct dia_bounds bounds;
    dia_surface_bounds(surface, &bounds);
    uint32_t reach = (uint32_t)bounds.reach_um;
    uint8_t times = halved(&reach);
    uint32_t rate = (uint32_t)0x7fff8000u / reach;
    struct dia_point points[AT_ONCE];
    for (uint32_t done = 0; done < n; done += AT_ONCE) {
        uint32_t run = n - done < AT_ONCE ? n - done : AT_ONCE;
        dia_surface_points(surface, first + done, run, points);
        for (uint32_t i = 0; i < run; i++) {
            int32_t x = shrunk(points[i].x_um, bounds.middle_x_um, times);
            int32_t y = shrunk(points[i].y_um, bounds.middle_y_um, times);
            *out++ = angle ? dia_polar_angle((int16_t)x, (int16_t)y)
                           : share(dia_polar_root((uint32_t)(x * x) + (uint32_t)(y * y)), rate);
        }
    }
}

/* Of a line: the middle is half way between its ends; element i is |last - 2 i| halves of a pitch
 * away from it. Those on either side are in a loop of additions each. */
static void radius_on_a_line(const struct dia_surface *surface, uint32_t first, uint32_t n,
                             uint16_t *out)
{
    uint32_t last = surface->count - 1u, step = last ? UINT32_MAX / last : 0;
    uint32_t half = (last + 1u) / 2u, left = first < half ? half - first : 0, i = 0;
    left = left < n ? left : n;
    uint32_t at = (last - 2u * first) * step + 0x8000u;
    for (; i < left; i++, at -= 2u * step)
        out[i] = (uint16_t)(at >> 16);
    at = (2u * (first + i) - last) * step + 0x8000u;
    for (; i < n; i++, at += 2u * step)
        out[i] = (uint16_t)(at >> 16);
    if (last && first == 0) /* both ends: the rounding would be beyond what there is */
        out[0] = 65535u;
    if (last && first + n == surface->count)
        out[n - 1u] = 65535u;
}

static void angle_on_a_line(const struct dia_surface *surface, uint32_t first, uint32_t n,
                            uint16_t *out)
{
    uint32_t last = surface->count - 1u;
    for (uint32_t i = first; n != 0; n--, i++)
        *out++ = 2u * i < last ? 49152u : 2u * i > last ? 16384u : 0;
}

void dia_surface_shares(const struct dia_surface *surface, enum dia_axis axis, uint32_t first,
                        uint32_t n, uint16_t *out)
{
    const DIA_ROM struct dia_layout *layout = surface->layout;
    if (layout && layout->shares && layout->shares(surface, axis, first, n, out))
        return;
    switch (axis) {
    case DIA_X:
    case DIA_Y:
        by_place(surface, axis == DIA_Y, first, n, out);
        break;
    case DIA_RADIUS:
    case DIA_ANGLE:
        if (!layout && axis == DIA_ANGLE)
            angle_on_a_line(surface, first, n, out);
        else if (!layout)
            radius_on_a_line(surface, first, n, out);
        else
            by_middle(surface, axis == DIA_ANGLE, first, n, out);
        break;
    case DIA_SIDE:
        while (n-- != 0)
            *out++ = 0;
        break;
    default:
        by_index(surface, first, n, out);
    }
}
