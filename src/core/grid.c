/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/grid.h>

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

struct dia_cell dia_grid_cell(const struct dia_grid *grid, uint16_t i)
{
    uint8_t by_column = grid->way & DIA_GRID_BY_COLUMN;
    uint16_t runs = by_column ? grid->columns : grid->rows;
    uint16_t length = by_column ? grid->rows : grid->columns;
    uint16_t run = i / length, at = i % length;
    if (goes_back(grid, run))
        at = (uint16_t)(length - 1u - at);
    if (grid->way & (by_column ? DIA_GRID_RIGHT : DIA_GRID_BOTTOM))
        run = (uint16_t)(runs - 1u - run);
    struct dia_cell along_row = {at, run}, along_column = {run, at};
    return by_column ? along_column : along_row;
}

static void turn_round(struct dia_rgb *pixels, uint16_t n)
{
    for (struct dia_rgb *last = pixels + n - 1; pixels < last; pixels++, last--) {
        struct dia_rgb kept = *pixels;
        *pixels = *last;
        *last = kept;
    }
}

/* The first row is rendered where it belongs, and copied to the others. */
static void along_rows(const struct dia_grid *grid, struct dia_rgb *out)
{
    uint16_t n = grid->columns;
    if (goes_back(grid, 0))
        turn_round(out, n);
    for (uint16_t k = 1; k < grid->rows; k++) {
        struct dia_rgb *run = out + (uint32_t)k * n;
        memcpy(run, run - n, n * sizeof *run);
        if (grid->way & DIA_GRID_SERPENTINE)
            turn_round(run, n);
    }
}

/*
 * The colours of the columns stand at the end of out, and each fills its column from the front.
 * Column k ends at (k + 1) * rows, which is never behind what is still to be read: the colours of
 * the columns after it begin at columns * rows - columns + k + 1.
 */
static void along_columns(const struct dia_grid *grid, struct dia_rgb *out)
{
    const struct dia_rgb *colours = out + (uint32_t)grid->columns * (grid->rows - 1u);
    for (uint16_t k = 0; k < grid->columns; k++) {
        struct dia_rgb colour = colours[k];
        for (uint16_t i = 0; i < grid->rows; i++)
            *out++ = colour;
    }
}

void dia_grid_render(const struct dia_grid *grid, const struct dia_surface *columns,
                     const DIA_ROM struct dia_look *look, const void *values, uint32_t ms,
                     struct dia_rgb *out)
{
    if (grid->way & DIA_GRID_BY_COLUMN) {
        struct dia_rgb *colours = out + (uint32_t)grid->columns * (grid->rows - 1u);
        look->render(values, columns, ms, 0, grid->columns, colours);
        if (grid->way & DIA_GRID_RIGHT)
            turn_round(colours, grid->columns);
        along_columns(grid, out);
    } else {
        look->render(values, columns, ms, 0, grid->columns, out);
        along_rows(grid, out);
    }
}
