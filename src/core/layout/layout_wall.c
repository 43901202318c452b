/* SPDX-License-Identifier: MIT */
#include "cells.h"

/* From element to element, place by place. */
struct wall_walk {
    const struct dia_wall *wall;
    struct grid_walk in; /* its panel */
    uint16_t number;     /* of the place */
    uint16_t left;       /* of its elements */
};

static struct wall_walk walk_from(const struct dia_wall *wall, uint16_t i)
{
    const struct dia_grid *panel = &wall->panel;
    uint16_t each = (uint16_t)((uint32_t)panel->columns * panel->rows), number = i / each;
    uint16_t at = (uint16_t)(i - (uint32_t)number * each);
    struct wall_walk walk = {wall, dia_grid_walk_from(panel, at), number, (uint16_t)(each - at)};
    return walk;
}

static void walk_on(struct wall_walk *walk)
{
    const struct dia_grid *panel = &walk->wall->panel;
    grid_walk_on(&walk->in);
    if (--walk->left != 0)
        return;
    walk->in.run = 0;
    walk->number++;
    walk->left = (uint16_t)((uint32_t)panel->columns * panel->rows);
}

static struct dia_cell cell_of(const struct wall_walk *walk)
{
    const struct dia_grid *panel = &walk->wall->panel;
    const struct dia_wall_place *place = &walk->wall->places[walk->number];
    struct dia_cell cell = dia_grid_walk_cell(&walk->in);
    for (uint8_t turn = place->turn & 1u; turn != 0; turn--) { /* a quarter: the panel is square */
        struct dia_cell turned = {(uint16_t)(panel->rows - 1u - cell.row), cell.column};
        cell = turned;
    }
    if (place->turn & 2u) {
        cell.column = (uint16_t)(panel->columns - 1u - cell.column);
        cell.row = (uint16_t)(panel->rows - 1u - cell.row);
    }
    cell.column = (uint16_t)(cell.column + place->column * panel->columns);
    cell.row = (uint16_t)(cell.row + place->row * panel->rows);
    return cell;
}

static void wall_points(const struct dia_surface *surface, uint32_t first, uint32_t n,
                        struct dia_point *out)
{
    struct wall_walk walk = walk_from((const struct dia_wall *)surface->of, (uint16_t)first);
    for (; n != 0; n--, out++, walk_on(&walk))
        *out = cells_point(surface, cell_of(&walk));
}

static void wall_bounds(const struct dia_surface *surface, struct dia_bounds *bounds)
{
    const struct dia_wall *wall = (const struct dia_wall *)surface->of;
    dia_cells_bounds(surface, (uint16_t)(wall->columns * wall->panel.columns),
                     (uint16_t)(wall->rows * wall->panel.rows), bounds);
}

static int wall_shares(const struct dia_surface *surface, enum dia_axis axis, uint32_t first,
                       uint32_t n, uint16_t *out)
{
    const struct dia_wall *wall = (const struct dia_wall *)surface->of;
    const struct dia_grid *panel = &wall->panel;
    uint8_t down = axis == DIA_Y, side = axis == DIA_SIDE;
    uint32_t all =
        side ? wall->count
             : (uint32_t)(down ? wall->rows * panel->rows : wall->columns * panel->columns);
    uint32_t step = UINT32_MAX / all;
    if (axis != DIA_ALONG && axis != DIA_X && axis != DIA_Y && !side)
        return 0;
    struct wall_walk walk = walk_from(wall, (uint16_t)first);
    for (; n != 0; n--, walk_on(&walk)) {
        struct dia_cell cell = cell_of(&walk);
        *out++ = cells_share(side ? walk.number : down ? cell.row : cell.column, step);
    }
    return 1;
}

static const DIA_ROM struct dia_layout layout = {wall_points, wall_bounds, wall_shares};

enum dia_status dia_surface_wall(struct dia_surface *surface, const struct dia_wall *wall,
                                 int32_t pitch_um)
{
    const struct dia_grid *panel = &wall->panel;
    uint32_t columns = (uint32_t)wall->columns * panel->columns;
    uint32_t rows = (uint32_t)wall->rows * panel->rows;
    uint32_t elements = (uint32_t)panel->columns * panel->rows;
    if (wall->count == 0 || columns > UINT16_MAX || rows > UINT16_MAX ||
        elements > UINT16_MAX / wall->count)
        return DIA_BAD_VALUE;
    for (uint8_t k = 0; k < wall->count; k++) {
        const struct dia_wall_place *place = &wall->places[k];
        if (place->column >= wall->columns || place->row >= wall->rows || place->turn > 3 ||
            (place->turn & 1u && panel->columns != panel->rows))
            return DIA_BAD_VALUE;
    }
    enum dia_status status =
        dia_cells_surface(surface, (uint16_t)columns, (uint16_t)rows, pitch_um);
    if (status == DIA_OK) {
        surface->count = elements * wall->count;
        surface->layout = &layout;
        surface->of = wall;
    }
    return status;
}
