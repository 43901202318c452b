/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <math.h>

#include <diachrome/path.h>

static double apart(struct dia_point a, struct dia_point b)
{
    return hypot((double)a.x_um - b.x_um, (double)a.y_um - b.y_um);
}

static void it_is_where_its_time_says(void **state)
{
    (void)state;
    /* 3, 4, 5: 50 mm, then 30 mm down; 80 mm in 8 s */
    static const struct dia_point points[] = {{10000, 5000}, {50000, 35000}, {50000, 65000}};
    struct dia_path path = {.points = points, .count = 3, .over_ms = 8000, .end = DIA_PATH_STAYS};
    static const struct {
        uint32_t ms;
        int32_t x_um, y_um;
    } known[] = {{0, 10000, 5000},     {2500, 30000, 20000}, {5000, 50000, 35000},
                 {6500, 50000, 50000}, {8000, 50000, 65000}, {999999, 50000, 65000}};
    for (size_t k = 0; k < sizeof known / sizeof known[0]; k++) {
        struct dia_point at = dia_path_at(&path, known[k].ms);
        assert_true(apart(at, (struct dia_point){known[k].x_um, known[k].y_um}) <= 12);
    }
    assert_in_range(dia_path_length_um(&path), 79900, 80100);
    path.end = DIA_PATH_AGAIN;
    assert_true(apart(dia_path_at(&path, 8000 + 2500), (struct dia_point){30000, 20000}) < 30);
    path.end = DIA_PATH_BACK;
    assert_true(apart(dia_path_at(&path, 8000 + 5500), (struct dia_point){30000, 20000}) < 30);
    path.ease = &dia_ease_in; /* slowly off: less than half of the way at half of the time */
    path.end = DIA_PATH_STAYS;
    assert_true(dia_path_at(&path, 4000).x_um < 40000);
    assert_true(apart(dia_path_at(&path, 8000), points[2]) <= 12);
    path.count = 1; /* it has one place only */
    assert_true(apart(dia_path_at(&path, 1234), points[0]) == 0);
    assert_int_equal(dia_path_length_um(&path), 0);
}

/*
 * A curve goes through all of its points, without a corner, and its speed is even: of 2,000 steps
 * none is more than a fifth longer than the mean, whatever the points are.
 */
static void a_curve_is_smooth_and_goes_evenly(void **state)
{
    (void)state;
    uint32_t seed = 9;
    for (int round = 0; round < 50; round++) {
        struct dia_point points[DIA_PATH_POINTS], before;
        uint32_t count = 2 + random_below(&seed, DIA_PATH_POINTS - 1),
                 size = 1u << (8 + round % 21);
        for (uint32_t k = 0; k < count; k++)
            points[k] = (struct dia_point){(int32_t)random_below(&seed, size) - (int32_t)size / 2,
                                           (int32_t)random_below(&seed, size)};
        struct dia_path path = {.points = points,
                                .count = (uint8_t)count,
                                .curved = 1,
                                .over_ms = 200000,
                                .end = DIA_PATH_STAYS};
        double nearest[DIA_PATH_POINTS], longest = 0, length = dia_path_length_um(&path);
        for (uint32_t k = 0; k < count; k++)
            nearest[k] = 1e18;
        before = dia_path_at(&path, 0);
        for (uint32_t ms = 0; ms <= 200000; ms += 100) {
            struct dia_point at = dia_path_at(&path, ms);
            longest = fmax(longest, apart(at, before));
            before = at;
            for (uint32_t k = 0; k < count; k++)
                nearest[k] = fmin(nearest[k], apart(at, points[k]));
        }
        double unit = fmax(size / 8192.0, 1);
        assert_true(longest <= length / 2000 * 1.2 + 3 * unit);
        for (uint32_t k = 0; k < count; k++)
            assert_true(nearest[k] <= length / 2000 + 2 * unit);
    }
}

/*
 * By the formula of Catmull and Rom, worked out by hand: in the middle of two points
 * (-a + 9b + 9c - d) / 16; a quarter behind b (-9a + 111b + 29c - 3d) / 128; an eighth
 * (-49a + 987b + 93c - 7d) / 1024. Before the first point it is there once more.
 */
static void a_curve_is_that_of_catmull_and_rom(void **state)
{
    (void)state;
    static const struct dia_point points[] = {{0, 0}, {10000, 8000}, {20000, 1000}, {36000, 6000}};
    static const struct dia_point places[] = {
        {4375, 4437}, {14625, 4687}, {12359, 7023}, {11209, 7761}};
    struct dia_path path = {
        .points = points, .count = 4, .curved = 1, .over_ms = 20000, .end = DIA_PATH_STAYS};
    for (size_t k = 0; k < 4; k++) {
        double nearest = 1e9;
        for (uint32_t ms = 0; ms <= 20000; ms++)
            nearest = fmin(nearest, apart(dia_path_at(&path, ms), places[k]));
        assert_true(nearest < 10);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(it_is_where_its_time_says),
        cmocka_unit_test(a_curve_is_smooth_and_goes_evenly),
        cmocka_unit_test(a_curve_is_that_of_catmull_and_rom),
    };
    return cmocka_run_group_tests_name("path", tests, NULL, NULL);
}
