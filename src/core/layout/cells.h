/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_CELLS_H
#define DIA_CORE_CELLS_H

#include <diachrome/layout.h>

/* What grids and tiles have in common: every element is in a cell of columns and rows. */

/* Bounds of so many columns and rows, of which the middle and the reach are worked out too. */
void dia_cells_bounds(const struct dia_surface *surface, uint16_t columns, uint16_t rows,
                      struct dia_bounds *bounds);

/* The share of a column (or a row) of so many. */
static inline uint16_t cells_share(uint16_t at, uint32_t step)
{
    return (uint16_t)((at * step + 0x8000u) >> 16);
}

/* A surface of so many cells, all but its layout; DIA_BAD_VALUE when it is too large. */
enum dia_status dia_cells_surface(struct dia_surface *surface, uint16_t columns, uint16_t rows,
                                  int32_t pitch_um);

#endif
