/* SPDX-License-Identifier: MIT */
#include "cells.h"
#include "lengths.h"
#include "polar.h"

void dia_cells_bounds(const struct dia_surface *surface, uint16_t columns, uint16_t rows,
                      struct dia_bounds *bounds)
{
    uint16_t across = (uint16_t)(columns - 1u), down = (uint16_t)(rows - 1u);
    bounds->left_um = bounds->top_um = 0;
    bounds->width_um = bounds->length_um = pitches_um(columns, surface->pitch_um);
    bounds->height_um = pitches_um(rows, surface->pitch_um);
    bounds->middle_x_um = pitches_um(across, surface->pitch_um) / 2;
    bounds->middle_y_um = pitches_um(down, surface->pitch_um) / 2;
    /* the diagonal, in 256ths of a pitch as long as that fits */
    uint8_t shift = (across | down) < 128 ? 8 : 0;
    uint32_t w = (uint32_t)across << shift, h = (uint32_t)down << shift;
    uint32_t diagonal = across == 0 || down == 0 ? w + h : dia_polar_root(w * w + h * h) + 1u;
    bounds->reach_um = (int32_t)((diagonal >> shift) * (uint32_t)surface->pitch_um / 2);
    if (shift)
        bounds->reach_um += (int32_t)((diagonal & 255u) * ((uint32_t)surface->pitch_um / 2) >> 8);
    bounds->reach_um = some_um(bounds->reach_um);
}

enum dia_status dia_cells_surface(struct dia_surface *surface, uint16_t columns, uint16_t rows,
                                  int32_t pitch_um)
{
    struct dia_surface line;
    /* the diagonal must fit too, and half a pitch in 8.24 bits */
    if (pitch_um > 16000000 || columns == 0 || rows == 0 || (uint32_t)columns * rows > UINT16_MAX ||
        dia_surface_line(&line, (uint32_t)columns + rows, 0, pitch_um) != DIA_OK)
        return DIA_BAD_VALUE;
    line.count = (uint32_t)columns * rows;
    *surface = line;
    return DIA_OK;
}

static void grid_points(const struct dia_surface *surface, uint32_t first, uint32_t n,
                        struct dia_point *out)
{
    struct grid_walk walk =
        dia_grid_walk_from((const struct dia_grid *)surface->of, (uint16_t)first);
    for (; n != 0; n--, out++, grid_walk_on(&walk))
        *out = cells_point(surface, dia_grid_walk_cell(&walk));
}

static void grid_bounds(const struct dia_surface *surface, struct dia_bounds *bounds)
{
    const struct dia_grid *grid = (const struct dia_grid *)surface->of;
    dia_cells_bounds(surface, grid->columns, grid->rows, bounds);
}

static int grid_shares(const struct dia_surface *surface, enum dia_axis axis, uint32_t first,
                       uint32_t n, uint16_t *out)
{
    const struct dia_grid *grid = (const struct dia_grid *)surface->of;
    uint8_t down = axis == DIA_Y;
    uint32_t step = UINT32_MAX / (down ? grid->rows : grid->columns);
    if (axis != DIA_ALONG && axis != DIA_X && axis != DIA_Y)
        return 0;
    struct grid_walk walk = dia_grid_walk_from(grid, (uint16_t)first);
    for (; n != 0; n--, grid_walk_on(&walk)) {
        struct dia_cell cell = dia_grid_walk_cell(&walk);
        *out++ = cells_share(down ? cell.row : cell.column, step);
    }
    return 1;
}

static const DIA_ROM struct dia_layout layout = {grid_points, grid_bounds, grid_shares};

enum dia_status dia_surface_grid(struct dia_surface *surface, const struct dia_grid *grid,
                                 int32_t pitch_um)
{
    enum dia_status status = dia_cells_surface(surface, grid->columns, grid->rows, pitch_um);
    if (status == DIA_OK) {
        surface->layout = &layout;
        surface->of = grid;
    }
    return status;
}
