/* SPDX-License-Identifier: MIT */
#include <diachrome/grid.h>
#include <diachrome/config.h>

#include "cells.h"

enum dia_status dia_grid_init(struct dia_grid *grid, uint16_t columns, uint16_t rows, uint8_t way)
{
    if (columns == 0 || rows == 0 || (uint32_t)columns * rows > UINT16_MAX || way > 15)
        return DIA_BAD_VALUE;
    grid->columns = columns;
    grid->rows = rows;
    grid->way = way;
    return DIA_OK;
}

/* Whether run number k (a row, or a column) goes against the direction of counting. */
static uint8_t goes_back(const struct dia_grid *grid, uint16_t k)
{
    uint8_t against = grid->way & DIA_GRID_BY_COLUMN ? DIA_GRID_BOTTOM : DIA_GRID_RIGHT;
    uint8_t back = (grid->way & against) != 0;
    if (grid->way & DIA_GRID_SERPENTINE && (k & 1u))
        back = !back;
    return back;
}

uint16_t dia_grid_element(const struct dia_grid *grid, uint16_t column, uint16_t row)
{
    uint8_t by_column = grid->way & DIA_GRID_BY_COLUMN;
    uint16_t runs = by_column ? grid->columns : grid->rows;
    uint16_t length = by_column ? grid->rows : grid->columns;
    uint16_t run = by_column ? column : row, at = by_column ? row : column;
    if (grid->way & (by_column ? DIA_GRID_RIGHT : DIA_GRID_BOTTOM))
        run = (uint16_t)(runs - 1u - run);
    if (goes_back(grid, run))
        at = (uint16_t)(length - 1u - at);
    return (uint16_t)((uint32_t)run * length + at);
}

struct grid_walk dia_grid_walk_from(const struct dia_grid *grid, uint16_t i)
{
    uint16_t length = grid->way & DIA_GRID_BY_COLUMN ? grid->rows : grid->columns;
    struct grid_walk walk = {grid, (uint16_t)(i / length), 0, length};
    walk.at = (uint16_t)(i - walk.run * length);
    return walk;
}

struct dia_cell dia_grid_walk_cell(const struct grid_walk *walk)
{
    const struct dia_grid *grid = walk->grid;
    uint8_t by_column = grid->way & DIA_GRID_BY_COLUMN;
    uint16_t runs = by_column ? grid->columns : grid->rows;
    uint16_t run = walk->run, at = walk->at;
    if (goes_back(grid, run))
        at = (uint16_t)(walk->length - 1u - at);
    if (grid->way & (by_column ? DIA_GRID_RIGHT : DIA_GRID_BOTTOM))
        run = (uint16_t)(runs - 1u - run);
    struct dia_cell along_row = {at, run}, along_column = {run, at};
    return by_column ? along_column : along_row;
}

struct dia_cell dia_grid_cell(const struct dia_grid *grid, uint16_t i)
{
    struct grid_walk walk = dia_grid_walk_from(grid, i);
    return dia_grid_walk_cell(&walk);
}

/* The corners, clockwise. */
static const DIA_ROM uint8_t corners[4] = {0, DIA_GRID_RIGHT, DIA_GRID_RIGHT | DIA_GRID_BOTTOM,
                                           DIA_GRID_BOTTOM};

struct dia_grid dia_grid_turned(const struct dia_grid *grid)
{
    struct dia_grid turned = {grid->rows, grid->columns, 0};
    uint8_t corner = 0;
    while (corners[corner] != (grid->way & (DIA_GRID_RIGHT | DIA_GRID_BOTTOM)))
        corner++;
    turned.way =
        (uint8_t)(((grid->way & (DIA_GRID_BY_COLUMN | DIA_GRID_SERPENTINE)) ^ DIA_GRID_BY_COLUMN) |
                  corners[(corner + 1u) & 3u]);
    return turned;
}

struct dia_grid dia_grid_mirrored(const struct dia_grid *grid)
{
    struct dia_grid mirrored = *grid;
    mirrored.way ^= DIA_GRID_RIGHT;
    return mirrored;
}
