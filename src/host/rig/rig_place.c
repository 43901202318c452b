/* SPDX-License-Identifier: MIT */
#include <diachrome/layout.h>

#include "rig_place.h"

enum dia_status dia_rig_lie_dots(const struct dia_rig_device *device,
                                 struct rig_device_lying *lying)
{
    uint32_t columns = device->surface.count;
    lying->grid = (struct dia_grid){
        (uint16_t)columns, (uint16_t)(device->lamps / columns), {DIA_TOP_LEFT, 0, 0}};
    return dia_surface_grid(&lying->surface, &lying->grid, device->pitch_um);
}

enum dia_status dia_rig_lie_segments(const struct dia_rig_device *device,
                                     struct rig_device_lying *lying)
{
    uint32_t count = device->digits * device->per_digit, placed = 0;
    do { /* it has a digit at least */
        lying->points[placed] = dia_rig_segment(device, placed);
    } while (++placed < count);
    return dia_surface_places(&lying->surface, &lying->places, lying->points, count,
                              device->pitch_um / 2);
}

/* ---- on the desk ----------------------------------------------------------------------------- */

static int32_t within(int64_t um)
{
    return um > INT32_MAX ? INT32_MAX : um < -INT32_MAX ? -INT32_MAX : (int32_t)um;
}

void dia_rig_place(struct rig_place *place, const struct dia_rig_at *at,
                   const struct dia_surface *surface)
{
    struct dia_bounds bounds;
    dia_surface_bounds(surface, &bounds);
    *place = (struct rig_place){*at, within((int64_t)bounds.left_um - surface->pitch_um / 2),
                                within((int64_t)bounds.top_um - surface->pitch_um / 2),
                                bounds.width_um, bounds.height_um};
}

struct dia_point dia_rig_place_point(const struct rig_place *place, struct dia_point point)
{
    int64_t x = (int64_t)point.x_um - place->left_um, y = (int64_t)point.y_um - place->top_um;
    int64_t across = x, down = y;
    if (place->at.turn == 1) {
        across = place->height_um - y;
        down = x;
    } else if (place->at.turn == 2) {
        across = place->width_um - x;
        down = place->height_um - y;
    } else if (place->at.turn == 3) {
        across = y;
        down = place->width_um - x;
    }
    return (struct dia_point){within(place->at.x_um + across), within(place->at.y_um + down)};
}

struct dia_rectangle dia_rig_reach(const struct dia_surface *surface, uint32_t first, uint32_t n,
                                   const struct rig_place *place)
{
    int64_t left = INT32_MAX, top = INT32_MAX, right = -INT32_MAX, bottom = -INT32_MAX,
            pitch = surface->pitch_um;
    struct dia_bounds bounds;
    if (!place && first == 0 && n == surface->count) { /* it knows that itself */
        dia_surface_bounds(surface, &bounds);
        return (struct dia_rectangle){within(bounds.left_um - pitch / 2),
                                      within(bounds.top_um - pitch / 2), bounds.width_um,
                                      bounds.height_um};
    }
    for (uint32_t i = first; i < first + n; i++) {
        struct dia_point at = dia_surface_point(surface, i);
        if (place)
            at = dia_rig_place_point(place, at);
        left = at.x_um < left ? at.x_um : left;
        top = at.y_um < top ? at.y_um : top;
        right = at.x_um > right ? at.x_um : right;
        bottom = at.y_um > bottom ? at.y_um : bottom;
    }
    return (struct dia_rectangle){within(left - pitch / 2), within(top - pitch / 2),
                                  within(right - left + pitch), within(bottom - top + pitch)};
}

enum dia_status dia_rig_reach_of(const struct dia_rig *rig, uint8_t is_device, uint32_t number,
                                 uint32_t first, uint32_t n, struct dia_rectangle *reach)
{
    const struct dia_rig_device *device = &rig->devices[number];
    const struct dia_rig_at *at = is_device ? &device->at : &rig->lanes[number].at;
    struct rig_place place;
    struct dia_rig_lying lying;
    struct rig_device_lying lamps;
    const struct dia_surface *surface = &lying.surface;
    if (!at->given)
        return DIA_BAD_VALUE;
    if (!is_device) {
        dia_rig_lie(rig, &rig->lanes[number], &lying);
    } else if (dia_rig_lies(device) == DIA_LIES_DOTS &&
               dia_rig_lie_dots(device, &lamps) == DIA_OK) {
        surface = &lamps.surface;
    } else if (device->digits && dia_rig_lie_segments(device, &lamps) == DIA_OK) {
        surface = &lamps.surface;
    } else {
        surface = &device->surface;
    }
    dia_rig_place(&place, at, surface);
    *reach = dia_rig_reach(surface, first, n ? n : surface->count, &place);
    return DIA_OK;
}

struct dia_rectangle dia_rectangle_both(const struct dia_rectangle *a,
                                        const struct dia_rectangle *b)
{
    int64_t left = a->left_um < b->left_um ? a->left_um : b->left_um;
    int64_t top = a->top_um < b->top_um ? a->top_um : b->top_um;
    int64_t right = (int64_t)a->left_um + a->width_um, right_b = (int64_t)b->left_um + b->width_um;
    int64_t bottom = (int64_t)a->top_um + a->height_um,
            bottom_b = (int64_t)b->top_um + b->height_um;
    right = right > right_b ? right : right_b;
    bottom = bottom > bottom_b ? bottom : bottom_b;
    return (struct dia_rectangle){(int32_t)left, (int32_t)top, within(right - left),
                                  within(bottom - top)};
}
