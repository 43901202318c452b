/* SPDX-License-Identifier: MIT */
#include "../support.h"

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

/* Every cell goes where a hand that turns the panel would carry it. */
static void a_grid_can_be_turned_and_mirrored(void **state)
{
    (void)state;
    for (uint8_t way = 0; way < 16; way++) {
        struct dia_grid grid, turned, mirrored;
        assert_int_equal(dia_grid_init(&grid, 4, 3, way), DIA_OK);
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
        cmocka_unit_test(a_grid_can_be_turned_and_mirrored),
        cmocka_unit_test(a_grid_has_elements_and_not_too_many),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
