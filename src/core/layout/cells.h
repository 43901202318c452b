/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_CELLS_H
#define DIA_CORE_CELLS_H

#include <diachrome/grid.h>
#include <diachrome/layout.h>

#include "lengths.h"

/* What grids and walls of panels have in common: every element is in a cell of columns and rows. */

/* On a grid from element to element: one division at the start, none on the way. */
struct grid_walk {
    const struct dia_grid *grid;
    uint16_t run, at, length; /* number of the row (or column), place in it, and how long it is */
};

struct grid_walk dia_grid_walk_from(const struct dia_grid *grid, uint16_t i);

static inline void grid_walk_on(struct grid_walk *walk)
{
    if (++walk->at == walk->length) {
        walk->at = 0;
        walk->run++;
    }
}

struct dia_cell dia_grid_walk_cell(const struct grid_walk *walk);

/* Bounds of so many columns and rows, of which the middle and the reach are worked out too. */
void dia_cells_bounds(const struct dia_surface *surface, uint16_t columns, uint16_t rows,
                      struct dia_bounds *bounds);

static inline struct dia_point cells_point(const struct dia_surface *surface, struct dia_cell cell)
{
    struct dia_point point = {pitches_um(cell.column, surface->pitch_um),
                              pitches_um(cell.row, surface->pitch_um)};
    return point;
}

/* The share of a column (or a row) of so many. */
static inline uint16_t cells_share(uint16_t at, uint32_t step)
{
    return (uint16_t)((at * step + 0x8000u) >> 16);
}

/* A surface of so many cells, all but its layout; DIA_BAD_VALUE when it is too large. */
enum dia_status dia_cells_surface(struct dia_surface *surface, uint16_t columns, uint16_t rows,
                                  int32_t pitch_um);

#endif
