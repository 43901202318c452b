/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <diachrome/layout.h>

/* Worked out with a pencil: 3 columns, 2 rows; element numbers as they lie, top row first. */
static const struct {
    struct dia_wiring wiring; /* first, along columns, back and forth */
    uint16_t element[2][3];
} lies[] = {
    {{DIA_TOP_LEFT, 0, 0}, {{0, 1, 2}, {3, 4, 5}}},
    {{DIA_TOP_LEFT, 0, 1}, {{0, 1, 2}, {5, 4, 3}}},
    {{DIA_TOP_RIGHT, 0, 0}, {{2, 1, 0}, {5, 4, 3}}},
    {{DIA_BOTTOM_LEFT, 0, 0}, {{3, 4, 5}, {0, 1, 2}}},
    {{DIA_BOTTOM_RIGHT, 0, 1}, {{3, 4, 5}, {2, 1, 0}}},
    {{DIA_TOP_LEFT, 1, 0}, {{0, 2, 4}, {1, 3, 5}}},
    {{DIA_TOP_LEFT, 1, 1}, {{0, 3, 4}, {1, 2, 5}}},
    {{DIA_BOTTOM_LEFT, 1, 1}, {{1, 2, 5}, {0, 3, 4}}},
    {{DIA_TOP_RIGHT, 1, 0}, {{4, 2, 0}, {5, 3, 1}}},
};

static void elements_lie_where_a_pencil_puts_them(void **state)
{
    (void)state;
    for (size_t k = 0; k < sizeof lies / sizeof lies[0]; k++) {
        struct dia_grid grid;
        assert_int_equal(dia_grid_init(&grid, 3, 2), DIA_OK);
        grid.wiring = lies[k].wiring;
        for (uint16_t row = 0; row < 2; row++) {
            for (uint16_t column = 0; column < 3; column++)
                assert_int_equal(dia_grid_element(&grid, column, row),
                                 lies[k].element[row][column]);
        }
    }
}

/* Every cell goes where a hand that turns the panel would carry it. */
static void a_grid_can_be_turned_and_mirrored(void **state)
{
    (void)state;
    for (uint8_t way = 0; way < 16; way++) {
        struct dia_grid grid, turned, mirrored;
        assert_int_equal(dia_grid_init(&grid, 4, 3), DIA_OK);
        grid.wiring = (struct dia_wiring){way >> 2, way & 1, way >> 1 & 1};
        turned = dia_grid_turned(&grid);
        mirrored = dia_grid_mirrored(&grid);
        assert_int_equal(turned.columns, 3);
        assert_int_equal(turned.rows, 4);
        for (uint16_t i = 0; i < 12; i++) {
            struct dia_cell was = dia_grid_cell(&grid, i), is = dia_grid_cell(&turned, i);
            assert_int_equal(is.column, 2 - was.row);
            assert_int_equal(is.row, was.column);
            is = dia_grid_cell(&mirrored, i);
            assert_int_equal(is.column, 3 - was.column);
            assert_int_equal(is.row, was.row);
            assert_int_equal(dia_grid_element(&grid, was.column, was.row), i);
        }
    }
}

static void a_grid_has_elements_and_not_too_many(void **state)
{
    (void)state;
    struct dia_grid grid = {9, 9, {1, 1, 1}}, was = grid;
    assert_int_equal(dia_grid_init(&grid, 0, 2), DIA_BAD_VALUE);
    assert_int_equal(dia_grid_init(&grid, 2, 0), DIA_BAD_VALUE);
    assert_int_equal(dia_grid_init(&grid, 256, 256), DIA_BAD_VALUE);
    assert_memory_equal(&grid, &was, sizeof grid);
    assert_int_equal(dia_grid_init(&grid, 255, 257), DIA_OK);
}

/* A surface of columns and rows has at most 65535 elements, pitches of at most 16 m, and a diagonal
 * that fits. Its bounds by hand: 3 columns and 2 rows 10 mm apart; one row; one element. */
static void surfaces_of_grids_have_their_bounds(void **state)
{
    (void)state;
    static const struct {
        uint16_t columns, rows;
        int32_t pitch_um, width_um, height_um, middle_x_um, reach_um;
    } by_hand[] = {{3, 2, 10000, 30000, 20000, 10000, 11180}, /* half of the root of 20^2 + 10^2 */
                   {5, 1, 10000, 50000, 10000, 20000, 20000},
                   {1, 1, 10000, 10000, 10000, 0, 1}, /* never 0 */
                   /* half of the root of 299^2 + 199^2, which is 359.2, rounded up */
                   {300, 200, 1000, 300000, 200000, 149500, 180000}};
    for (size_t k = 0; k < sizeof by_hand / sizeof by_hand[0]; k++) {
        struct dia_grid grid;
        struct dia_surface surface;
        struct dia_bounds bounds;
        assert_int_equal(dia_grid_init(&grid, by_hand[k].columns, by_hand[k].rows), DIA_OK);
        assert_int_equal(dia_surface_grid(&surface, &grid, by_hand[k].pitch_um), DIA_OK);
        dia_surface_bounds(&surface, &bounds);
        assert_int_equal(bounds.width_um, by_hand[k].width_um);
        assert_int_equal(bounds.height_um, by_hand[k].height_um);
        assert_int_equal(bounds.middle_x_um, by_hand[k].middle_x_um);
        assert_in_range(bounds.reach_um, by_hand[k].reach_um,
                        by_hand[k].reach_um + by_hand[k].reach_um / 500);
        assert_int_equal(dia_surface_grid(&surface, &grid, 16000001), DIA_BAD_VALUE);
        assert_int_equal(dia_surface_grid(&surface, &grid, 0), DIA_BAD_VALUE);
    }
}

static void each_status_has_its_words(void **state)
{
    (void)state;
    static const char *const words[] = {"done",
                                        "still under way",
                                        "an argument is out of range",
                                        "not supported by this port or part",
                                        "the port broke off",
                                        "unknown status"};
    for (int k = 0; k < 6; k++)
        assert_string_equal(dia_status_text((enum dia_status)k), words[k]);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(elements_lie_where_a_pencil_puts_them),
        cmocka_unit_test(a_grid_can_be_turned_and_mirrored),
        cmocka_unit_test(a_grid_has_elements_and_not_too_many),
        cmocka_unit_test(surfaces_of_grids_have_their_bounds),
        cmocka_unit_test(each_status_has_its_words),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
