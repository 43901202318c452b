/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <math.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/layout.h>
#include <diachrome/look.h>

#define MOST 2000

static struct dia_rgb a[MOST], b[MOST];

static struct dia_surface line_of(uint32_t count)
{
    struct dia_surface line;
    assert_int_equal(dia_surface_line(&line, count, 0, 16700), DIA_OK);
    return line;
}

static int channel_step(struct dia_rgb p, struct dia_rgb q)
{
    int r = abs(p.r - q.r), g = abs(p.g - q.g), bl = abs(p.b - q.b);
    int most = r > g ? r : g;
    return bl > most ? bl : most;
}

/* OKLab of a colour, in double (B. Ottosson 2020; sRGB as IEC 61966-2-1). */
static double light(uint8_t code)
{
    double c = code / 255.0;
    return c <= 0.04045 ? c / 12.92 : pow((c + 0.055) / 1.055, 2.4);
}

static double oklab_step(struct dia_rgb p, struct dia_rgb q)
{
    double lab[2][3], sum = 0;
    for (int k = 0; k < 2; k++) {
        double r = light(k ? q.r : p.r), g = light(k ? q.g : p.g), b_ = light(k ? q.b : p.b);
        double l = cbrt(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b_);
        double m = cbrt(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b_);
        double n = cbrt(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b_);
        lab[k][0] = 0.2104542553 * l + 0.7936177850 * m - 0.0040720468 * n;
        lab[k][1] = 1.9779984951 * l - 2.4285922050 * m + 0.4505937099 * n;
        lab[k][2] = 0.0259040371 * l + 0.7827717662 * m - 0.8086757660 * n;
    }
    for (int c = 0; c < 3; c++)
        sum += (lab[0][c] - lab[1][c]) * (lab[0][c] - lab[1][c]);
    return sqrt(sum);
}

/* On 300 pixels, the last to the first included, at many moments: 1.5 is what an eye forgives. */
static void hue_sweep_is_even_to_the_eye(void **state)
{
    (void)state;
    struct dia_hue_sweep sweep;
    dia_hue_sweep_defaults(&sweep);
    struct dia_surface line = line_of(300);
    for (uint32_t ms = 0; ms < 30000; ms += 37) {
        double least = 9, most = 0;
        dia_hue_sweep_render(&sweep, &line, ms, 0, 300, a);
        for (int i = 0; i < 300; i++) {
            double step = oklab_step(a[i], a[(i + 1) % 300]);
            least = step < least ? step : least;
            most = step > most ? step : most;
        }
        assert_true(most <= 1.5 * least);
    }
}

/* Whatever the length, the step from the last pixel to the first is a step like the others. */
static void hue_sweep_closes_on_any_length(void **state)
{
    (void)state;
    struct dia_hue_sweep sweep;
    dia_hue_sweep_defaults(&sweep);
    for (uint32_t count = 60; count <= MOST; count += count < 70 ? 1 : 97) {
        for (sweep.turns = 1; sweep.turns <= 3; sweep.turns++) {
            struct dia_surface line = line_of(count);
            double most = 0;
            dia_hue_sweep_render(&sweep, &line, 0, 0, count, a);
            for (uint32_t i = 1; i < count; i++) {
                double step = oklab_step(a[i - 1], a[i]);
                most = step > most ? step : most;
            }
            assert_true(oklab_step(a[count - 1], a[0]) <= most + 0.002);
            /* the pixel after the last, were there one, is the first again */
            dia_hue_sweep_render(&sweep, &line, 0, count, 1, b);
            assert_true(oklab_step(b[0], a[0]) <= 0.005);
        }
    }
}

/* 167 mm/s over pixels 16.7 mm apart is a pixel every 100 ms, away from the start. */
static void hue_sweep_moves_at_its_speed(void **state)
{
    (void)state;
    struct dia_hue_sweep sweep;
    dia_hue_sweep_defaults(&sweep);
    struct dia_surface line = line_of(120);
    for (int away = -1; away <= 1; away += 2) {
        sweep.speed_um_s = away * 167000;
        dia_hue_sweep_render(&sweep, &line, 5000, 0, 120, a);
        dia_hue_sweep_render(&sweep, &line, 6000, 0, 120, b);
        for (int i = 20; i < 100; i++)
            assert_true(oklab_step(a[i], b[i + away * 10]) <= 0.004); /* a fifth of a step */
        assert_true(oklab_step(a[20], b[20]) > 0.1);
    }
}

/*
 * Half level halves the code. Along the circle come red, yellow, green, cyan, blue and magenta; how
 * far each is from the next is its distance in OKLab: 21, 9, 11, 25, 20 and 14 % of the way.
 */
static void hue_sweep_starts_red_and_obeys_level_and_saturation(void **state)
{
    (void)state;
    struct dia_hue_sweep sweep;
    dia_hue_sweep_defaults(&sweep);
    struct dia_surface line = line_of(300);
    static const struct {
        int i;
        struct dia_rgb rgb;
    } corners[] = {{0, {255, 0, 0}},     {61, {255, 255, 0}}, {89, {0, 255, 0}},
                   {123, {0, 255, 255}}, {197, {0, 0, 255}},  {257, {255, 0, 255}}};
    dia_hue_sweep_render(&sweep, &line, 0, 0, 300, a);
    for (int k = 0; k < 6; k++) /* the corners of the circle are rounded a little */
        assert_true(channel_step(a[corners[k].i], corners[k].rgb) <= 32);
    sweep.level = DIA_SHARE_ONE / 2;
    dia_hue_sweep_render(&sweep, &line, 0, 0, 300, b);
    for (int i = 0; i < 300; i++)
        assert_true(abs(a[i].g - 2 * b[i].g) <= 2);
    sweep.saturation = 0;
    dia_hue_sweep_render(&sweep, &line, 0, 0, 300, a);
    for (int i = 0; i < 300; i++)
        assert_memory_equal(&a[i], (&(struct dia_rgb){127, 127, 127}), 3);
}

static void drift_stays_in_its_palette_and_moves_smoothly(void **state)
{
    (void)state;
    struct dia_drift drift;
    dia_drift_defaults(&drift);
    drift.palette = (struct dia_palette){.count = 2, .colours = {{0, 0, 0}, {0, 200, 0}}};
    struct dia_surface line = line_of(MOST);
    int least = 255, most = 0;
    for (uint32_t ms = 490; ms < 60000;
         ms += 500) { /* over where noise goes on to another row, too */
        dia_drift_render(&drift, &line, ms, 0, MOST, a);
        dia_drift_render(&drift, &line, ms + 20, 0, MOST, b);
        for (int i = 0; i < MOST; i++) {
            assert_int_equal(a[i].r | a[i].b, 0);
            least = a[i].g < least ? a[i].g : least;
            most = a[i].g > most ? a[i].g : most;
            /* from black, light rises fastest in code: 20 of 8000 ms of full light is code 12 */
            assert_true(channel_step(a[i], b[i]) <= 12);
        }
    }
    assert_true(least <= 15 && most >= 190 && most <= 200);
    drift.seed = 2;
    dia_drift_render(&drift, &line, 0, 0, MOST, b);
    drift.seed = 1;
    dia_drift_render(&drift, &line, 0, 0, MOST, a);
    assert_memory_not_equal(a, b, sizeof a);
}

/* Colours with places: of the light that a palette from end to end has, nothing comes up to the
 * first place, and all of it behind the last. */
static void colours_stay_at_their_places(void **state)
{
    (void)state;
    struct dia_water water;
    struct dia_surface line = line_of(MOST);
    int dark = 0, full = 0;
    dia_water_defaults(&water);
    for (uint32_t ms = 0; ms < 20000; ms += 1000) {
        water.palette = (struct dia_palette){.count = 2, .colours = {{0, 0, 0}, {0, 255, 0}}};
        dia_water_render(&water, &line, ms, 0, MOST, a);
        water.palette.placed = 1;
        water.palette.places[0] = 20000;
        water.palette.places[1] = 40000;
        dia_water_render(&water, &line, ms, 0, MOST, b);
        for (int i = 0; i < MOST; i++) {
            double light = (dia_light_of(a[i].g) - 20000.0) / 20000 * 65535;
            uint8_t code = dia_code_of((dia_light)fmin(fmax(light, 0), 65535));
            if (light < -2000 || light > 67000)
                assert_int_equal(b[i].g, code);
            else if (code > 60) /* a code of a is up to 2 % of light, here three times that */
                assert_in_range(b[i].g, code - 6, code + 6);
            dark += b[i].g == 0;
            full += b[i].g == 255;
        }
    }
    assert_true(dark > 100 && full > 100);
}

static int worst_step(const struct dia_look *look, const void *values,
                      const struct dia_surface *line, uint32_t from, uint32_t to)
{
    int worst = 0;
    for (uint32_t ms = from; ms != to; ms++) {
        look->render(values, line, ms, 0, 120, a);
        look->render(values, line, ms + 1, 0, 120, b);
        for (int i = 0; i < 120; i++) {
            int step = channel_step(a[i], b[i]);
            worst = step > worst ? step : worst;
        }
    }
    return worst;
}

/* The step over the wrap of time is no larger than any other millisecond's. */
static void no_look_jumps_when_time_wraps(void **state)
{
    (void)state;
    struct dia_surface line = line_of(120);
    for (const struct dia_look *const *look = dia_looks; *look; look++) {
        union dia_look_values values;
        (*look)->defaults(&values);
        if (*look == &dia_look_drift)
            values.drift.change_ms = 1234;
        int usual = worst_step(*look, &values, &line, 1000, 5000);
        assert_true(worst_step(*look, &values, &line, UINT32_MAX - 2, 3) <= usual);
    }
}

/* By hand: a quarter of the period on, and the code at half of what is between low and full. */
static void breathe_rises_and_falls_in_its_period(void **state)
{
    (void)state;
    struct dia_breathe breathe = {{200, 100, 0}, DIA_SHARE_ONE / 2, 4000};
    struct dia_surface line = line_of(10);
    static const struct {
        uint32_t ms;
        struct dia_rgb rgb;
    } by_hand[] = {{0, {100, 50, 0}},    {1000, {150, 75, 0}}, {2000, {200, 100, 0}},
                   {3000, {150, 75, 0}}, {4000, {100, 50, 0}}, {4002000, {200, 100, 0}}};
    for (size_t k = 0; k < sizeof by_hand / sizeof by_hand[0]; k++) {
        dia_breathe_render(&breathe, &line, by_hand[k].ms, 0, 10, a);
        assert_true(channel_step(a[0], by_hand[k].rgb) <= 1);
        assert_memory_equal(&a[9], &a[0], 3);
    }
}

static void blink_keeps_its_duty(void **state)
{
    (void)state;
    struct dia_blink blink = {{255, 0, 0}, {0, 0, 255}, DIA_SHARE_ONE / 4, 200};
    struct dia_surface line = line_of(3);
    int red = 0;
    for (uint32_t ms = 0; ms < 20000; ms++) {
        dia_blink_render(&blink, &line, ms, 0, 3, a);
        assert_int_equal(a[2].r == 255, a[2].b == 0);
        red += a[2].r == 255;
    }
    assert_in_range(red, 4990, 5010);
    /* at every whole period and a half of it, for two hours: on, off, on, off */
    static const int32_t periods[] = {20, 200, 1000, 1001, 60000, 3600000};
    for (int k = 0; k < 6; k++) {
        blink.period_ms = periods[k];
        blink.duty = DIA_SHARE_ONE / 2;
        for (uint32_t half = 0; half * (uint32_t)periods[k] < 14400000; half++) {
            dia_blink_render(&blink, &line, half * (uint32_t)periods[k] / 2, 0, 3, a);
            if (half * (uint32_t)periods[k] % 2 == 0)
                assert_int_equal(a[0].r == 255, half % 2 == 0);
        }
    }
}

/* 120 pixels, 4 lights: one every 30 pixels, half of it tail; the next pixel each 100 ms. */
static void chase_has_lights_at_even_distances(void **state)
{
    (void)state;
    struct dia_chase chase = {{255, 255, 255}, {0, 0, 9}, 4, DIA_SHARE_ONE / 2, 167000};
    struct dia_surface line = line_of(120);
    dia_chase_render(&chase, &line, 100, 0, 120, a);
    for (int i = 0; i < 120; i++) {
        assert_memory_equal(&a[i], &a[(i + 30) % 120], 3);
        /* a head on pixel 0, 30, ..; behind it 14 pixels of tail, each darker than the one ahead */
        int behind = (120 - i) % 30;
        if (behind == 0)
            assert_true(a[i].r > 250);
        else if (behind < 15)
            assert_true(a[i].r < a[i + 1 == 120 ? 0 : i + 1].r);
        else
            assert_memory_equal(&a[i], (&(struct dia_rgb){0, 0, 9}), 3);
    }
    dia_chase_render(&chase, &line, 1100, 0, 120, b);
    for (int i = 0; i < 110; i++)
        assert_true(channel_step(a[i], b[i + 10]) <= 4);
    chase.speed_um_s = 1; /* resting, its tail is where it is of one that goes on */
    dia_chase_render(&chase, &line, 0, 0, 120, a);
    chase.speed_um_s = 0;
    dia_chase_render(&chase, &line, 0, 0, 120, b);
    assert_memory_equal(a, b, 120 * sizeof *a);
    chase.speed_um_s = -167000; /* the other way, with the tail on the other side */
    dia_chase_render(&chase, &line, 100, 0, 120, a);
    assert_true(a[29].r > 250 && a[30].r > a[31].r && a[28].r == 0);
}

/* 1,024 mm at a metre a second are a turn of 1,024 ms, which 32 bits of phase hold exactly: after a
 * million turns, in eleven days, it is where it began. */
static void a_chase_does_not_drift(void **state)
{
    (void)state;
    struct dia_chase chase = {{255, 255, 255}, {0, 0, 9}, 1, DIA_SHARE_ONE / 2, 1000000};
    struct dia_surface line;
    assert_int_equal(dia_surface_line(&line, 64, 0, 16000), DIA_OK);
    for (uint32_t ms = 0; ms < 1024; ms += 100) {
        dia_chase_render(&chase, &line, ms, 0, 64, a);
        dia_chase_render(&chase, &line, ms + 1024000000, 0, 64, b);
        assert_memory_equal(a, b, 64 * sizeof *a);
    }
    /* nor do lights that are 4,096 mm apart */
    struct dia_columns columns = {{255, 255, 255}, {0, 0, 9}, 4096000, 20000, 1000000, 3};
    for (uint32_t ms = 0; ms < 4096; ms += 400) {
        dia_columns_render(&columns, &line, ms, 0, 64, a);
        dia_columns_render(&columns, &line, ms + 4096u * 500000, 0, 64, b);
        assert_memory_equal(a, b, 64 * sizeof *a);
    }
}

/* The light covers as much at any time, from the first pixel to the last and back. */
static void bounce_glides_from_end_to_end(void **state)
{
    (void)state;
    struct dia_bounce bounce = {{255, 255, 255}, {0, 0, 0}, 50100, 2000}; /* 3 pixels of 16.7 mm */
    struct dia_surface line = line_of(60);
    for (uint32_t ms = 0; ms < 4000; ms += 7) {
        double sum = 0;
        int lit = 0;
        dia_bounce_render(&bounce, &line, ms, 0, 60, a);
        for (int i = 0; i < 60; i++) {
            sum += light(a[i].r);
            lit += a[i].r != 0;
        }
        assert_true(fabs(sum - 3) < 0.02);
        assert_in_range(lit, 3, 4);
    }
    dia_bounce_render(&bounce, &line, 1000, 0, 60, a);
    assert_true(a[59].r > 250 && a[57].r > 250 && a[56].r < 5);
    dia_bounce_render(&bounce, &line, 2000, 0, 60, a);
    assert_true(a[0].r > 250 && a[2].r > 250 && a[3].r < 5);
}

static void glimmer_stays_within_its_depth(void **state)
{
    (void)state;
    struct dia_glimmer glimmer = {{200, 200, 200}, DIA_SHARE_ONE / 2, 300, 3};
    struct dia_surface line = line_of(500);
    int least = 255, most = 0, alike = 0;
    for (uint32_t ms = 0; ms < 30000; ms += 100) {
        dia_glimmer_render(&glimmer, &line, ms, 0, 500, a);
        for (int i = 0; i < 500; i++) {
            least = a[i].r < least ? a[i].r : least;
            most = a[i].r > most ? a[i].r : most;
            alike += i > 0 && a[i].r == a[i - 1].r;
        }
    }
    assert_in_range(least, 99, 103);
    assert_in_range(most, 198, 200);
    assert_true(alike < 500 * 300 / 10); /* neighbours have nothing to do with each other */
    glimmer.depth = 0;                   /* then it rests */
    dia_glimmer_render(&glimmer, &line, 12345, 0, 500, a);
    for (int i = 0; i < 500; i++)
        assert_int_equal(a[i].r, 200);
}

/* Any stretch at any time, in any order, is the same picture as the whole. */
static void looks_are_pure(void **state)
{
    (void)state;
    struct dia_surface surfaces[3];
    struct dia_ring ring = {.diameter_um = 66000};
    struct dia_grid grid;
    surfaces[0] = line_of(500);
    assert_int_equal(dia_surface_ring(&surfaces[1], &ring, 500), DIA_OK);
    assert_int_equal(dia_grid_init(&grid, 20, 25), DIA_OK);
    grid.wiring.along_columns = grid.wiring.back_and_forth = 1;
    assert_int_equal(dia_surface_grid(&surfaces[2], &grid, 16700), DIA_OK);
    for (const struct dia_look *const *look = dia_looks; *look; look++) {
        for (uint32_t k = 0; k < 12; k++) {
            const struct dia_surface *surface = &surfaces[k % 3];
            uint32_t ms = k < 3 ? 12345 : k * 40; /* then what moves left has just left */
            union dia_look_values values;
            ring.reversed = k & 1u;
            (*look)->defaults(&values);
            memset(a, 0, sizeof a); /* drawings go over what is there */
            memset(b, 0, sizeof b);
            (*look)->render(&values, surface, ms, 0, 500, a);
            for (uint32_t first = 500; first-- > 0;)
                (*look)->render(&values, surface, ms, first, 1, &b[first]);
            assert_memory_equal(a, b, 500 * sizeof a[0]);
        }
    }
}

/* A choice has as many numbers as its list has words, from 0 on. */
static void each_choice_has_its_words(void **state)
{
    (void)state;
    int choices = 0;
    for (const struct dia_look *const *look = dia_looks; *look; look++) {
        for (uint8_t k = 0; k < (*look)->param_count; k++) {
            const struct dia_param *param = &(*look)->params[k];
            if (param->kind != DIA_PARAM_CHOICE)
                continue;
            int words = 1;
            for (const char *at = param->words; *at; at++)
                words += *at == ' ';
            assert_int_equal(param->min, 0);
            assert_int_equal(param->max, words - 1);
            choices++;
        }
    }
    assert_true(choices > 5);
}

static void parameters_out_of_range_are_named(void **state)
{
    (void)state;
    for (const struct dia_look *const *look = dia_looks; *look; look++) {
        union dia_look_values values;
        (*look)->defaults(&values);
        assert_null(dia_look_check(*look, &values));
        assert_ptr_equal(dia_look_find((*look)->name), *look);
    }
    struct dia_hue_sweep sweep;
    dia_hue_sweep_defaults(&sweep);
    sweep.turns = 0;
    assert_string_equal(dia_look_check(&dia_look_hue_sweep, &sweep)->key, "turns");
    struct dia_drift drift;
    dia_drift_defaults(&drift);
    drift.palette.count = DIA_PALETTE_MAX + 1;
    assert_string_equal(dia_look_check(&dia_look_drift, &drift)->key, "colours");
    assert_null(dia_look_find("no such look"));
    union dia_look_values least; /* a hundredth, rounded up, is the least of a tail or beam */
    dia_look_chase.defaults(&least);
    least.chase.tail = 328;
    assert_null(dia_look_check(&dia_look_chase, &least));
    least.chase.tail = 327;
    assert_string_equal(dia_look_check(&dia_look_chase, &least)->key, "tail");
    dia_look_columns.defaults(&least);
    least.columns.tail = 328;
    assert_null(dia_look_check(&dia_look_columns, &least));
    least.columns.tail = 327;
    assert_string_equal(dia_look_check(&dia_look_columns, &least)->key, "tail");
    dia_look_beam.defaults(&least);
    least.beam.width = 328;
    assert_null(dia_look_check(&dia_look_beam, &least));
    least.beam.width = 327;
    assert_string_equal(dia_look_check(&dia_look_beam, &least)->key, "width");
}

static void a_line_has_places_in_mm_and_limits(void **state)
{
    (void)state;
    struct dia_surface line;
    assert_int_equal(dia_surface_line(&line, 120, -5000, 16700), DIA_OK);
    assert_int_equal(dia_surface_place_um(&line, 119), -5000 + 119 * 16700);
    assert_int_equal(dia_surface_length_um(&line), 2004000);
    assert_int_equal(dia_surface_line(&line, 0, 0, 16700), DIA_BAD_VALUE);
    assert_int_equal(dia_surface_line(&line, 10, 0, 0), DIA_BAD_VALUE);
    assert_int_equal(dia_surface_line(&line, 200000, 0, 16700), DIA_BAD_VALUE); /* 3340 m */
    assert_int_equal(line.count, 120);
}

/* Flame and water have a quick way down a line. One row of a grid takes the general one, and looks
 * the same but for how its places are rounded; so does what is drawn in stretches, from any start
 * and at any pitch up to several cells an element. */
static void a_line_looks_as_one_row_of_a_grid(void **state)
{
    (void)state;
    static const struct dia_look *const looks[] = {&dia_look_flame, &dia_look_water};
    static const int32_t pitches[] = {3000, 16700, 90000};
    for (int k = 0; k < 6; k++) {
        const struct dia_look *look = looks[k % 2];
        union dia_look_values values;
        struct dia_grid grid;
        struct dia_surface line, row;
        assert_int_equal(dia_surface_line(&line, 300, 0, pitches[k / 2]), DIA_OK);
        assert_int_equal(dia_grid_init(&grid, 300, 1), DIA_OK);
        assert_int_equal(dia_surface_grid(&row, &grid, pitches[k / 2]), DIA_OK);
        look->defaults(&values);
        uint32_t differ = 0;
        for (uint32_t ms = 0; ms < 60000; ms += 1237) {
            look->render(&values, &line, ms, 0, 300, a);
            look->render(&values, &row, ms, 0, 300, b);
            for (uint32_t i = 0; i < 300; i++)
                differ += channel_step(a[i], b[i]) > 5;
            look->render(&values, &line, ms, 101, 77, b);
            assert_memory_equal(b, a + 101, 77 * sizeof *a);
        }
        assert_true(differ <= 49 * 300 / 1000); /* a steep place here and there */
    }
}

/* What a run keeps from element to element changes nothing: each alone is the same. And water on
 * the first column of a grid is water on a line, as both have the same places there. */
static void noise_on_a_grid_is_that_of_each_element_alone(void **state)
{
    (void)state;
    static const struct dia_look *const looks[] = {&dia_look_flame, &dia_look_water};
    union dia_look_values values;
    struct dia_grid grid;
    struct dia_surface wall, line;
    uint32_t differ = 0, alike = 0;
    assert_int_equal(dia_grid_init(&grid, 6, 300), DIA_OK);
    assert_int_equal(dia_surface_grid(&wall, &grid, 16700), DIA_OK);
    assert_int_equal(dia_surface_line(&line, 300, 0, 16700), DIA_OK);
    for (int k = 0; k < 2; k++) {
        looks[k]->defaults(&values);
        looks[k]->render(&values, &wall, 98765, 0, 1800, a);
        for (uint32_t i = 0; i < 1800; i++) {
            looks[k]->render(&values, &wall, 98765, i, 1, b);
            assert_memory_equal(b, a + i, sizeof *a);
        }
    }
    /* the same of points that lie anyhow: from one to the next both ways change */
    static struct dia_point points[300];
    static struct dia_rgb own[300];
    struct dia_surface sky;
    struct dia_places places;
    uint32_t seed = 5;
    for (int32_t i = 0; i < 300; i++)
        points[i] = (struct dia_point){(int32_t)random_below(&seed, 90000), 7000 * i};
    assert_int_equal(dia_surface_places(&sky, &places, points, 300, 16700), DIA_OK);
    for (int k = 0; k < 2; k++) {
        looks[k]->defaults(&values);
        looks[k]->render(&values, &sky, 98765, 0, 300, own);
        for (uint32_t i = 0; i < 300; i++) {
            looks[k]->render(&values, &sky, 98765, i, 1, b);
            assert_memory_equal(b, own + i, sizeof *own);
        }
    }
    dia_water_render(&values.water, &line, 98765, 0, 300, b);
    for (uint32_t row = 0; row < 300; row++) {
        struct dia_point at = dia_surface_point(&wall, row * 6);
        assert_true(at.x_um == 0 && at.y_um == (int32_t)row * 16700);
        differ += channel_step(a[row * 6], b[row]) > 5;
        alike += channel_step(a[row * 6], a[row * 6 + 5]) <= 5;
    }
    assert_true(differ <= 3 && alike < 150);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(hue_sweep_is_even_to_the_eye),
        cmocka_unit_test(a_line_looks_as_one_row_of_a_grid),
        cmocka_unit_test(noise_on_a_grid_is_that_of_each_element_alone),
        cmocka_unit_test(hue_sweep_closes_on_any_length),
        cmocka_unit_test(hue_sweep_moves_at_its_speed),
        cmocka_unit_test(hue_sweep_starts_red_and_obeys_level_and_saturation),
        cmocka_unit_test(drift_stays_in_its_palette_and_moves_smoothly),
        cmocka_unit_test(colours_stay_at_their_places),
        cmocka_unit_test(breathe_rises_and_falls_in_its_period),
        cmocka_unit_test(blink_keeps_its_duty),
        cmocka_unit_test(chase_has_lights_at_even_distances),
        cmocka_unit_test(a_chase_does_not_drift),
        cmocka_unit_test(bounce_glides_from_end_to_end),
        cmocka_unit_test(glimmer_stays_within_its_depth),
        cmocka_unit_test(no_look_jumps_when_time_wraps),
        cmocka_unit_test(looks_are_pure),
        cmocka_unit_test(each_choice_has_its_words),
        cmocka_unit_test(parameters_out_of_range_are_named),
        cmocka_unit_test(a_line_has_places_in_mm_and_limits),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
