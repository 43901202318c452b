/* SPDX-License-Identifier: MIT */
#ifndef TESTS_PROOF_H
#define TESTS_PROOF_H

#include <__fc_builtin.h>
#include <stddef.h>
#include <stdint.h>

#include <diachrome/diachrome.h>

/* Any number of a range: what is proved holds for all of them. */
static inline int32_t any(int32_t low, int32_t high)
{
    return Frama_C_int_interval(low, high);
}

static inline uint32_t any_number(void)
{
    return Frama_C_unsigned_int_interval(0, UINT32_MAX);
}

static inline dia_share any_share(void)
{
    return (dia_share)any(0, DIA_SHARE_ONE);
}

/* Any bytes. */
#define ANY(object) Frama_C_make_unknown((char *)&(object), sizeof(object))

static inline struct dia_rgb any_colour(void)
{
    struct dia_rgb colour;
    ANY(colour);
    return colour;
}

/* Elements asked for at once: more than a run of a look, and not a whole number of eights. A number
 * that is known lets the analyzer follow each of them. */
#define MOST (DIA_RUN + 3u)

/* A surface of each kind, in turn, of any size; what it is made of is kept. */
enum { A_LINE, A_RING, A_FOLD, A_GRID, A_WALL, PLACES, KINDS };
static struct dia_ring a_ring;
static struct dia_fold a_fold;
static struct dia_grid a_grid;
static struct dia_wall_place wall_places[3];
static struct dia_wall a_wall;
static struct dia_point points[3];
static struct dia_places places;

static inline struct dia_wiring any_wiring(void)
{
    struct dia_wiring wiring = {(uint8_t)any(0, 3), (uint8_t)any(0, 1), (uint8_t)any(0, 1)};
    return wiring;
}

static inline enum dia_status any_grid(struct dia_grid *grid)
{
    enum dia_status status =
        dia_grid_init(grid, (uint16_t)any(0, UINT16_MAX), (uint16_t)any(0, UINT16_MAX));
    if (status == DIA_OK)
        grid->wiring = any_wiring();
    return status;
}

static inline enum dia_status any_surface(struct dia_surface *surface, int kind)
{
    uint32_t count = (uint32_t)any(0, UINT16_MAX);
    int32_t pitch_um = any(INT32_MIN, INT32_MAX);
    switch (kind) {
    case A_LINE:
        return dia_surface_line(surface, count, any(INT32_MIN, INT32_MAX), pitch_um);
    case A_RING:
        a_ring.diameter_um = any(INT32_MIN, INT32_MAX);
        a_ring.reversed = (uint8_t)any(0, 1);
        return dia_surface_ring(surface, &a_ring, count);
    case A_FOLD:
        a_fold.there = any_number();
        a_fold.gap_um = any(INT32_MIN, INT32_MAX);
        return dia_surface_fold(surface, &a_fold, count, pitch_um);
    case A_GRID:
        if (any_grid(&a_grid) != DIA_OK)
            return DIA_BAD_VALUE;
        return dia_surface_grid(surface, &a_grid, pitch_um);
    case A_WALL:
        if (any_grid(&a_wall.panel) != DIA_OK)
            return DIA_BAD_VALUE;
        ANY(wall_places);
        a_wall.columns = (uint8_t)any(0, 255);
        a_wall.rows = (uint8_t)any(0, 255);
        a_wall.count = 3;
        a_wall.places = wall_places;
        return dia_surface_wall(surface, &a_wall, pitch_um);
    default:
        ANY(points);
        return dia_surface_places(surface, &places, points, 3, pitch_um);
    }
}

/* A surface that lies in any way at all, as far as layout.h allows: what holds on it holds for
 * looks and drawings on every kind. */
#define FURTHEST_UM 1074000000

static inline void any_points(const struct dia_surface *surface, uint32_t first, uint32_t n,
                              struct dia_point *out)
{
    (void)surface;
    (void)first;
    for (uint32_t i = 0; i < n; i++) {
        out[i].x_um = any(-FURTHEST_UM, INT32_MAX);
        out[i].y_um = any(-FURTHEST_UM, INT32_MAX);
    }
}

static inline void any_bounds(const struct dia_surface *surface, struct dia_bounds *bounds)
{
    (void)surface;
    bounds->left_um = any(-FURTHEST_UM, INT32_MAX);
    bounds->top_um = any(-FURTHEST_UM, INT32_MAX);
    bounds->middle_x_um = any(-FURTHEST_UM, INT32_MAX);
    bounds->middle_y_um = any(-FURTHEST_UM, INT32_MAX);
    bounds->width_um = any(1, INT32_MAX);
    bounds->height_um = any(1, INT32_MAX);
    bounds->reach_um = any(1, INT32_MAX);
    bounds->length_um = any(1, INT32_MAX);
}

static inline int any_shares(const struct dia_surface *surface, enum dia_axis axis, uint32_t first,
                             uint32_t n, uint16_t *out)
{
    (void)surface;
    (void)axis;
    (void)first;
    for (uint32_t i = 0; i < n; i++)
        out[i] = (uint16_t)any(0, UINT16_MAX);
    return 1;
}

static const struct dia_layout any_layout = {any_points, any_bounds, any_shares};

static inline struct dia_surface any_way(void)
{
    struct dia_surface surface = {
        (uint32_t)any(MOST, UINT16_MAX),   0, any(1, INT32_MAX), &any_layout, NULL,
        (uint8_t)any(DIA_ALONG, DIA_INDEX)};
    return surface;
}

#endif
