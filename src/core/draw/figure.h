/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_FIGURE_H
#define DIA_CORE_FIGURE_H

#include <diachrome/draw.h>

/*
 * A figure made ready for many elements: moved to its middle, and in units that make products fit
 * 32 bits. Its whole size is 14 bits of them, so edges are right to a 16384th of its size.
 */
struct figure_edge {
    int16_t x, y;   /* where it begins */
    int16_t ux, uy; /* its direction, 16384 long */
    int16_t length;
};
struct figure {
    const struct dia_figure *of;
    int32_t left, top, right, bottom; /* um; beyond them it covers nothing */
    int32_t x, y;                     /* its middle, um */
    uint8_t shift;                    /* um >> shift are its units */
    int16_t half_x, half_y;           /* of a rectangle or line; of a disc, its radius */
    int16_t ux, uy;                   /* direction of a line */
    int16_t width, soft;
    uint32_t slope;     /* 2^24 / soft */
    uint32_t per_cell;  /* of a sprite: cells a unit, 23 bits below the point */
    uint8_t edge_count; /* of a polygon */
    struct figure_edge edge[DIA_CORNERS_MAX];
};

void dia_figure_make(struct figure *figure, const struct dia_figure *of,
                     const struct dia_surface *surface);

/* How much of an element at a place is covered, 0..65535; not of a sprite. */
uint16_t dia_figure_cover(const struct figure *figure, int32_t x_um, int32_t y_um);

/* Which cell of a sprite is at a place, row after row; -1: none. */
int32_t dia_figure_cell(const struct figure *figure, int32_t x_um, int32_t y_um);

#endif
