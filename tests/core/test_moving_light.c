/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <math.h>
#include <stdio.h>
#include <string.h>

#include <diachrome/diachrome.h>

/*
 * A light that moves keeps its light: the sum over all elements, in linear light, is the same
 * wherever it is. Codes are whole numbers, of which the darkest are some percent apart: what moves
 * is bright, and what may be lost is 3 %.
 */
#define PITCH   12000
#define COUNT   120
#define ALLOWED 0.03
#define PI      3.14159265358979

static struct dia_rgb pixels[COUNT * 4];
static const struct dia_rgb white = {255, 255, 255}, dark = {0, 0, 0};

/* Of light by IEC 61966-2-1; full is 1. */
static double light_of(uint8_t code)
{
    double c = code / 255.0;
    return c <= 0.04045 ? c / 12.92 : pow((c + 0.055) / 1.055, 2.4);
}

struct range {
    double low, high;
};

static void add_sum(struct range *sums, uint32_t count)
{
    double sum = 0;
    for (uint32_t i = 0; i < count; i++)
        sum += light_of(pixels[i].g);
    sums->low = fmin(sums->low, sum);
    sums->high = fmax(sums->high, sum);
}

static void assert_kept(struct range sums, double expected, const char *what, int number)
{
    if (sums.low < expected * (1 - ALLOWED) || sums.high > expected * (1 + ALLOWED))
        fail_msg("%s %d: light is %.3f to %.3f, not %.3f", what, number, sums.low, sums.high,
                 expected);
}

static const int widths[] = {6000, 7000, 9000, 12000, 13000, 18000, 23000, 24000, 31000, 100000};
#define EACH_WIDTH(w) for (size_t w = 0; w < sizeof widths / sizeof widths[0]; w++)

static void bounce_keeps_its_light(void **state)
{
    (void)state;
    struct dia_surface line;
    dia_surface_line(&line, COUNT, 0, PITCH);
    EACH_WIDTH(w)
    {
        struct range sums = {1e9, 0};
        struct dia_bounce bounce = {white, dark, widths[w], 20000};
        for (uint32_t ms = 0; ms < 10000; ms += 13) {
            dia_bounce_render(&bounce, &line, ms, 0, COUNT, pixels);
            add_sum(&sums, COUNT);
        }
        assert_kept(sums, (double)widths[w] / PITCH, "bounce", widths[w]);
    }
}

/* A tail that falls with the square has a third of the light of a head as long. From either end and
 * while all of it is on the line. */
static void pulse_keeps_its_light(void **state)
{
    (void)state;
    static const int tails[] = {0, 5000, 12000, 17000, 100000};
    struct dia_surface line;
    dia_surface_line(&line, COUNT, 0, PITCH);
    EACH_WIDTH(w)
    {
        for (int k = 0; k < 10; k++) {
            struct range sums = {1e9, 0};
            int tail = tails[k / 2];
            struct dia_pulse pulse = {white, dark, widths[w], tail, 100000, 0, k % 2};
            for (uint32_t ms = 3000; ms < 10000; ms += 7) {
                dia_pulse_render(&pulse, &line, ms, 0, COUNT, pixels);
                add_sum(&sums, COUNT);
            }
            assert_kept(sums, (widths[w] + tail / 3.0) / PITCH, "pulse", widths[w]);
        }
    }
}

/* Lights with a head of an element and a tail, both within a share of their distance; several on
 * an element, too. */
static void chase_and_columns_keep_their_light(void **state)
{
    (void)state;
    static const int lights[] = {1, 3, 7, 50, 100}, shares[] = {500, 3000, 16384, 32768};
    struct dia_surface line;
    for (int k = 0; k < 40; k++) {
        uint32_t count = k < 20 ? COUNT : 33;
        int many = lights[k / 4 % 5], share = shares[k % 4];
        double distance = (double)count / many, reach = distance * share / 32768;
        double head = fmin(1, reach);
        double expected = many * (head + (reach - head) / 3);
        struct range sums = {1e9, 0}, down = {1e9, 0};
        struct dia_chase chase = {white, dark, many, share, k % 2 ? 50000 : -50000};
        struct dia_columns columns = {
            white, dark, (int32_t)(distance * PITCH + 0.5), share, k % 2 ? 50000 : -50000, 1};
        if (reach < 0.5)
            continue;
        dia_surface_line(&line, count, 0, PITCH);
        for (uint32_t ms = 0; ms < 3000; ms += 7) {
            dia_chase_render(&chase, &line, ms, 0, count, pixels);
            add_sum(&sums, count);
            dia_columns_render(&columns, &line, ms, 0, count, pixels);
            add_sum(&down, count);
        }
        assert_kept(sums, expected, "chase", many);
        assert_kept(down, expected, "columns", many);
    }
}

/* Figures that scroll along a line, over its end too, on what is below. */
static void drawings_on_a_line_keep_their_light(void **state)
{
    (void)state;
    static const uint8_t cells[] = {1, 0, 1};
    static const struct dia_sprite sprite = {3, 1, 1, 0, cells, &white};
    struct dia_surface line;
    dia_surface_line(&line, COUNT, 0, PITCH);
    for (int kind = 0; kind <= DIA_FIGURE_SPRITE; kind++) {
        if (kind == DIA_FIGURE_POLYGON || kind == DIA_FIGURE_DISC)
            continue; /* these are as wide as high: see below */
        EACH_WIDTH(w)
        {
            struct range sums = {1e9, 0};
            int width = widths[w], soft = w % 3 == 2 ? 30000 : 0;
            double expected = width;
            struct dia_figure figure = {.kind = (uint8_t)kind,
                                        .filled = 1,
                                        .colour = white,
                                        .at = {500000, PITCH / 2},
                                        .to = {500000 + width, PITCH / 2},
                                        .soft_um = soft,
                                        .sprite = &sprite};
            struct dia_drawing drawing = {.figures = &figure, .count = 1, .speed_x_um_s = 120000};
            if (kind == DIA_FIGURE_POINT) {
                expected = PITCH;
            } else if (kind == DIA_FIGURE_RECTANGLE) {
                figure.at.y_um = -100000;
                figure.to.y_um = 100000;
            } else if (kind == DIA_FIGURE_SPRITE) {
                figure.size_um = width;
                figure.at.y_um = width > PITCH ? 0 : PITCH / 2 - width / 2;
                expected = 2.0 * width * fmin(1, (double)width / PITCH);
            }
            if (soft && kind != DIA_FIGURE_RECTANGLE && kind != DIA_FIGURE_SPRITE)
                figure.soft_um = 0; /* softly, these lie beside the line too */
            for (uint32_t ms = 0; ms < 13000; ms += 11) {
                memset(pixels, 0, sizeof pixels);
                dia_drawing_render(&drawing, &line, ms, 0, COUNT, pixels);
                add_sum(&sums, COUNT);
            }
            assert_kept(sums, expected / PITCH, "figure", kind * 1000000 + width);
        }
    }
}

/* On a grid they scroll slantwise: discs of every size, turned lines and polygons, outlines. */
static void drawings_on_a_grid_keep_their_light(void **state)
{
    (void)state;
    static const uint8_t cells[] = {1, 0, 1, 1};
    static const struct dia_sprite sprite = {2, 2, 1, 0, cells, &white};
    const struct dia_point kite[] = {{0, 40000}, {50000, 0}, {120000, 50000}, {40000, 130000}};
    const struct {
        struct dia_figure figure;
        double um2;
    } rows[] = {
        {{.kind = DIA_FIGURE_POINT, .at = {1000, 1000}}, 12e3 * 12e3},
        {{.kind = DIA_FIGURE_DISC, .filled = 1, .size_um = 3000}, 9e6 * PI},
        {{.kind = DIA_FIGURE_DISC, .filled = 1, .size_um = 6000}, 36e6 * PI},
        {{.kind = DIA_FIGURE_DISC, .filled = 1, .size_um = 13000}, 169e6 * PI},
        {{.kind = DIA_FIGURE_DISC, .filled = 1, .size_um = 35000}, 1225e6 * PI},
        {{.kind = DIA_FIGURE_DISC, .filled = 1, .size_um = 37000}, 1369e6 * PI},
        {{.kind = DIA_FIGURE_DISC, .size_um = 40000, .width_um = 12000}, (1600e6 - 784e6) * PI},
        {{.kind = DIA_FIGURE_RECTANGLE, .filled = 1, .to = {7000, 6500}}, 7e3 * 6.5e3},
        {{.kind = DIA_FIGURE_RECTANGLE, .to = {70000, 50000}, .width_um = 6000},
         70e3 * 50e3 - 58e3 * 38e3},
        {{.kind = DIA_FIGURE_LINE, .to = {50000, 77000}}, 12e3 * 91.81e3},
        {{.kind = DIA_FIGURE_POLYGON, .filled = 1, .corners = kite, .corner_count = 4}, 7850e6},
        {{.kind = DIA_FIGURE_SPRITE, .size_um = 17000, .sprite = &sprite}, 3 * 17e3 * 17e3},
    };
    struct dia_grid grid;
    struct dia_surface wall;
    dia_grid_init(&grid, 24, 20);
    grid.wiring.back_and_forth = 1;
    dia_surface_grid(&wall, &grid, PITCH);
    for (size_t k = 0; k < sizeof rows / sizeof rows[0]; k++) {
        struct range sums = {1e9, 0};
        struct dia_figure figure = rows[k].figure;
        figure.colour = white;
        if (figure.kind == DIA_FIGURE_DISC) /* all of it on its copy */
            figure.at = (struct dia_point){50000, 50000};
        struct dia_drawing drawing = {.figures = &figure,
                                      .count = 1,
                                      .shift = {20000, 20000},
                                      .speed_x_um_s = 7100,
                                      .speed_y_um_s = 4900};
        for (uint32_t ms = 0; ms < 6000; ms += 37) {
            memset(pixels, 0, sizeof pixels);
            dia_drawing_render(&drawing, &wall, ms, 0, 480, pixels);
            add_sum(&sums, 480);
        }
        assert_kept(sums, rows[k].um2 / PITCH / PITCH, "row", (int)k);
    }
}

/* Half of an element is half of the light of what is below and half of what is above. */
static void what_is_below_is_mixed_in_linear_light(void **state)
{
    (void)state;
    const struct dia_figure bar = {.kind = DIA_FIGURE_RECTANGLE,
                                   .filled = 1,
                                   .colour = {200, 0, 90},
                                   .at = {6000, -99000},
                                   .to = {24000, 99000}};
    const struct dia_drawing drawing = {.figures = &bar, .count = 1};
    struct dia_surface line;
    dia_surface_line(&line, 3, 0, PITCH);
    memset(pixels, 100, sizeof pixels);
    dia_drawing_render(&drawing, &line, 0, 0, 3, pixels);
    /* light: 100 is 0.1274, 200 0.5776, 90 0.1022; the means are those of codes 160, 71 and 95 */
    const uint8_t by_hand[] = {160, 71, 95, 200, 0, 90, 100, 100, 100};
    for (int i = 0; i < 9; i++)
        assert_in_range(((uint8_t *)pixels)[i], by_hand[i] - (i < 3), by_hand[i] + (i < 3));
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(bounce_keeps_its_light),
        cmocka_unit_test(pulse_keeps_its_light),
        cmocka_unit_test(chase_and_columns_keep_their_light),
        cmocka_unit_test(drawings_on_a_line_keep_their_light),
        cmocka_unit_test(drawings_on_a_grid_keep_their_light),
        cmocka_unit_test(what_is_below_is_mixed_in_linear_light),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
