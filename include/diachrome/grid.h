/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_GRID_H
#define DIACHROME_GRID_H

#include <stdint.h>

#include "linkage.h"
#include "status.h"

DIA_BEGIN

/*
 * A grid: elements in columns (from the left) and rows (from the top), and how the chain runs
 * through them. Eight bytes; where an element lies is worked out, not kept.
 *
 *   struct dia_grid grid;
 *   dia_grid_init(&grid, 16, 8);
 *   grid.wiring.first = DIA_BOTTOM_LEFT;
 *   grid.wiring.back_and_forth = 1;
 *
 * Cost: on an ATmega328P 66 cycles for the element of a cell, 360 for the cell of an element.
 * Context: any; threads may work at once on objects of their own.
 */
enum dia_corner { DIA_TOP_LEFT, DIA_TOP_RIGHT, DIA_BOTTOM_LEFT, DIA_BOTTOM_RIGHT };

struct dia_wiring {
    uint8_t first;          /* enum dia_corner, where element 0 is */
    uint8_t along_columns;  /* 1: the chain runs along columns; else along rows */
    uint8_t back_and_forth; /* 1: every other run goes back; else all go the same way */
};

struct dia_grid {
    uint16_t columns, rows; /* 1 or more each, at most 65535 elements together */
    struct dia_wiring wiring;
};

/* Row by row from the top left, until its wiring is set. DIA_BAD_VALUE (and grid untouched) when
 * there are no elements or too many. */
enum dia_status dia_grid_init(struct dia_grid *grid, uint16_t columns, uint16_t rows);

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
