/* SPDX-License-Identifier: MIT */
/* proof: small: -eva-precision 2 -eva-split-return-function any_surface:full,any_grid:full
   -eva-slevel-function run_on_layout:60,dia_surface_shares:60,dia_surface_wall:300,any_surface:100
 */
#include "proof.h"

/* Surfaces of every kind, each with every coordinate. */

static void asked(const struct dia_surface *surface, int kind)
{
    static struct dia_point at[MOST];
    static uint16_t shares[MOST], kept[MOST];
    static uint32_t values[MOST];
    struct dia_places keeps;
    struct dia_surface keeper;
    struct dia_bounds bounds;
    const uint32_t n = MOST;
    uint32_t first = (uint32_t)any(0, (int32_t)surface->count - 1);
    dia_surface_bounds(surface, &bounds);
    dia_surface_point(surface, first);
    dia_surface_px_um(surface, any(INT32_MIN, INT32_MAX));
    dia_surface_part_um(surface, any(INT32_MIN, INT32_MAX));
    if (kind == A_LINE)
        dia_surface_place_um(surface, first);
    if (first + n > surface->count)
        return;
    dia_surface_points(surface, first, n, at);
    for (int axis = DIA_ALONG; axis <= DIA_INDEX; axis++) {
        struct dia_surface along = dia_surface_along(*surface, (enum dia_axis)axis);
        struct dia_ramp ramp;
        dia_surface_length_um(&along);
        dia_surface_extent_um(&along, (enum dia_axis)axis);
        dia_surface_shares(&along, (enum dia_axis)axis, first, n, shares);
        dia_ramp_init(&ramp, &along, Frama_C_unsigned_long_interval(0, UINT64_MAX), any_number());
        dia_ramp_run(&ramp, first, n, values);
    }
    if (surface->count == MOST)
        dia_places_keep(&keeper, &keeps, surface, (enum dia_axis)any(DIA_ALONG, DIA_INDEX), kept);
}

static void grids(void)
{
    struct dia_grid grid;
    if (any_grid(&grid) != DIA_OK)
        return;
    uint16_t column = (uint16_t)any(0, grid.columns - 1), row = (uint16_t)any(0, grid.rows - 1);
    dia_grid_element(&grid, column, row);
    dia_grid_cell(&grid, (uint16_t)any(0, UINT16_MAX));
    dia_grid_turned(&grid);
    dia_grid_mirrored(&grid);
}

static void gaps(void)
{
    static struct dia_rgb pixels[100];
    static uint16_t rising[5];
    for (int i = 0; i < 5; i++)
        rising[i] = (uint16_t)any(20 * i, 20 * i + 19);
    ANY(pixels);
    dia_gaps_open(pixels, 100, rising, 5);
}

static void of_kind(int kind)
{
    struct dia_surface surface;
    if (any_surface(&surface, kind) == DIA_OK)
        asked(&surface, kind);
}

int main(void)
{
    of_kind(A_LINE);
    of_kind(A_RING);
    of_kind(A_FOLD);
    of_kind(A_GRID);
    of_kind(A_WALL);
    of_kind(PLACES);
    grids();
    gaps();
    return 0;
}
