/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_GRID_H
#define DIACHROME_GRID_H

#include <stdint.h>

#include "linkage.h"
#include "status.h"

DIA_BEGIN

/*
 * A grid: elements in columns (from the left) and rows (from the top), and how the chain runs
 * through them. Six bytes; where an element lies is worked out, not kept.
 *
 * Cost: on an ATmega328P 66 cycles for the element of a cell, 360 for the cell of an element.
 * Context: any; threads may work at once on objects of their own.
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

/* The same wiring on a grid that has been turned a quarter clockwise, or mirrored left to right, as
 * seen from the front. */
struct dia_grid dia_grid_turned(const struct dia_grid *grid);
struct dia_grid dia_grid_mirrored(const struct dia_grid *grid);

DIA_END

#endif
