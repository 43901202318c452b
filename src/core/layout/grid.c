/* SPDX-License-Identifier: MIT */
#include <diachrome/grid.h>
#include <diachrome/config.h>

#include "cells.h"

#define RIGHT  1u /* bits of a corner */
#define BOTTOM 2u

enum dia_status dia_grid_init(struct dia_grid *grid, uint16_t columns, uint16_t rows)
{
    struct dia_wiring usual = {DIA_TOP_LEFT, 0, 0};
    if (columns == 0 || rows == 0 || (uint32_t)columns * rows > UINT16_MAX)
        return DIA_BAD_VALUE;
    grid->columns = columns;
    grid->rows = rows;
    grid->wiring = usual;
    return DIA_OK;
}

/* Whether run number k (a row, or a column) goes against the direction of counting. */
static uint8_t goes_back(const struct dia_wiring *wiring, uint16_t k)
{
    uint8_t back = (wiring->first & (wiring->along_columns ? BOTTOM : RIGHT)) != 0;
    return wiring->back_and_forth && (k & 1u) ? !back : back;
}

/* Whether the runs are counted from the last column or row. */
static uint8_t from_the_last(const struct dia_wiring *wiring)
{
    return (wiring->first & (wiring->along_columns ? RIGHT : BOTTOM)) != 0;
}

uint16_t dia_grid_element(const struct dia_grid *grid, uint16_t column, uint16_t row)
{
    uint8_t by_column = grid->wiring.along_columns;
    uint16_t runs = by_column ? grid->columns : grid->rows;
    uint16_t length = by_column ? grid->rows : grid->columns;
    uint16_t run = by_column ? column : row, at = by_column ? row : column;
    if (from_the_last(&grid->wiring))
        run = (uint16_t)(runs - 1u - run);
    if (goes_back(&grid->wiring, run))
        at = (uint16_t)(length - 1u - at);
    return (uint16_t)((uint32_t)run * length + at);
}

struct grid_walk dia_grid_walk_from(const struct dia_grid *grid, uint16_t i)
{
    uint16_t length = grid->wiring.along_columns ? grid->rows : grid->columns;
    struct grid_walk walk = {grid, (uint16_t)(i / length), 0, length};
    walk.at = (uint16_t)(i - (uint32_t)walk.run * length);
    return walk;
}

struct dia_cell dia_grid_walk_cell(const struct grid_walk *walk)
{
    const struct dia_grid *grid = walk->grid;
    uint8_t by_column = grid->wiring.along_columns;
    uint16_t runs = by_column ? grid->columns : grid->rows;
    uint16_t run = walk->run, at = walk->at;
    if (goes_back(&grid->wiring, run))
        at = (uint16_t)(walk->length - 1u - at);
    if (from_the_last(&grid->wiring))
        run = (uint16_t)(runs - 1u - run);
    struct dia_cell along_row = {at, run}, along_column = {run, at};
    return by_column ? along_column : along_row;
}

struct dia_cell dia_grid_cell(const struct dia_grid *grid, uint16_t i)
{
    struct grid_walk walk = dia_grid_walk_from(grid, i);
    return dia_grid_walk_cell(&walk);
}

/* Where each corner comes to lie when the grid is turned a quarter clockwise. */
static const DIA_ROM uint8_t turned_to[4] = {DIA_TOP_RIGHT, DIA_BOTTOM_RIGHT, DIA_TOP_LEFT,
                                             DIA_BOTTOM_LEFT};

struct dia_grid dia_grid_turned(const struct dia_grid *grid)
{
    struct dia_grid turned = *grid;
    turned.columns = grid->rows;
    turned.rows = grid->columns;
    turned.wiring.first = turned_to[grid->wiring.first & 3u];
    turned.wiring.along_columns = !grid->wiring.along_columns;
    return turned;
}

struct dia_grid dia_grid_mirrored(const struct dia_grid *grid)
{
    struct dia_grid mirrored = *grid;
    mirrored.wiring.first ^= RIGHT;
    return mirrored;
}
