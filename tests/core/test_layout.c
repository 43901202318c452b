/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <math.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/layout.h>
#include <diachrome/look.h>

#define MOST 600

/* A coordinate worked out in double from the points alone. */
static double expected(const struct dia_surface *surface, enum dia_axis axis, uint32_t i)
{
    struct dia_bounds b;
    struct dia_point p = dia_surface_point(surface, i);
    dia_surface_bounds(surface, &b);
    double x = p.x_um - b.middle_x_um, y = p.y_um - b.middle_y_um;
    switch (axis) {
    case DIA_X:
        return (double)(p.x_um - b.left_um) / b.width_um;
    case DIA_Y:
        return (double)(p.y_um - b.top_um) / b.height_um;
    case DIA_RADIUS:
        return hypot(x, y) / b.reach_um;
    case DIA_ANGLE:
        return x == 0 && y == 0 ? 0 : atan2(x, -y) / (2 * acos(-1)) + (x < 0);
    default:
        return (double)i / surface->count;
    }
}

/* in parts of 65536; an angle may be on the other side of straight up */
static double off(uint16_t share, double exact, enum dia_axis axis)
{
    double by = fabs(share - exact * 65536);
    return axis == DIA_ANGLE && by > 32768 ? 65536 - by : by;
}

/* x, y, radius, angle and index follow from where elements are, whatever the layout. */
static void coordinates_follow_from(const struct dia_surface *surface, double tolerance)
{
    static const enum dia_axis axes[] = {DIA_X, DIA_Y, DIA_RADIUS, DIA_ANGLE, DIA_INDEX};
    struct dia_bounds bounds;
    dia_surface_bounds(surface, &bounds);
    for (size_t k = 0; k < sizeof axes / sizeof axes[0]; k++) {
        uint16_t all[MOST], one;
        dia_surface_shares(surface, axes[k], 0, surface->count, all);
        for (uint32_t i = 0; i < surface->count; i++) {
            struct dia_point p = dia_surface_point(surface, i);
            int near = hypot(p.x_um - bounds.middle_x_um, p.y_um - bounds.middle_y_um) <
                       bounds.reach_um / 16.0; /* so near the middle an angle means little */
            if (axes[k] != DIA_ANGLE || !near)
                assert_true(off(all[i], fmin(expected(surface, axes[k], i), 65535 / 65536.0),
                                axes[k]) <= tolerance);
            dia_surface_shares(surface, axes[k], i, 1, &one);
            assert_int_equal(one, all[i]);
        }
    }
}

static void lines_rings_and_folds_have_their_coordinates(void **state)
{
    (void)state;
    struct dia_surface surface;
    struct dia_ring ring = {66000, 0};
    struct dia_fold fold = {30, 40000};
    assert_int_equal(dia_surface_line(&surface, 100, 5000, 10000), DIA_OK);
    coordinates_follow_from(&surface, 24);
    assert_int_equal(dia_surface_ring(&surface, &ring, 24), DIA_OK);
    coordinates_follow_from(&surface, 24);
    ring.reversed = 1;
    coordinates_follow_from(&surface, 24);
    assert_int_equal(dia_surface_fold(&surface, &fold, 59, 10000), DIA_OK);
    coordinates_follow_from(&surface, 24);
    assert_int_equal(dia_surface_line(&surface, 1, 0, 10000), DIA_OK);
    coordinates_follow_from(&surface, 24);
}

/* By hand: of four elements one is up, the next to the right, and so on; 66 mm times pi round. */
static void a_ring_begins_at_the_top_and_goes_clockwise(void **state)
{
    (void)state;
    struct dia_ring ring = {66000, 0};
    struct dia_surface surface;
    uint16_t angle[4];
    assert_int_equal(dia_surface_ring(&surface, &ring, 4), DIA_OK);
    assert_in_range(dia_surface_length_um(&surface), 207340, 207346);
    static const struct dia_point by_hand[] = {{0, -33000}, {33000, 0}, {0, 33000}, {-33000, 0}};
    dia_surface_shares(&surface, DIA_ANGLE, 0, 4, angle);
    for (uint32_t i = 0; i < 4; i++) {
        struct dia_point p = dia_surface_point(&surface, i);
        assert_true(abs(p.x_um - by_hand[i].x_um) <= 10 && abs(p.y_um - by_hand[i].y_um) <= 10);
        assert_int_equal(angle[i], i * 16384);
    }
    ring.reversed = 1;
    assert_true(dia_surface_point(&surface, 1).x_um < -32000);
    assert_int_equal(dia_surface_ring(&surface, &ring, 0), DIA_BAD_VALUE);
    ring.diameter_um = 0;
    assert_int_equal(dia_surface_ring(&surface, &ring, 4), DIA_BAD_VALUE);
}

/* The two sides of a railing move together: element 29 and 30 are at its far end, 0 and 59 at the
 * near one. */
static void a_folded_line_moves_together_on_both_sides(void **state)
{
    (void)state;
    struct dia_fold fold = {30, 40000};
    struct dia_surface surface;
    struct dia_chase chase;
    struct dia_rgb out[60];
    uint16_t side[60];
    dia_chase_defaults(&chase);
    assert_int_equal(dia_surface_fold(&surface, &fold, 60, 16700), DIA_OK);
    assert_int_equal(dia_surface_length_um(&surface), 30 * 16700);
    dia_surface_shares(&surface, DIA_SIDE, 0, 60, side);
    for (uint32_t ms = 0; ms < 5000; ms += 333) {
        dia_chase_render(&chase, &surface, ms, 0, 60, out);
        for (int i = 0; i < 30; i++)
            assert_memory_equal(&out[i], &out[59 - i], 3);
    }
    for (int i = 0; i < 60; i++)
        assert_int_equal(side[i], i < 30 ? 0 : 32768);
    fold.there = 29; /* more would come back than went */
    assert_int_equal(dia_surface_fold(&surface, &fold, 60, 16700), DIA_BAD_VALUE);
}

static void grids_of_every_wiring_have_their_coordinates(void **state)
{
    (void)state;
    uint32_t seed = 5;
    for (int k = 0; k < 200; k++) {
        struct dia_grid grid;
        struct dia_surface surface;
        uint16_t w = (uint16_t)(1 + random_below(&seed, 20)),
                 h = (uint16_t)(1 + random_below(&seed, 20));
        assert_int_equal(dia_grid_init(&grid, w, h), DIA_OK);
        uint8_t way = (uint8_t)random_below(&seed, 16);
        grid.wiring = (struct dia_wiring){way >> 2, way & 1, way >> 1 & 1};
        assert_int_equal(
            dia_surface_grid(&surface, &grid, (int32_t)(1000 + random_below(&seed, 90000))),
            DIA_OK);
        coordinates_follow_from(&surface, 40);
        for (uint16_t i = 0; i < surface.count; i++) {
            struct dia_cell cell = dia_grid_cell(&grid, i);
            struct dia_point p = dia_surface_point(&surface, i);
            assert_int_equal(p.x_um, cell.column * surface.pitch_um);
            assert_int_equal(p.y_um, cell.row * surface.pitch_um);
        }
    }
}

/* By hand: two panels of 2 x 2 beside each other, the second turned a quarter clockwise, so that
 * its top left corner is at the top right. */
static void panels_may_each_be_turned(void **state)
{
    (void)state;
    static const struct dia_wall_place places[] = {{0, 0, 0}, {1, 0, 1}};
    struct dia_wall panels = {{2, 2, {DIA_TOP_LEFT, 0, 0}}, 2, 1, 2, places};
    struct dia_surface surface;
    assert_int_equal(dia_surface_wall(&surface, &panels, 10), DIA_OK);
    assert_int_equal(surface.count, 8);
    static const struct dia_point by_hand[] = {{0, 0},  {10, 0},  {0, 10}, {10, 10},
                                               {30, 0}, {30, 10}, {20, 0}, {20, 10}};
    uint16_t side[8];
    dia_surface_shares(&surface, DIA_SIDE, 0, 8, side);
    for (uint32_t i = 0; i < 8; i++) {
        struct dia_point p = dia_surface_point(&surface, i);
        assert_memory_equal(&p, &by_hand[i], sizeof p);
        assert_int_equal(side[i], i < 4 ? 0 : 32768);
    }
    /* every place is taken once, whatever the turns */
    uint32_t seed = 3;
    for (int k = 0; k < 50; k++) {
        struct dia_wall_place many[6];
        struct dia_wall wall = {
            {4, 4, {(uint8_t)random_below(&seed, 4), k & 1, k >> 1 & 1}}, 3, 2, 6, many};
        int taken[12 * 8] = {0};
        for (uint8_t t = 0; t < 6; t++)
            many[t] = (struct dia_wall_place){t % 3, t / 3, (uint8_t)random_below(&seed, 4)};
        assert_int_equal(dia_surface_wall(&surface, &wall, 1000), DIA_OK);
        coordinates_follow_from(&surface, 40);
        for (uint32_t i = 0; i < 96; i++) {
            struct dia_point p = dia_surface_point(&surface, i);
            taken[p.y_um / 1000 * 12 + p.x_um / 1000]++;
        }
        for (int c = 0; c < 96; c++)
            assert_int_equal(taken[c], 1);
    }
    panels.panel.columns = 3; /* not square, and turned by a quarter */
    assert_int_equal(dia_surface_wall(&surface, &panels, 10), DIA_BAD_VALUE);
    panels = (struct dia_wall){
        {2, 2, {DIA_TOP_LEFT, 0, 0}}, 1, 1, 2, places}; /* the second lies outside */
    assert_int_equal(dia_surface_wall(&surface, &panels, 10), DIA_BAD_VALUE);
}

/* One panel at a place, as wide and high as said: none, too many elements or columns, outside,
 * turned further than there is; and the largest that is right. */
static void a_wall_holds_65535_elements(void **state)
{
    (void)state;
    static const struct {
        uint16_t columns, rows;
        uint8_t across, down, count;
        struct dia_wall_place place;
        enum dia_status status;
    } walls[] = {{2, 2, 1, 1, 0, {0, 0, 0}, DIA_BAD_VALUE},
                 {256, 256, 1, 1, 1, {0, 0, 0}, DIA_BAD_VALUE},
                 {300, 1, 255, 1, 1, {0, 0, 0}, DIA_BAD_VALUE},
                 {1, 300, 1, 255, 1, {0, 0, 0}, DIA_BAD_VALUE},
                 {2, 2, 1, 1, 1, {0, 1, 0}, DIA_BAD_VALUE},
                 {2, 2, 1, 1, 1, {1, 0, 0}, DIA_BAD_VALUE},
                 {2, 2, 1, 1, 1, {0, 0, 4}, DIA_BAD_VALUE},
                 {0, 2, 1, 1, 1, {0, 0, 0}, DIA_BAD_VALUE},
                 {257, 255, 1, 1, 1, {0, 0, 2}, DIA_OK}};
    struct dia_surface surface;
    for (size_t k = 0; k < sizeof walls / sizeof walls[0]; k++) {
        struct dia_wall wall = {{walls[k].columns, walls[k].rows, {DIA_TOP_LEFT, 0, 0}},
                                walls[k].across,
                                walls[k].down,
                                walls[k].count,
                                &walls[k].place};
        if (dia_surface_wall(&surface, &wall, 10) != walls[k].status)
            fail_msg("wall %d", (int)k);
    }
    assert_int_equal(surface.count, 65535);
}

/* Points anywhere; and a coordinate that is kept is the one that was worked out. */
static void points_lie_anywhere_and_coordinates_can_be_kept(void **state)
{
    (void)state;
    static struct dia_point points[MOST];
    static uint16_t radius[MOST], again[MOST];
    struct dia_places places, kept;
    struct dia_surface surface, quick;
    uint32_t seed = 11;
    for (int k = 0; k < 20; k++) {
        uint32_t wide = 1u << (12 + k % 18);
        for (int i = 0; i < MOST; i++)
            points[i] = (struct dia_point){(int32_t)random_below(&seed, wide) - (int32_t)(wide / 2),
                                           (int32_t)random_below(&seed, wide / 2)};
        assert_int_equal(dia_surface_places(&surface, &places, points, MOST, 10), DIA_OK);
        coordinates_follow_from(&surface, 40);
        dia_places_keep(&quick, &kept, &surface, DIA_RADIUS, radius);
        dia_surface_shares(&surface, DIA_RADIUS, 0, MOST, again);
        assert_memory_equal(radius, again, sizeof radius);
        dia_surface_shares(&quick, DIA_RADIUS, 100, 50, again);
        assert_memory_equal(radius + 100, again, 100);
        assert_int_equal(dia_surface_extent_um(&quick, DIA_RADIUS), places.bounds.reach_um);
    }
    /* away from 0: the middle, and 2 pi times the reach, which is sqrt(3^2 + 4^2) = 5 mm */
    const struct dia_point away[] = {{101000, -42000}, {107000, -34000}, {104000, -38000}};
    assert_int_equal(dia_surface_places(&surface, &places, away, 3, 1000), DIA_OK);
    assert_int_equal(places.bounds.middle_x_um, 104000);
    assert_int_equal(places.bounds.middle_y_um, -38000);
    assert_in_range(dia_surface_extent_um(&surface, DIA_RADIUS), 5000, 5001);
    assert_in_range(dia_surface_extent_um(&surface, DIA_ANGLE), 31415, 31423);
    points[3].x_um = 500000001;
    assert_int_equal(dia_surface_places(&surface, &places, points, MOST, 10), DIA_BAD_VALUE);
    assert_int_equal(dia_surface_places(&surface, &places, points, 0, 10), DIA_BAD_VALUE);
}

/* A sweep over the columns is the sweep over a line of so many, and rings are alike all round. */
static void looks_run_along_any_coordinate(void **state)
{
    (void)state;
    struct dia_grid grid;
    struct dia_surface wall, line, rings;
    struct dia_hue_sweep sweep;
    struct dia_rgb on_wall[15 * 15], on_line[15];
    dia_hue_sweep_defaults(&sweep);
    assert_int_equal(dia_grid_init(&grid, 15, 15), DIA_OK);
    grid.wiring.back_and_forth = 1;
    assert_int_equal(dia_surface_grid(&wall, &grid, 10000), DIA_OK);
    assert_int_equal(dia_surface_line(&line, 15, 0, 10000), DIA_OK);
    dia_hue_sweep_render(&sweep, &line, 700, 0, 15, on_line);
    dia_hue_sweep_render(&sweep, &wall, 700, 0, 225, on_wall);
    for (uint16_t i = 0; i < 225; i++)
        assert_memory_equal(&on_wall[i], &on_line[dia_grid_cell(&grid, i).column], 3);
    rings = dia_surface_along(wall, DIA_RADIUS);
    dia_hue_sweep_render(&sweep, &rings, 700, 0, 225, on_wall);
    for (uint16_t c = 0; c < 15; c++) /* the cross through the middle, all four arms */
        assert_memory_equal(&on_wall[dia_grid_element(&grid, c, 7)],
                            &on_wall[dia_grid_element(&grid, 7, (uint16_t)(14 - c))], 3);
    assert_memory_not_equal(&on_wall[dia_grid_element(&grid, 7, 7)],
                            &on_wall[dia_grid_element(&grid, 0, 7)], 3);
}

static void gaps_stay_dark_and_the_rest_keeps_its_order(void **state)
{
    (void)state;
    static const uint16_t gaps[] = {0, 3, 4, 9};
    struct dia_rgb pixels[10];
    for (uint8_t i = 0; i < 6; i++)
        pixels[i] = (struct dia_rgb){(uint8_t)(i + 1), 0, 0};
    dia_gaps_open(pixels, 10, gaps, 4);
    static const uint8_t by_hand[] = {0, 1, 2, 0, 0, 3, 4, 5, 6, 0};
    for (int i = 0; i < 10; i++)
        assert_int_equal(pixels[i].r, by_hand[i]);
}

/* Extents that would be more than 2^31 um are the most there is, and none is below 1. */
static void the_largest_surfaces_have_extents(void **state)
{
    (void)state;
    struct dia_surface wall, alone, folded;
    struct dia_grid grid;
    struct dia_bounds bounds;
    const struct dia_ring ring = {.diameter_um = 600000000};
    struct dia_fold fold = {.there = 1, .gap_um = 1000000000};
    assert_int_equal(dia_grid_init(&grid, 120, 60), DIA_OK);
    assert_int_equal(dia_surface_grid(&wall, &grid, 10000000), DIA_OK); /* 1.2 km by 600 m */
    assert_int_equal(dia_surface_ring(&alone, &ring, 1), DIA_OK);
    assert_int_equal(dia_surface_fold(&folded, &fold, 1, 1000000000), DIA_OK);
    const struct dia_surface *surfaces[] = {&wall, &alone, &folded};
    for (int k = 0; k < 3; k++) {
        for (int axis = DIA_ALONG; axis <= DIA_SIDE; axis++)
            assert_true(dia_surface_extent_um(surfaces[k], (enum dia_axis)axis) >= 1);
        dia_surface_bounds(surfaces[k], &bounds);
        assert_true(bounds.width_um > 0 && bounds.height_um > 0 && bounds.reach_um > 0);
    }
    assert_int_equal(dia_surface_extent_um(&wall, DIA_INDEX), INT32_MAX);
    assert_int_equal(dia_surface_fold(&folded, &fold, 1, 1200000000), DIA_BAD_VALUE);
    fold.gap_um = INT32_MAX;
    assert_int_equal(dia_surface_fold(&folded, &fold, 1, 1), DIA_BAD_VALUE);
}

/* The middle of two points lies between them, so what is asked for is the direction from one to the
 * other: within two 65536ths of a turn, from the smallest distances on. */
static void angles_are_within_two(void **state)
{
    (void)state;
    for (int32_t high = 1; high <= 160; high++) {
        for (int32_t low = 0; low <= high; low++) {
            const struct dia_point points[] = {{0, 0}, {2 * low, 2 * high}, {low, high}};
            struct dia_surface surface;
            struct dia_places places;
            uint16_t angle[3];
            assert_int_equal(dia_surface_places(&surface, &places, points, 3, 10), DIA_OK);
            dia_surface_shares(&surface, DIA_ANGLE, 0, 3, angle);
            double exact = atan2(low, -high) / (2 * acos(-1));
            assert_true(off(angle[1], exact, DIA_ANGLE) <= 2);
            assert_int_equal(angle[2], 0); /* the middle itself */
        }
    }
}

/* On a line the angle is left, right, or none in the very middle. */
static void a_line_has_a_left_a_middle_and_a_right(void **state)
{
    (void)state;
    struct dia_surface line;
    uint16_t angle[5];
    for (uint32_t count = 4; count <= 5; count++) {
        assert_int_equal(dia_surface_line(&line, count, 0, 1000), DIA_OK);
        dia_surface_shares(&line, DIA_ANGLE, 0, count, angle);
        for (uint32_t i = 0; i < count; i++)
            assert_int_equal(angle[i], 2 * i + 1 < count ? 49152 : 2 * i + 1 > count ? 16384 : 0);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(angles_are_within_two),
        cmocka_unit_test(a_line_has_a_left_a_middle_and_a_right),
        cmocka_unit_test(lines_rings_and_folds_have_their_coordinates),
        cmocka_unit_test(a_ring_begins_at_the_top_and_goes_clockwise),
        cmocka_unit_test(a_folded_line_moves_together_on_both_sides),
        cmocka_unit_test(grids_of_every_wiring_have_their_coordinates),
        cmocka_unit_test(panels_may_each_be_turned),
        cmocka_unit_test(a_wall_holds_65535_elements),
        cmocka_unit_test(points_lie_anywhere_and_coordinates_can_be_kept),
        cmocka_unit_test(looks_run_along_any_coordinate),
        cmocka_unit_test(gaps_stay_dark_and_the_rest_keeps_its_order),
        cmocka_unit_test(the_largest_surfaces_have_extents),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
