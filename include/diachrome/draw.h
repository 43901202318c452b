/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_DRAW_H
#define DIACHROME_DRAW_H

#include <stdint.h>

#include "colour.h"
#include "fixed.h"
#include "config.h"
#include "linkage.h"
#include "surface.h"

DIA_BEGIN

/*
 * Drawings: figures on a surface of any shape. Places are micrometres from its
 * upper left corner, x to the right and y down; the leftmost and the topmost elements lie half a
 * pitch inside.
 *
 *   static const struct dia_figure figures[] = {
 *       {.kind = DIA_FIGURE_DISC, .filled = 1, .colour = {255, 200, 60},
 *        .at = {40000, 40000}, .size_um = 30000, .soft_um = 10000},
 *   };
 *   struct dia_drawing drawing = {.figures = figures, .count = 1};
 *   dia_drawing_render(&drawing, &wall, ms, 0, wall.count, pixels);
 *
 * A drawing goes over what the pixels show already, and leaves it where no figure is. As a layer
 * (see layer.h) it is rendered by dia_drawing_render.
 *
 * An element is lit by the part of it that is covered, in linear light: what moves glides, and
 * keeps its light on the way. On lamps that are on or off set `hard`: an element is then lit fully
 * or not at all.
 *
 * Cost: of a straight line only the elements that a figure reaches over, of all else every element
 * for every figure; a polygon with its edges, with a root for each. 1.2 KB of stack on an
 * ATmega328P.
 * Context: any; threads may work at once on objects of their own.
 */
enum dia_figure_kind {
    DIA_FIGURE_POINT,     /* a pitch wide and high, around `at` */
    DIA_FIGURE_LINE,      /* from `at` to `to`, width_um wide */
    DIA_FIGURE_RECTANGLE, /* from the corner `at` to the corner `to` */
    DIA_FIGURE_DISC,      /* around `at`, of radius size_um */
    DIA_FIGURE_POLYGON,   /* through `corners`; what is inside an odd number of times is filled */
    DIA_FIGURE_SPRITE     /* `sprite`, with its upper left corner at `at` */
};

/* A small picture of cells. */
struct dia_sprite {
    uint8_t columns, rows;        /* 1..255 */
    uint8_t pictures;             /* that take turns, 1..255 */
    uint16_t each_ms;             /* how long each shows, where there are several */
    const DIA_ROM uint8_t *cells; /* row after row, picture after picture: 0 shows what is
                                     below, k colour k - 1 */
    const DIA_ROM struct dia_rgb *colours;
};

#define DIA_CORNERS_MAX 16
struct dia_figure {
    uint8_t kind;   /* enum dia_figure_kind */
    uint8_t filled; /* 0: of a rectangle, disc or polygon, only the outline, inside its edge */
    uint8_t hard;   /* 1: an element is covered or not, by its middle; soft_um does not count */
    struct dia_rgb colour;
    struct dia_point at, to; /* within 500 m */
    int32_t size_um;         /* radius of a disc, edge of a sprite's cell (0: a pitch) */
    int32_t width_um;        /* of a line or an outline; 0: a pitch */
    int32_t soft_um; /* how wide the edge fades out, half of it outside: rounded to whole pitches,
                        one at least */
    const struct dia_point *corners; /* of a polygon, 3..DIA_CORNERS_MAX */
    uint8_t corner_count;
    const struct dia_sprite *sprite;
};

/* The corners of a regular polygon, n of them clockwise, the first straight above the middle but
 * for how far all of it is turned. Within a 4000th of the radius. */
void dia_corners_regular(struct dia_point *corners, uint8_t n, struct dia_point middle,
                         int32_t radius_um, dia_phase turned);

enum { DIA_MIRROR_X = 1, DIA_MIRROR_Y = 2 };

struct dia_drawing {
    const struct dia_figure *figures; /* the later over the earlier */
    uint8_t count;
    uint8_t mirror;         /* left and right, above and below exchanged: of DIA_MIRROR_ */
    struct dia_point shift; /* where its 0, 0 comes to lie */
    int32_t speed_x_um_s, speed_y_um_s; /* it scrolls, within 10 m/s; see every */
    /* copies: it comes again at such distances, cut off there; 0: once, or where it scrolls, at the
       length of the surface */
    uint32_t every_x_um, every_y_um;
};

/* Draws on elements first .. first + n - 1 of a surface, n of them in out. */
void dia_drawing_render(const void *drawing, const struct dia_surface *surface, uint32_t ms,
                        uint32_t first, uint32_t n, struct dia_rgb *out);

DIA_END

#endif
