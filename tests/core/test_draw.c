/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/diachrome.h>

/* A wall of 8 by 6 elements, 10 mm apart, wired there and back. */
#define COLUMNS 8
#define ROWS    6
#define COUNT   (COLUMNS * ROWS)
static const struct dia_rgb lit = {200, 100, 50};
static struct dia_grid grid;
static struct dia_surface wall;

static int make_wall(void **state)
{
    (void)state;
    dia_grid_init(&grid, COLUMNS, ROWS);
    grid.wiring.back_and_forth = 1;
    return dia_surface_grid(&wall, &grid, 10000) == DIA_OK ? 0 : -1;
}

/* As it lies: '#' as the colour drawn, '.' untouched, '+' between; rows with a line end. */
static const char *seen(const struct dia_drawing *drawing, uint32_t ms)
{
    static char text[ROWS * (COLUMNS + 1) + 1];
    struct dia_rgb pixels[COUNT];
    memset(pixels, 7, sizeof pixels);
    for (uint32_t i = 0; i < COUNT; i += 12) /* in stretches, as layers do */
        dia_drawing_render(drawing, &wall, ms, i, 12, pixels + i);
    for (uint16_t i = 0; i < COUNT; i++) {
        struct dia_cell cell = dia_grid_cell(&grid, i);
        text[cell.row * (COLUMNS + 1) + cell.column] = pixels[i].r == 7                   ? '.'
                                                       : memcmp(&pixels[i], &lit, 3) == 0 ? '#'
                                                                                          : '+';
    }
    for (int r = 0; r < ROWS; r++)
        text[r * (COLUMNS + 1) + COLUMNS] = '\n';
    return text;
}

static const struct dia_point arrow[] = {{0, 0}, {80000, 30000}, {0, 60000}};

/* Elements lie at 5, 15, 25 ... mm. */
static const struct {
    struct dia_figure figure;
    const char *by_hand;
} figures[] = {
    {{.kind = DIA_FIGURE_RECTANGLE, .filled = 1, .at = {10000, 10000}, .to = {60000, 30000}},
     "........\n.#####..\n.#####..\n........\n........\n........\n"},
    {{.kind = DIA_FIGURE_RECTANGLE, .at = {60000, 50000}, .to = {10000, 10000}},
     "........\n.#####..\n.#...#..\n.#...#..\n.#####..\n........\n"},
    /* from (30, 30): 5 to either side is 7.1 away, then 15.8, 21.2, and 25.5 */
    {{.kind = DIA_FIGURE_DISC, .filled = 1, .at = {30000, 30000}, .size_um = 22000},
     "........\n.####...\n.####...\n.####...\n.####...\n........\n"},
    {{.kind = DIA_FIGURE_DISC, .at = {30000, 30000}, .size_um = 27000},
     "..##....\n.#..#...\n#....#..\n#....#..\n.#..#...\n..##....\n"},
    {{.kind = DIA_FIGURE_POINT, .at = {61000, 12000}},
     "........\n......#.\n........\n........\n........\n........\n"},
    {{.kind = DIA_FIGURE_LINE, .at = {0, 25000}, .to = {80000, 25000}},
     "........\n........\n########\n........\n........\n........\n"},
    /* half a pitch to either side of the diagonal: the elements on it alone */
    {{.kind = DIA_FIGURE_LINE, .at = {0, 0}, .to = {60000, 60000}},
     "#.......\n.#......\n..#.....\n...#....\n....#...\n.....#..\n"},
    /* x below 80 * y / 30 in the upper half: 13.3, 40, 66.7 */
    {{.kind = DIA_FIGURE_POLYGON, .filled = 1, .corners = arrow, .corner_count = 3},
     "#.......\n####....\n#######.\n#######.\n####....\n#.......\n"},
    /* across the edge a pixel is 9.4 mm to the right: one of them, and the left side */
    {{.kind = DIA_FIGURE_POLYGON, .corners = arrow, .corner_count = 3, .width_um = 6000},
     "#.......\n#.##....\n#....##.\n#....##.\n#.##....\n#.......\n"},
};

static void figures_lie_where_they_should(void **state)
{
    (void)state;
    for (size_t k = 0; k < sizeof figures / sizeof figures[0]; k++) {
        struct dia_figure figure = figures[k].figure;
        struct dia_drawing drawing = {.figures = &figure, .count = 1};
        figure.colour = lit;
        figure.hard = 1;
        assert_string_equal(seen(&drawing, 0), figures[k].by_hand);
    }
}

/* A square with its tip up, and one turned by an eighth: 20 mm from the middle to the corners.
 * Three and more corners lie on a circle, as in doubles. */
static void regular_polygons_are_regular(void **state)
{
    (void)state;
    static struct dia_draw values;
    struct dia_point corners[DIA_CORNERS_MAX], middle = {-7000000, 5000000};
    dia_draw_defaults(&values);
    values.colour = lit;
    values.figure = DIA_FIGURE_POLYGON;
    values.x_um = values.y_um = 35000;
    values.size_um = 21000;
    values.corners = 4;
    struct dia_rgb tip[COUNT] = {{0}}, flat[COUNT] = {{0}};
    dia_draw_render(&values, &wall, 0, 0, COUNT, tip);
    values.turn = DIA_SHARE_ONE / 8;
    dia_draw_render(&values, &wall, 0, 0, COUNT, flat);
    for (uint16_t i = 0; i < COUNT; i++) {
        struct dia_cell cell = dia_grid_cell(&grid, i);
        int x = abs(cell.column - 3), y = abs(cell.row - 3);
        assert_int_equal(tip[i].r != 0, x + y <= 2);
        assert_int_equal(flat[i].r != 0, x <= 1 && y <= 1);
    }
    for (uint8_t n = 3; n <= DIA_CORNERS_MAX; n++) {
        dia_corners_regular(corners, n, middle, 90000000, 0x20000000u);
        for (uint8_t k = 0; k < n; k++) {
            double angle = 2 * acos(-1.0) * (k / (double)n + 0.125);
            assert_true(fabs(corners[k].x_um - middle.x_um - 9e7 * sin(angle)) < 9e7 / 4000);
            assert_true(fabs(corners[k].y_um - middle.y_um + 9e7 * cos(angle)) < 9e7 / 4000);
        }
    }
}

/* On a line only what a figure reaches over is looked at; with copies a kilometre apart each
 * element is: the same picture, in whatever stretches. */
static void on_a_line_nothing_is_missed(void **state)
{
    (void)state;
    static const uint8_t cells[] = {1, 0, 2};
    static const struct dia_rgb two[] = {{1, 2, 3}, {4, 5, 6}};
    static const struct dia_sprite sprite = {3, 1, 1, 0, cells, two};
    static struct dia_rgb quick[300], slow[300];
    struct dia_surface line;
    uint32_t random = 9, lit_pixels = 0;
    assert_int_equal(dia_surface_line(&line, 300, 12345, 7001), DIA_OK);
    for (int round = 0; round < 500; round++) {
        int32_t at = (int32_t)random_below(&random, 2200000) + 120000;
        struct dia_figure figure = {.kind = (uint8_t)(round % 6),
                                    .filled = round % 4 != 1,
                                    .colour = lit,
                                    .at = {at, 3500},
                                    .to = {at + (int32_t)random_below(&random, 300000), 3500},
                                    .size_um = (int32_t)random_below(&random, 90000),
                                    .soft_um = (int32_t)random_below(&random, 50000),
                                    .corners = arrow,
                                    .corner_count = 3,
                                    .sprite = &sprite};
        struct dia_drawing drawing = {.figures = &figure, .count = 1};
        if (figure.kind != DIA_FIGURE_POLYGON) /* it would be cut off where its copy ends */
            drawing.shift.x_um = (int32_t)random_below(&random, 50000);
        uint32_t first = random_below(&random, 200), n = 1 + random_below(&random, 100);
        memset(quick, 0, sizeof quick);
        memset(slow, 0, sizeof slow);
        dia_drawing_render(&drawing, &line, 0, first, n, quick + first);
        drawing.every_x_um = 1000000000;
        dia_drawing_render(&drawing, &line, 0, first, n, slow + first);
        assert_memory_equal(quick, slow, sizeof quick);
        for (int i = 0; i < 300; i++)
            lit_pixels += quick[i].r != 0;
    }
    assert_true(lit_pixels > 500);
}

/* A figure that is no mirror of itself, in two columns and three rows. */
static void drawings_move_repeat_and_mirror(void **state)
{
    (void)state;
    static const struct dia_figure hook[] = {
        {.kind = DIA_FIGURE_LINE, .colour = {200, 100, 50}, .at = {5000, 0}, .to = {5000, 30000}},
        {.kind = DIA_FIGURE_POINT, .colour = {200, 100, 50}, .at = {15000, 25000}}};
    struct dia_drawing drawing = {.figures = hook, .count = 2};
    assert_string_equal(seen(&drawing, 0),
                        "#.......\n#.......\n##......\n........\n........\n........\n");
    drawing.mirror = DIA_MIRROR_X;
    assert_string_equal(seen(&drawing, 0),
                        ".......#\n.......#\n......##\n........\n........\n........\n");
    drawing.mirror = DIA_MIRROR_Y;
    drawing.shift.x_um = 20000;
    assert_string_equal(seen(&drawing, 0),
                        "........\n........\n........\n..##....\n..#.....\n..#.....\n");
    drawing.mirror = 0;
    drawing.every_x_um = 30000;
    assert_string_equal(seen(&drawing, 0),
                        "..#..#..\n..#..#..\n#.##.##.\n........\n........\n........\n");
    drawing.every_x_um = 20000;
    assert_string_equal(seen(&drawing, 0),
                        "#.#.#.#.\n#.#.#.#.\n########\n........\n........\n........\n");
    /* 10 mm/s for 7 s are 70 mm, and 20 more, of 80; 140 mm up are 20 of 60 */
    drawing.every_x_um = 0;
    drawing.speed_x_um_s = 10000;
    drawing.speed_y_um_s = -20000;
    assert_string_equal(seen(&drawing, 7000),
                        ".##.....\n........\n........\n........\n.#......\n.#......\n");
}

static void sprites_show_what_is_below_and_take_turns(void **state)
{
    (void)state;
    static const uint8_t cells[] = {0, 1, 0, 1, 2, 1, /* then */ 1, 0, 1, 0, 1, 0};
    static const struct dia_rgb colours[] = {{200, 100, 50}, {1, 2, 3}};
    static const struct dia_sprite fish = {3, 2, 2, 250, cells, colours};
    static const struct dia_figure figure = {
        .kind = DIA_FIGURE_SPRITE, .at = {20000, 10000}, .sprite = &fish};
    struct dia_drawing drawing = {.figures = &figure, .count = 1};
    static const char first[] = "........\n...#....\n..#+#...\n........\n........\n........\n",
                      second[] = "........\n..#.#...\n...#....\n........\n........\n........\n";
    assert_string_equal(seen(&drawing, 100), first);
    assert_string_equal(seen(&drawing, 400), second);
    assert_string_equal(seen(&drawing, 600), first);
    /* the same without a time for each stays as it is; and a picture alone has no turns to take */
    static const struct dia_sprite still = {3, 2, 2, 0, cells, colours},
                                   alone = {3, 2, 1, 250, cells, colours};
    struct dia_figure other = figure;
    drawing.figures = &other;
    for (uint32_t ms = 0; ms < 1000; ms += 125) {
        other.sprite = &still;
        assert_string_equal(seen(&drawing, ms), first);
        other.sprite = &alone;
        assert_string_equal(seen(&drawing, ms), first);
    }
}

/* How much of an element is covered against its area: of 32 by 32 points of it those inside, in
 * doubles. Discs, lines and triangles anywhere, some as small as a pitch and some larger than the
 * wall. On most elements it is right to a hundredth; a sharp corner on an element is not. */
static int covers(const struct dia_figure *f, double x, double y)
{
    double cx = f->at.x_um, cy = f->at.y_um;
    if (f->kind == DIA_FIGURE_DISC)
        return hypot(x - cx, y - cy) < f->size_um;
    if (f->kind == DIA_FIGURE_POLYGON) {
        int odd = 0;
        for (int k = 0; k < 3; k++) {
            const struct dia_point *a = &f->corners[k], *b = &f->corners[(k + 1) % 3];
            if ((a->y_um > y) != (b->y_um > y))
                odd ^= x < a->x_um + (y - a->y_um) * (b->x_um - a->x_um) / (b->y_um - a->y_um);
        }
        return odd;
    }
    double dx = f->to.x_um - cx, dy = f->to.y_um - cy, length = hypot(dx, dy);
    double along = ((x - cx) * dx + (y - cy) * dy) / length;
    double across = ((x - cx) * dy - (y - cy) * dx) / length;
    return fabs(across) < f->width_um / 2.0 && along > 0 && along < length;
}

static double area(const struct dia_figure *f, double left, double top)
{
    int inside = 0;
    for (int k = 0; k < 32 * 32; k++)
        inside += covers(f, left + (k % 32 + 0.5) * 10000 / 32, top + (k / 32 + 0.5) * 10000 / 32);
    return inside / 1024.0;
}

static double light_of(uint8_t code)
{
    double c = code / 255.0;
    return c <= 0.04045 ? c / 12.92 : pow((c + 0.055) / 1.055, 2.4);
}

static void elements_are_lit_by_what_is_covered(void **state)
{
    (void)state;
    static const int kinds[] = {DIA_FIGURE_DISC, DIA_FIGURE_LINE, DIA_FIGURE_POLYGON};
    uint32_t random = 5;
    double worst[3] = {0, 0, 0}, all[3] = {0, 0, 0};
    int between = 0;
    for (int round = 0; round < 600; round++) {
        struct dia_point corners[3];
        struct dia_figure f = {.kind = (uint8_t)kinds[round % 3],
                               .filled = 1,
                               .colour = {255, 255, 255},
                               .corners = corners,
                               .corner_count = 3};
        struct dia_drawing drawing = {.figures = &f, .count = 1};
        struct dia_rgb pixels[COUNT] = {{0}};
        f.at = (struct dia_point){(int32_t)random_below(&random, 80000),
                                  (int32_t)random_below(&random, 60000)};
        f.to = (struct dia_point){f.at.x_um + 5000 + (int32_t)random_below(&random, 80000),
                                  (int32_t)random_below(&random, 60000)};
        f.size_um = 5000 + (int32_t)random_below(&random, 60000);
        f.width_um = 10000 + (int32_t)random_below(&random, 40000);
        dia_corners_regular(corners, 3, f.at, f.size_um + 10000, random);
        dia_drawing_render(&drawing, &wall, 0, 0, COUNT, pixels);
        for (uint16_t i = 0; i < COUNT; i++) {
            struct dia_point at = dia_surface_point(&wall, i);
            double error = fabs(light_of(pixels[i].r) - area(&f, at.x_um, at.y_um));
            worst[round % 3] = fmax(worst[round % 3], error);
            all[round % 3] += error / 200 / COUNT;
            between += pixels[i].r > 0 && pixels[i].r < 255;
        }
    }
    assert_true(between > 2000);
    assert_true(worst[0] < 0.06 && worst[1] < 0.13 && worst[2] < 0.35);
    assert_true(all[0] < 0.004 && all[1] < 0.009 && all[2] < 0.008);
}

/* Where a drawing is not, no blend changes what is below; scrolling is the same after 2^32 ms. */
static void drawings_are_layers(void **state)
{
    (void)state;
    static struct dia_steady ground = {{40, 80, 120}};
    static const struct dia_figure dot = {
        .kind = DIA_FIGURE_POINT, .colour = {100, 100, 100}, .at = {5000, 5000}};
    struct dia_drawing drawing = {.figures = &dot, .count = 1, .speed_x_um_s = 12345};
    struct dia_layer layers[2];
    struct dia_stack stack = {layers, 2};
    struct dia_rgb pixels[COUNT];
    /* 40 with 100: over, add, screen, multiply, lighten, darken; by hand from docs/layers.md */
    static const uint8_t by_hand[] = {100, 140, 124, 16, 100, 40};
    dia_layer_init(&layers[0], &wall, dia_look_steady.render, &ground);
    dia_layer_init(&layers[1], &wall, dia_drawing_render, &drawing);
    for (uint8_t blend = DIA_BLEND_OVER; blend <= DIA_BLEND_DARKEN; blend++) {
        layers[1].blend = blend;
        dia_stack_render(&stack, 0, 0, COUNT, pixels);
        assert_int_equal(pixels[0].r, by_hand[blend]);
        for (int i = 1; i < COUNT; i++)
            assert_int_equal(pixels[i].r, 40);
    }
    layers[1].blend = DIA_BLEND_OVER;
    layers[1].level = DIA_SHARE_ONE / 2;
    dia_stack_render(&stack, 0, 0, COUNT, pixels);
    assert_int_equal(pixels[0].r, 70);
    assert_int_equal(pixels[1].r, 40);
    char before[200], after[200];
    snprintf(before, sizeof before, "%s", seen(&drawing, 0xffffffffu));
    snprintf(after, sizeof after, "%s", seen(&drawing, 0));
    assert_string_equal(before, after); /* a millisecond is 0.012 mm */
}

/* Cells of 100 m on elements a metre apart, and a drawing that scrolls over two kilometres both
 * ways: the sanitizers look on. */
static void the_largest_drawings_stay_in_their_numbers(void **state)
{
    (void)state;
    static struct dia_rgb row[2100];
    static const DIA_ROM uint8_t cells[32] = {1, 2, 0, 1, 2, 0, 1, 2, 0, 1, 2};
    static const DIA_ROM struct dia_rgb colours[2] = {{1, 0, 0}, {2, 0, 0}};
    static const struct dia_sprite sprite = {32, 1, 1, 0, cells, colours};
    struct dia_figure figure = {.kind = DIA_FIGURE_SPRITE, .size_um = 100000000, .sprite = &sprite};
    struct dia_drawing drawing = {.figures = &figure, .count = 1};
    struct dia_surface line;
    assert_int_equal(dia_surface_line(&line, 2100, 0, 1000000), DIA_OK);
    memset(row, 0, sizeof row);
    figure.at.y_um = -50000000;
    dia_drawing_render(&drawing, &line, 0, 0, 2100, row);
    for (int i = 0; i < 1000; i++) {
        if (i % 100 != 0 && i % 100 != 99) /* right to a 11,000th of all of it */
            assert_int_equal(row[i].r, cells[i / 100]);
    }
    for (int way = 0; way < 4; way++) {
        struct dia_figure dot = {.kind = DIA_FIGURE_RECTANGLE,
                                 .filled = 1,
                                 .colour = {9, 0, 0},
                                 .at = {0, -1000000},
                                 .to = {10000000, 1000000}};
        struct dia_drawing moving = {.figures = &dot,
                                     .count = 1,
                                     .mirror = way & 1 ? DIA_MIRROR_X : 0,
                                     .shift = {way & 2 ? -400000000 : 400000000, 0},
                                     .speed_x_um_s = way & 2 ? -10000000 : 10000000};
        for (uint32_t ms = 0; ms < 300000; ms += 7777) {
            int covered = 0;
            memset(row, 0, sizeof row);
            dia_drawing_render(&moving, &line, ms, 0, 2100, row);
            for (int i = 0; i < 2100; i++)
                covered += row[i].r == 9;
            assert_in_range(covered, 9, 11); /* 10 m of it, wherever it is */
        }
    }
}

/* One element as wide as there may be, and a line as long: the sanitizers look on. */
static void the_widest_elements_stay_in_their_numbers(void **state)
{
    (void)state;
    static const uint8_t cell[] = {1};
    static const struct dia_sprite sprite = {1, 1, 1, 0, cell, &lit};
    static const int32_t pitches[] = {INT32_MAX - 1, 1000000};
    for (int k = 0; k < 2 * (DIA_FIGURE_SPRITE + 1); k++) {
        struct dia_surface line;
        struct dia_rgb pixels[2147] = {{0}};
        struct dia_figure figure = {.kind = (uint8_t)(k / 2),
                                    .filled = 1,
                                    .colour = lit,
                                    .at = {-500000000, -500000000},
                                    .to = {500000000, 500000000},
                                    .size_um = 100000000,
                                    .soft_um = 100000000,
                                    .corners = arrow,
                                    .corner_count = 3,
                                    .sprite = &sprite};
        struct dia_drawing drawing = {
            .figures = &figure, .count = 1, .speed_x_um_s = 10000000, .speed_y_um_s = -10000000};
        uint32_t count = k % 2 ? 2147 : 1;
        assert_int_equal(dia_surface_line(&line, count, 0, pitches[k % 2]), DIA_OK);
        for (uint32_t ms = 0; ms < 300000; ms += 50021)
            dia_drawing_render(&drawing, &line, ms, 0, count, pixels);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(figures_lie_where_they_should),
        cmocka_unit_test(regular_polygons_are_regular),
        cmocka_unit_test(on_a_line_nothing_is_missed),
        cmocka_unit_test(drawings_move_repeat_and_mirror),
        cmocka_unit_test(sprites_show_what_is_below_and_take_turns),
        cmocka_unit_test(elements_are_lit_by_what_is_covered),
        cmocka_unit_test(drawings_are_layers),
        cmocka_unit_test(the_largest_drawings_stay_in_their_numbers),
        cmocka_unit_test(the_widest_elements_stay_in_their_numbers),
    };
    return cmocka_run_group_tests(tests, make_wall, NULL);
}
