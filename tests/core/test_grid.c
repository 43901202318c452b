/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <string.h>

#include <diachrome/grid.h>

/* Worked out with a pencil: 3 columns, 2 rows; element numbers as they lie, top row first. */
static const struct {
    uint8_t way;
    uint16_t element[2][3];
} lies[] = {
    {DIA_GRID_BY_ROW, {{0, 1, 2}, {3, 4, 5}}},
    {DIA_GRID_SERPENTINE, {{0, 1, 2}, {5, 4, 3}}},
    {DIA_GRID_RIGHT, {{2, 1, 0}, {5, 4, 3}}},
    {DIA_GRID_BOTTOM, {{3, 4, 5}, {0, 1, 2}}},
    {DIA_GRID_RIGHT | DIA_GRID_BOTTOM | DIA_GRID_SERPENTINE, {{3, 4, 5}, {2, 1, 0}}},
    {DIA_GRID_BY_COLUMN, {{0, 2, 4}, {1, 3, 5}}},
    {DIA_GRID_BY_COLUMN | DIA_GRID_SERPENTINE, {{0, 3, 4}, {1, 2, 5}}},
    {DIA_GRID_BY_COLUMN | DIA_GRID_BOTTOM | DIA_GRID_SERPENTINE, {{1, 2, 5}, {0, 3, 4}}},
    {DIA_GRID_BY_COLUMN | DIA_GRID_RIGHT, {{4, 2, 0}, {5, 3, 1}}},
};

static void elements_lie_where_a_pencil_puts_them(void **state)
{
    (void)state;
    for (size_t k = 0; k < sizeof lies / sizeof lies[0]; k++) {
        struct dia_grid grid;
        assert_int_equal(dia_grid_init(&grid, 3, 2, lies[k].way), DIA_OK);
        for (uint16_t row = 0; row < 2; row++) {
            for (uint16_t column = 0; column < 3; column++)
                assert_int_equal(dia_grid_element(&grid, column, row),
                                 lies[k].element[row][column]);
        }
    }
}

/* Against the slow way: every element asks for its column. */
static void a_look_on_a_grid_runs_along_the_columns(void **state)
{
    (void)state;
    struct dia_hue_sweep sweep;
    dia_hue_sweep_defaults(&sweep);
    uint32_t seed = 7;
    for (int k = 0; k < 400; k++) {
        struct dia_grid grid;
        struct dia_surface line;
        struct dia_rgb out[20 * 20], columns[20];
        uint16_t w = (uint16_t)(1 + random_below(&seed, 20));
        uint16_t h = (uint16_t)(1 + random_below(&seed, 20));
        assert_int_equal(dia_grid_init(&grid, w, h, (uint8_t)random_below(&seed, 16)), DIA_OK);
        assert_int_equal(dia_surface_line(&line, w, 0, 10000), DIA_OK);
        uint32_t ms = random_below(&seed, 1000000);
        dia_grid_render(&grid, &line, &dia_look_hue_sweep, &sweep, ms, out);
        dia_hue_sweep_render(&sweep, &line, ms, 0, w, columns);
        for (uint16_t i = 0; i < w * h; i++) {
            struct dia_cell cell = dia_grid_cell(&grid, i);
            assert_int_equal(dia_grid_element(&grid, cell.column, cell.row), i);
            assert_memory_equal(&out[i], &columns[cell.column], sizeof out[i]);
        }
    }
}

static void a_grid_has_elements_and_not_too_many(void **state)
{
    (void)state;
    struct dia_grid grid = {9, 9, 9}, was = grid;
    assert_int_equal(dia_grid_init(&grid, 0, 2, 0), DIA_BAD_VALUE);
    assert_int_equal(dia_grid_init(&grid, 2, 0, 0), DIA_BAD_VALUE);
    assert_int_equal(dia_grid_init(&grid, 256, 256, 0), DIA_BAD_VALUE);
    assert_int_equal(dia_grid_init(&grid, 2, 2, 16), DIA_BAD_VALUE);
    assert_memory_equal(&grid, &was, sizeof grid);
    assert_int_equal(dia_grid_init(&grid, 255, 257, 15), DIA_OK);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(elements_lie_where_a_pencil_puts_them),
        cmocka_unit_test(a_look_on_a_grid_runs_along_the_columns),
        cmocka_unit_test(a_grid_has_elements_and_not_too_many),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
