/* SPDX-License-Identifier: MIT */
#include "cells.h"

static struct dia_cell tiles_cell(const struct dia_tiles *tiles, uint32_t i)
{
    const struct dia_grid *panel = &tiles->panel;
    uint16_t each = (uint16_t)(panel->columns * panel->rows);
    const struct dia_tile *tile = &tiles->tile[(uint16_t)i / each];
    struct dia_cell cell = dia_grid_cell(panel, (uint16_t)i % each);
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

static struct dia_point tiles_point(const struct dia_surface *surface, uint32_t i)
{
    struct dia_cell cell = tiles_cell((const struct dia_tiles *)surface->of, i);
    struct dia_point point = {cell.column * surface->pitch_um, cell.row * surface->pitch_um};
    return point;
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
    for (uint32_t i = first; n != 0; n--, i++) {
        struct dia_cell cell = tiles_cell(tiles, i);
        uint16_t number = (uint16_t)((uint16_t)i / (uint16_t)(panel->columns * panel->rows));
        *out++ = cells_share(side ? number : down ? cell.row : cell.column, step);
    }
    return 1;
}

static const DIA_ROM struct dia_layout layout = {tiles_point, tiles_bounds, tiles_shares};

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
