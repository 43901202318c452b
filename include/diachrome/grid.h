/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_GRID_H
#define DIACHROME_GRID_H

#include <stdint.h>

#include "look.h"
#include "status.h"
#include "surface.h"

/*
 * A grid: elements in columns (from the left) and rows (from the top), and how the chain runs
 * through them. Six bytes; where an element lies is worked out, not kept.
 */
enum {
    DIA_GRID_BY_ROW = 0,
    DIA_GRID_BY_COLUMN = 1,  /* the chain runs along columns, else along rows */
    DIA_GRID_SERPENTINE = 2, /* every other run goes back, else all go the same way */
    DIA_GRID_RIGHT = 4,      /* element 0 is in the last column, else in the first */
    DIA_GRID_BOTTOM = 8      /* element 0 is in the last row, else in the first */
};

struct dia_grid {
    uint16_t columns, rows; /* 1 or more each, at most 65535 elements together */
    uint8_t way;            /* DIA_GRID_ values, added */
};

/* DIA_BAD_VALUE (and grid untouched) when there are no elements or too many, or way is unknown. */
enum dia_status dia_grid_init(struct dia_grid *grid, uint16_t columns, uint16_t rows, uint8_t way);

/* Which element lies at a column and a row (both inside the grid). */
uint16_t dia_grid_element(const struct dia_grid *grid, uint16_t column, uint16_t row);

/* Where element i lies. */
struct dia_cell {
    uint16_t column, row;
};
struct dia_cell dia_grid_cell(const struct dia_grid *grid, uint16_t i);

/*
 * Renders a look on a grid, into out for all its elements in the order of the chain. The look
 * runs along the columns, a line of grid->columns elements; all elements of a column show the
 * same. It is rendered once for the whole grid.
 */
void dia_grid_render(const struct dia_grid *grid, const struct dia_surface *columns,
                     const DIA_ROM struct dia_look *look, const void *values, uint32_t ms,
                     struct dia_rgb *out);

#endif
