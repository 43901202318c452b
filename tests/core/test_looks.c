/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <stdlib.h>
#include <string.h>

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

/* Whatever the length, the step from the last pixel to the first is a step like the others. */
static void hue_sweep_closes_on_any_length(void **state)
{
    (void)state;
    struct dia_hue_sweep sweep;
    dia_hue_sweep_defaults(&sweep);
    for (uint32_t count = 2; count <= MOST; count += count < 40 ? 1 : 97) {
        for (sweep.turns = 1; sweep.turns <= 3; sweep.turns++) {
            struct dia_surface line = line_of(count);
            dia_hue_sweep_render(&sweep, &line, 0, 0, count, a);
            /* 1536 codes round the circle, spread over count / turns pixels */
            int expected = 1536 * sweep.turns / (int)count + 2;
            assert_true(channel_step(a[count - 1], a[0]) <= (expected < 255 ? expected : 255));
            /* the pixel after the last, were there one, is the first again */
            dia_hue_sweep_render(&sweep, &line, 0, count, 1, b);
            assert_true(channel_step(b[0], a[0]) <= 1);
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
            assert_true(channel_step(a[i], b[i + away * 10]) <= 1);
        assert_true(channel_step(a[20], b[20]) > 50);
    }
}

/* By hand: hue 0 is red, a third of the way green, two thirds blue; half level halves the code. */
static void hue_sweep_starts_red_and_obeys_level_and_saturation(void **state)
{
    (void)state;
    struct dia_hue_sweep sweep;
    dia_hue_sweep_defaults(&sweep);
    struct dia_surface line = line_of(300);
    dia_hue_sweep_render(&sweep, &line, 0, 0, 300, a);
    assert_memory_equal(&a[0], (&(struct dia_rgb){255, 0, 0}), 3);
    assert_true(channel_step(a[100], (struct dia_rgb){0, 255, 0}) <= 1);
    assert_true(channel_step(a[200], (struct dia_rgb){0, 0, 255}) <= 1);
    sweep.level = DIA_SHARE_ONE / 2;
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
    drift.palette = (struct dia_palette){2, {{0, 0, 0}, {0, 200, 0}}};
    struct dia_surface line = line_of(MOST);
    int least = 255, most = 0;
    for (uint32_t ms = 0; ms < 60000; ms += 500) {
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
        for (uint32_t ms = UINT32_MAX - 2; ms != 3; ms++) {
            (*look)->render(&values, &line, ms, 0, 120, a);
            (*look)->render(&values, &line, ms + 1, 0, 120, b);
            for (int i = 0; i < 120; i++)
                assert_true(channel_step(a[i], b[i]) <= 4);
        }
    }
}

/* Any stretch at any time, in any order, is the same picture as the whole. */
static void looks_are_pure(void **state)
{
    (void)state;
    struct dia_surface line = line_of(500);
    for (const struct dia_look *const *look = dia_looks; *look; look++) {
        union dia_look_values values;
        (*look)->defaults(&values);
        (*look)->render(&values, &line, 12345, 0, 500, a);
        (*look)->render(&values, &line, 99, 0, 500, b);
        for (uint32_t first = 500; first-- > 0;)
            (*look)->render(&values, &line, 12345, first, 1, &b[first]);
        assert_memory_equal(a, b, 500 * sizeof a[0]);
    }
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

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(hue_sweep_closes_on_any_length),
        cmocka_unit_test(hue_sweep_moves_at_its_speed),
        cmocka_unit_test(hue_sweep_starts_red_and_obeys_level_and_saturation),
        cmocka_unit_test(drift_stays_in_its_palette_and_moves_smoothly),
        cmocka_unit_test(no_look_jumps_when_time_wraps),
        cmocka_unit_test(looks_are_pure),
        cmocka_unit_test(parameters_out_of_range_are_named),
        cmocka_unit_test(a_line_has_places_in_mm_and_limits),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
