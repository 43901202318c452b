/* SPDX-License-Identifier: MIT */
#include "cells.h"

/* From element to element, tile by tile. */
struct tiles_walk {
    const struct dia_tiles *tiles;
    struct grid_walk in; /* its panel */
    uint16_t number;     /* of the tile */
    uint16_t left;       /* of its elements */
};

static struct tiles_walk walk_from(const struct dia_tiles *tiles, uint16_t i)
{
    const struct dia_grid *panel = &tiles->panel;
    uint16_t each = (uint16_t)(panel->columns * panel->rows), number = i / each;
    uint16_t at = (uint16_t)(i - number * each);
    struct tiles_walk walk = {tiles, dia_grid_walk_from(panel, at), number, (uint16_t)(each - at)};
    return walk;
}

static void walk_on(struct tiles_walk *walk)
{
    const struct dia_grid *panel = &walk->tiles->panel;
    grid_walk_on(&walk->in);
    if (--walk->left != 0)
        return;
    walk->in.run = 0;
    walk->number++;
    walk->left = (uint16_t)(panel->columns * panel->rows);
}

static struct dia_cell cell_of(const struct tiles_walk *walk)
{
    const struct dia_grid *panel = &walk->tiles->panel;
    const struct dia_tile *tile = &walk->tiles->tile[walk->number];
    struct dia_cell cell = dia_grid_walk_cell(&walk->in);
    for (uint8_t turn = tile->turn & 1u; turn != 0; turn--) { /* a quarter: the panel is square */
        struct dia_cell turned = {(uint16_t)(panel->rows - 1u - cell.row), cell.column};
        cell = turned;
    }
    if (tile->turn & 2u) {
        cell.column = (uint16_t)(panel->columns - 1u - cell.column);
        cell.row = (uint16_t)(panel->rows - 1u - cell.row);
    }
    cell.column = (uint16_t)(cell.column + tile->column * panel->columns);
    cell.row = (uint16_t)(cell.row + tile->row * panel->rows);
    return cell;
}

static void tiles_points(const struct dia_surface *surface, uint32_t first, uint32_t n,
                         struct dia_point *out)
{
    struct tiles_walk walk = walk_from((const struct dia_tiles *)surface->of, (uint16_t)first);
    for (; n != 0; n--, out++, walk_on(&walk))
        *out = cells_point(surface, cell_of(&walk));
}

static void tiles_bounds(const struct dia_surface *surface, struct dia_bounds *bounds)
{
    const struct dia_tiles *tiles = (const struct dia_tiles *)surface->of;
    dia_cells_bounds(surface, (uint16_t)(tiles->columns * tiles->panel.columns),
                     (uint16_t)(tiles->rows * tiles->panel.rows), bounds);
}

static int tiles_shares(const struct dia_surface *surface, enum dia_axis axis, uint32_t first,
                        uint32_t n, uint16_t *out)
{
    const struct dia_tiles *tiles = (const struct dia_tiles *)surface->of;
    const struct dia_grid *panel = &tiles->panel;
    uint8_t down = axis == DIA_Y, side = axis == DIA_SIDE;
    uint32_t all =
        side ? tiles->count
             : (uint32_t)(down ? tiles->rows * panel->rows : tiles->columns * panel->columns);
    uint32_t step = UINT32_MAX / all;
    if (axis != DIA_ALONG && axis != DIA_X && axis != DIA_Y && !side)
        return 0;
    struct tiles_walk walk = walk_from(tiles, (uint16_t)first);
    for (; n != 0; n--, walk_on(&walk)) {
        struct dia_cell cell = cell_of(&walk);
        *out++ = cells_share(side ? walk.number : down ? cell.row : cell.column, step);
    }
    return 1;
}

static const DIA_ROM struct dia_layout layout = {tiles_points, tiles_bounds, tiles_shares};

enum dia_status dia_surface_tiles(struct dia_surface *surface, const struct dia_tiles *tiles,
                                  int32_t pitch_um)
{
    const struct dia_grid *panel = &tiles->panel;
    uint32_t columns = (uint32_t)tiles->columns * panel->columns;
    uint32_t rows = (uint32_t)tiles->rows * panel->rows;
    uint32_t elements = (uint32_t)panel->columns * panel->rows;
    if (tiles->count == 0 || columns > UINT16_MAX || rows > UINT16_MAX ||
        elements > UINT16_MAX / tiles->count)
        return DIA_BAD_VALUE;
    for (uint8_t k = 0; k < tiles->count; k++) {
        const struct dia_tile *tile = &tiles->tile[k];
        if (tile->column >= tiles->columns || tile->row >= tiles->rows || tile->turn > 3 ||
            (tile->turn & 1u && panel->columns != panel->rows))
            return DIA_BAD_VALUE;
    }
    enum dia_status status =
        dia_cells_surface(surface, (uint16_t)columns, (uint16_t)rows, pitch_um);
    if (status == DIA_OK) {
        surface->count = elements * tiles->count;
        surface->layout = &layout;
        surface->of = tiles;
    }
    return status;
}
