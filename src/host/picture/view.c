/* SPDX-License-Identifier: MIT */
#include <math.h>
#include <stdlib.h>

#include <diachrome/reel.h>

#include "view.h"

static void ring(struct view *view, const struct dia_rig_lane *lane)
{
    float pitch = (float)lane->layout.pitch_um / 1000,
          radius = (float)lane->layout.diameter_um / 2000;
    float middle = radius + pitch / 2;
    view->width = view->height = 2 * middle;
    for (uint32_t i = 0; i < view->count; i++) {
        double turn = 2 * acos(-1.0) * i / view->count;
        view->elements[dia_rig_pixel_at(lane, i)] = (struct view_element){
            middle + radius * (float)sin(turn), middle - radius * (float)cos(turn), pitch * 0.5f,
            pitch * 0.5f, VIEW_SQUARE};
    }
}

static void grid(struct view *view, const struct dia_rig_lane *lane)
{
    float pitch = (float)lane->layout.pitch_um / 1000;
    view->width = pitch * lane->layout.grid.columns;
    view->height = pitch * lane->layout.grid.rows;
    for (uint32_t i = 0; i < view->count; i++) {
        struct dia_cell cell = dia_grid_cell(&lane->layout.grid, (uint16_t)i);
        view->elements[i] = (struct view_element){pitch * ((float)cell.column + 0.5f),
                                                  pitch * ((float)cell.row + 0.5f), pitch * 0.5f,
                                                  pitch * 0.5f, VIEW_SQUARE};
    }
}

/* By where its surface says; pixels without a place have no size. */
static void by_points(struct view *view, const struct dia_rig *rig, const struct dia_rig_lane *lane)
{
    struct dia_rig_lying lying;
    struct dia_bounds bounds;
    float pitch = (float)lane->layout.pitch_um / 1000;
    uint32_t element = 0, gap = 0;
    dia_rig_lie(rig, lane, &lying);
    dia_surface_bounds(&lying.surface, &bounds);
    view->width = (float)bounds.width_um / 1000;
    view->height = (float)bounds.height_um / 1000;
    for (uint32_t i = 0; i < view->count; i++) {
        if (gap < lane->layout.gap_count && lane->layout.gaps[gap] == i) {
            gap++;
            continue;
        }
        struct dia_point at = dia_surface_point(&lying.surface, element++);
        view->elements[i] =
            (struct view_element){(float)(at.x_um - bounds.left_um) / 1000 + pitch / 2,
                                  (float)(at.y_um - bounds.top_um) / 1000 + pitch / 2, pitch * 0.5f,
                                  pitch * 0.5f, VIEW_SQUARE};
    }
}

void dia_view_of_lane(struct view *view, const struct dia_rig *rig, const struct dia_rig_lane *lane)
{
    view->count = lane->count;
    view->most = 60000.0f / (float)lane->layout.pitch_um;
    view->elements = calloc(view->count, sizeof *view->elements);
    if (!view->elements)
        return;
    if (lane->layout.shape > DIA_SHAPE_GRID || lane->layout.shape == DIA_SHAPE_LINE ||
        lane->layout.gap_count)
        by_points(view, rig, lane);
    else if (lane->layout.shape == DIA_SHAPE_RING)
        ring(view, lane);
    else
        grid(view, lane);
}

static void put(struct view *view, uint32_t i, float x, float y, float w, float h, uint8_t shape)
{
    view->elements[i] = (struct view_element){x, y, w, h, shape};
}

static void dots(struct view *view, const struct dia_rig_device *device, float pitch)
{
    uint32_t columns = device->surface.count;
    view->width = pitch * (float)columns;
    view->height = pitch * (float)(view->count / columns);
    view->most = 14 / pitch;
    for (uint32_t i = 0; i < view->count; i++)
        put(view, i, pitch * ((float)(i % columns) + 0.5f), pitch * ((float)(i / columns) + 0.5f),
            pitch * 0.8f, pitch * 0.8f, VIEW_ROUND);
}

static void lamps(struct view *view, float pitch)
{
    view->width = pitch * (float)view->count;
    view->height = pitch * 1.4f;
    view->most = 34 / pitch;
    for (uint32_t i = 0; i < view->count; i++)
        put(view, i, pitch * ((float)i + 0.5f), pitch * 0.7f, pitch * 0.6f, pitch * 0.6f,
            VIEW_ROUND);
}

/* Segments, how they look: an upper and a lower edge, halves of one, sides, diagonals. */
enum { EDGE, HALF, SIDE, FALLS, RISES, POINT };
static const uint8_t kinds_7[] = {EDGE, SIDE, SIDE, EDGE, SIDE, SIDE, EDGE, POINT};
static const uint8_t kinds_14[] = {EDGE,  SIDE, SIDE,  EDGE,  SIDE, SIDE,  HALF, HALF,
                                   FALLS, SIDE, RISES, RISES, SIDE, FALLS, POINT};
static const uint8_t kinds_16[] = {HALF, HALF,  SIDE, SIDE,  HALF,  HALF, SIDE,  SIDE, HALF,
                                   HALF, FALLS, SIDE, RISES, RISES, SIDE, FALLS, POINT};

static void digits(struct view *view, const struct dia_rig_device *device, float pitch, float top)
{
    static const struct {
        float w, h; /* in parts of a pitch */
        uint8_t shape;
    } looks[] = {{0.42f, 0.11f, VIEW_BAR},   {0.2f, 0.11f, VIEW_BAR},
                 {0.11f, 0.46f, VIEW_BAR},   {0.16f, 0.38f, VIEW_FALLS},
                 {0.16f, 0.38f, VIEW_RISES}, {0.12f, 0.12f, VIEW_ROUND}};
    const uint8_t *kinds = device->per_digit == 15   ? kinds_14
                           : device->per_digit == 17 ? kinds_16
                                                     : kinds_7;
    for (uint32_t i = 0; i < device->digits * device->per_digit; i++) {
        struct dia_point at = dia_rig_segment(device, i);
        uint8_t kind = kinds[i % device->per_digit];
        put(view, i, (float)at.x_um / 1000, top + (float)at.y_um / 1000, pitch * looks[kind].w,
            pitch * looks[kind].h, looks[kind].shape);
    }
    view->width = pitch * (float)device->digits;
    view->height = top + pitch * 1.7f;
    view->most = 64 / pitch;
}

/* Single lamps of a panel are above its digits. */
static void single_lamps(struct view *view, const struct dia_rig_device *device, float pitch)
{
    for (uint32_t i = device->digits * device->per_digit; i < device->lamps; i++)
        put(view, i, view->width / 8 * ((float)(i - device->digits * device->per_digit) + 0.48f),
            pitch * 0.35f, pitch * 0.3f, pitch * 0.3f, VIEW_ROUND);
}

#define CELL_WIDTH  3.55f
#define CELL_HEIGHT 5.35f

static void cells(struct view *view, const struct dia_rig_device *device)
{
    float edge = 2;
    view->width = CELL_WIDTH * device->columns + 2 * edge;
    view->height = CELL_HEIGHT * device->rows + 2 * edge;
    view->most = 6;
    for (uint32_t i = 0; i < view->count; i++)
        put(view, i, edge + CELL_WIDTH * ((float)(i % device->columns) + 0.5f),
            edge + CELL_HEIGHT * ((float)(i / device->columns) + 0.5f), 2.95f, 4.75f, VIEW_CELL);
}

void dia_view_of_device(struct view *view, const struct dia_rig_device *device)
{
    float pitch = (float)device->pitch_um / 1000;
    view->count = dia_reel_elements(device);
    view->elements = calloc(view->count, sizeof *view->elements);
    if (!view->elements)
        return;
    switch (dia_rig_lies(device)) {
    case DIA_LIES_CELLS:
        cells(view, device);
        break;
    case DIA_LIES_LINE:
        lamps(view, pitch);
        break;
    case DIA_LIES_DOTS:
        dots(view, device, pitch);
        break;
    case DIA_LIES_DIGITS:
        digits(view, device, pitch,
               device->lamps > device->digits * device->per_digit ? pitch * 0.6f : 0);
        single_lamps(view, device, pitch);
        break;
    }
}

static uint8_t scaled(uint8_t code, uint16_t level)
{
    return dia_code_of((dia_light)((uint32_t)dia_light_of(code) * level / 65535));
}

struct dia_rgb dia_view_seen(const struct dia_rig_device *device, const uint8_t drive[4])
{
    if (dia_rig_lies(device) == DIA_LIES_CELLS)
        return (struct dia_rgb){16, 20, 14};
    if (device->channels == 3)
        return (struct dia_rgb){drive[0], drive[1], drive[2]};
    return dia_lamp_seen(device, (uint16_t)(drive[0] * 256u + drive[1]));
}

struct dia_rgb dia_view_ground(const struct dia_rig_device *device)
{
    struct dia_rgb colour = device->colour;
    if (dia_rig_lies(device) != DIA_LIES_CELLS)
        return (struct dia_rgb){18, 18, 20};
    return (struct dia_rgb){scaled(colour.r, 30000), scaled(colour.g, 30000),
                            scaled(colour.b, 30000)};
}

void dia_view_free(struct view *view)
{
    free(view->elements);
    view->elements = NULL;
}
