/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_LAYOUT_H
#define DIACHROME_LAYOUT_H

#include <stdint.h>

#include "colour.h"
#include "grid.h"
#include "config.h"
#include "linkage.h"
#include "status.h"
#include "surface.h"

DIA_BEGIN

/*
 * Surfaces that are no straight line. What they are made of (a grid, a ring, ...) belongs to the
 * caller, who keeps it as long as the surface.
 *
 *   struct dia_grid grid;
 *   struct dia_surface wall, rings;
 *   dia_grid_init(&grid, 16, 8);
 *   dia_surface_grid(&wall, &grid, 10000);
 *   rings = dia_surface_along(wall, DIA_RADIUS);
 *   dia_chase_render(&chase, &rings, ms, 0, wall.count, pixels);
 *
 * Where an element lies is worked out when it is asked for and takes no memory. Where that is too
 * slow (radius and angle cost a root or a division an element), dia_places_keep() keeps a
 * coordinate: 2 bytes an element for each one kept.
 *
 * Stretches: to run looks along a part of a device, give the part a surface of its own and render
 * it into the frame where it begins. Joined devices: give all of them one surface, and render for
 * each device the stretch of elements that is its own. Both need nothing more.
 *
 * Cost: one pass over the elements asked for. On an ATmega328P x of a grid takes 180 cycles an
 * element, radius and angle 1,450: dia_places_keep works them out once. A surface of points goes
 * through them twice when it is made.
 * Context: any; threads may work at once on objects of their own.
 */

/* What a surface reaches over. Places are those of the middle of elements. */
struct dia_bounds {
    int32_t left_um, top_um;     /* of the leftmost and of the topmost element */
    int32_t width_um, height_um; /* to the other end, and one pitch more */
    int32_t middle_x_um, middle_y_um;
    int32_t reach_um;  /* from the middle to the element furthest from it, 1 or more */
    int32_t length_um; /* of DIA_ALONG */
};

/* A way to lie. */
struct dia_layout {
    /* where elements first .. first + n - 1 lie */
    void (*points)(const struct dia_surface *surface, uint32_t first, uint32_t n,
                   struct dia_point *out);
    void (*bounds)(const struct dia_surface *surface, struct dia_bounds *bounds);
    /* coordinates as dia_surface_shares has them, where there is a quicker way than by points; 0:
       not for this axis. NULL: for none */
    int (*shares)(const struct dia_surface *surface, enum dia_axis axis, uint32_t first, uint32_t n,
                  uint16_t *out);
};

/* Of any surface, lines too. Several points at once cost less than one by one: on a grid, no
 * division for each. */
struct dia_point dia_surface_point(const struct dia_surface *surface, uint32_t i);
void dia_surface_points(const struct dia_surface *surface, uint32_t first, uint32_t n,
                        struct dia_point *out);
void dia_surface_bounds(const struct dia_surface *surface, struct dia_bounds *bounds);

/* Length of a coordinate in micrometres, 1 or more: of DIA_RADIUS the reach, of DIA_ANGLE the way
 * round at the reach, of DIA_SIDE and DIA_INDEX count * pitch. */
int32_t dia_surface_extent_um(const struct dia_surface *surface, enum dia_axis axis);

/*
 * A coordinate of elements first .. first + n - 1 as 65536ths of its extent, n of them into out.
 * x of the leftmost element is 0; an angle of 16384 is to the right.
 */
void dia_surface_shares(const struct dia_surface *surface, enum dia_axis axis, uint32_t first,
                        uint32_t n, uint16_t *out);

/* ---- ring: element 0 straight up, on clockwise as seen from the front ----------------------- */
struct dia_ring {
    int32_t diameter_um; /* through the middle of the elements */
    uint8_t reversed;    /* 1: on anticlockwise */
};
/* DIA_BAD_VALUE when there are no elements, the diameter is not 1 um to 600 m, or elements would be
 * less than 1 um apart. */
enum dia_status dia_surface_ring(struct dia_surface *surface, const struct dia_ring *ring,
                                 uint32_t count);

/* ---- folded line: there and back, so that both sides move together --------------------------- */
struct dia_fold {
    uint32_t there; /* elements on the way there; the others come back, beginning beside its end */
    int32_t gap_um; /* from one side to the other */
};
/* DIA_BAD_VALUE when there are more elements on the way back than there, or none at all. */
enum dia_status dia_surface_fold(struct dia_surface *surface, const struct dia_fold *fold,
                                 uint32_t count, int32_t pitch_um);

/* ---- grid ------------------------------------------------------------------------------------ */
/* DIA_BAD_VALUE when there are no elements or more than 65535, the pitch is not 1 um to 16 m, or
 * width and height together are more than 2147 m. */
enum dia_status dia_surface_grid(struct dia_surface *surface, const struct dia_grid *grid,
                                 int32_t pitch_um);

/* ---- wall: panels that are alike, each turned as it may be, in a larger grid ------------------
 */
struct dia_wall_place {
    uint8_t column, row; /* of the larger grid, in panels */
    uint8_t turn;        /* quarter turns clockwise, 0..3 */
};
struct dia_wall {
    struct dia_grid panel;               /* of one panel, as it lies unturned */
    uint8_t columns, rows;               /* of the larger grid, in panels */
    uint8_t count;                       /* panels */
    const struct dia_wall_place *places; /* in the order of the wire */
};
/* DIA_BAD_VALUE when a panel lies outside, when one that is not square is turned by a quarter or
 * three, when there are none, or more than 65535 elements. */
enum dia_status dia_surface_wall(struct dia_surface *surface, const struct dia_wall *wall,
                                 int32_t pitch_um);

/* ---- places: points in any order, and coordinates that are kept -------------------------------
 */
struct dia_places {
    const struct dia_point *points;   /* NULL where every coordinate in use is kept */
    const uint16_t *shares[DIA_AXES]; /* by axis; NULL: not kept */
    struct dia_bounds bounds;
};
/*
 * A surface of points in the order of the wire, all within 500 m. pitch_um is the distance that
 * looks take for that of neighbours. Places are filled in; the points stay the caller's, and may
 * change no more. DIA_BAD_VALUE when there are none, a point is further out, or pitch is not 1 or
 * more.
 */
enum dia_status dia_surface_places(struct dia_surface *surface, struct dia_places *places,
                                   const struct dia_point *points, uint32_t count,
                                   int32_t pitch_um);

/*
 * Keeps a coordinate of any surface in `memory` (2 bytes an element). `kept` is the surface that
 * uses it, and may be `from` itself where that has places already; `places` is what it is made of.
 */
void dia_places_keep(struct dia_surface *kept, struct dia_places *places,
                     const struct dia_surface *from, enum dia_axis axis, uint16_t *memory);

/* ---- gaps: elements on the wire that have no place --------------------------------------------
 */

/*
 * Makes room in a frame for elements that stay dark: pixels holds count elements, the first
 * count - n of which have been rendered; they move to where they are on the wire. gaps has n
 * numbers below count, in rising order.
 */
void dia_gaps_open(struct dia_rgb *pixels, uint32_t count, const uint16_t *gaps, uint32_t n);

DIA_END

#endif
