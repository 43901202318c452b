/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <math.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/layer.h>
#include <diachrome/layout.h>

#define MOST 3000

static struct dia_rgb out[MOST], other[MOST];
static const struct dia_steady white = {{255, 255, 255}}, grey = {{100, 100, 100}};

static struct dia_surface line_of(uint32_t count)
{
    struct dia_surface line;
    assert_int_equal(dia_surface_line(&line, count, 0, 10000), DIA_OK);
    return line;
}

/* What a blend should give, of 0..1. */
static double blended(enum dia_blend blend, double below, double above)
{
    switch (blend) {
    case DIA_BLEND_ADD:
        return fmin(below + above, 1);
    case DIA_BLEND_SCREEN:
        return 1 - (1 - below) * (1 - above);
    case DIA_BLEND_MULTIPLY:
        return below * above;
    case DIA_BLEND_LIGHTEN:
        return fmax(below, above);
    case DIA_BLEND_DARKEN:
        return fmin(below, above);
    default:
        return above;
    }
}

/* Every pair of codes, at several levels: within one code of the double; exact at full level. */
static void blends_are_what_their_formula_says(void **state)
{
    (void)state;
    struct dia_surface line = line_of(3);
    for (uint8_t blend = DIA_BLEND_OVER; blend <= DIA_BLEND_DARKEN; blend++) {
        for (int pair = 0; pair < 65536; pair++) {
            uint8_t below = (uint8_t)pair, above = (uint8_t)(pair >> 8);
            struct dia_steady a = {{below, below, 0}}, b = {{above, 255, above}};
            struct dia_layer layers[2];
            struct dia_stack stack = {layers, 2};
            dia_layer_init(&layers[0], &line, dia_look_steady.render, &a);
            dia_layer_init(&layers[1], &line, dia_look_steady.render, &b);
            layers[1].blend = blend;
            for (int level = 4; level >= 0; level -= 2) {
                layers[1].level = (dia_share)((uint32_t)level * DIA_SHARE_ONE / 4);
                dia_stack_render(&stack, 0, 2, 1, out);
                double exact = blended(blend, below / 255.0, above / 255.0) * 255;
                exact = below + (exact - below) * level / 4;
                assert_true(fabs(out[0].r - exact) <= (level == 2 ? 1.01 : 0.51));
                exact = blended(blend, below / 255.0, 1) * 255;
                assert_true(fabs(out[0].g - (below + (exact - below) * level / 4)) <= 1.01);
            }
        }
    }
}

/* By hand: fades in from 1 s to 2 s, stays until 4 s, is gone at 5 s; and its time begins there. */
static void a_layer_comes_and_goes_at_its_time(void **state)
{
    (void)state;
    static const struct {
        uint32_t ms;
        int code;
    } by_hand[] = {{0, 0}, {999, 0}, {1500, 127}, {2000, 255}, {3999, 255}, {4500, 127}, {5000, 0}};
    struct dia_surface line = line_of(4);
    struct dia_layer layer;
    struct dia_stack stack = {&layer, 1};
    dia_layer_init(&layer, &line, dia_look_steady.render, &white);
    layer.start_ms = 1000;
    layer.length_ms = 4000;
    layer.fade_in_ms = layer.fade_out_ms = 1000;
    for (size_t k = 0; k < sizeof by_hand / sizeof by_hand[0]; k++) {
        dia_stack_render(&stack, by_hand[k].ms, 0, 1, out);
        assert_true(abs(out[0].r - by_hand[k].code) <= 1);
    }
    dia_layers_settle(&layer, 1, 5999); /* what is over stays so, and is not drawn */
    assert_int_equal(layer.level, 0);
    struct dia_pulse pulse;
    dia_pulse_defaults(&pulse);
    line = line_of(120);
    dia_layer_init(&layer, &line, dia_look_pulse.render, &pulse);
    layer.start_ms = 700;
    dia_stack_render(&stack, 1200, 0, 120, out);
    dia_pulse_render(&pulse, &line, 500, 0, 120, other);
    assert_memory_equal(out, other, 120 * sizeof out[0]);
}

/* A part of the frame, and a mask that is a pulse on the middle of it. */
static void a_layer_may_cover_a_part_and_have_a_mask(void **state)
{
    (void)state;
    struct dia_surface all = line_of(40), part = line_of(20);
    struct dia_layer layers[2];
    struct dia_stack stack = {layers, 2};
    struct dia_wave mask;
    dia_wave_init(&mask);
    mask.shape = DIA_WAVE_PULSE;
    mask.duty = DIA_SHARE_ONE / 2 - 500; /* ends between two elements */
    dia_layer_init(&layers[0], &all, dia_look_steady.render, &grey);
    dia_layer_init(&layers[1], &part, dia_look_steady.render, &white);
    layers[1].first = 10;
    layers[1].mask = &mask;
    dia_stack_render(&stack, 0, 0, 40, out);
    for (int i = 0; i < 40; i++)
        assert_int_equal(out[i].r, i >= 10 && i < 20 ? 255 : 100);
    mask.low = DIA_SHARE_ONE / 2; /* half of it outside the pulse: between 100 and 255 */
    dia_stack_render(&stack, 0, 0, 40, out);
    assert_in_range(out[25].r, 177, 178);
    assert_int_equal(out[35].r, 100);
}

/* By hand, 40 below and 100 above, as in docs/layers.md: over, add, screen, multiply, lighten and
 * darken are 100, 140, 124, 16, 100, 40. A mask of all is as none; of half, half of the way. */
static void each_blend_takes_a_mask(void **state)
{
    (void)state;
    static const uint8_t by_hand[] = {100, 140, 124, 16, 100, 40};
    static struct dia_steady below = {{40, 40, 40}}, above = {{100, 100, 100}};
    struct dia_surface line = line_of(4);
    struct dia_layer layers[2];
    struct dia_stack stack = {layers, 2};
    struct dia_wave mask;
    dia_wave_init(&mask);
    mask.shape = DIA_WAVE_PULSE;
    mask.duty = 0; /* nowhere on: `low` of it everywhere */
    dia_layer_init(&layers[0], &line, dia_look_steady.render, &below);
    dia_layer_init(&layers[1], &line, dia_look_steady.render, &above);
    layers[1].mask = &mask;
    for (uint8_t blend = 0; blend < 6; blend++) {
        layers[1].blend = blend;
        mask.low = DIA_SHARE_ONE;
        dia_stack_render(&stack, 0, 0, 4, out);
        assert_int_equal(out[3].g, by_hand[blend]);
        mask.low = DIA_SHARE_ONE / 2;
        dia_stack_render(&stack, 0, 0, 4, out);
        assert_in_range(out[3].g, (40 + by_hand[blend]) / 2, (41 + by_hand[blend]) / 2);
        mask.low = 0;
        dia_stack_render(&stack, 0, 0, 4, out);
        assert_int_equal(out[3].g, 40);
    }
}

/* Against composing whole frames, one layer after the other; and any stretch is the same. */
static void a_stack_is_pure_and_the_sum_of_its_layers(void **state)
{
    (void)state;
    struct dia_surface line = line_of(MOST);
    struct dia_layer layers[32];
    static union dia_look_values values[32];
    struct dia_stack stack = {layers, 0};
    uint32_t seed = 4;
    for (const struct dia_look *const *look = dia_looks; *look; look++) {
        struct dia_layer *layer = &layers[stack.count];
        (*look)->defaults(&values[stack.count]);
        dia_layer_init(layer, &line, (*look)->render, &values[stack.count++]);
        layer->blend = (uint8_t)random_below(&seed, 6);
        layer->level = (dia_share)(DIA_SHARE_ONE / 2 + random_below(&seed, DIA_SHARE_ONE / 2));
    }
    static struct dia_rgb whole[MOST], piece[MOST];
    dia_stack_render(&stack, 54321, 0, MOST, whole);
    for (int k = 0; k < 300; k++) {
        uint32_t first = random_below(&seed, MOST), n = 1 + random_below(&seed, MOST - first);
        dia_stack_render(&stack, random_below(&seed, 100000), first, n, piece);
        dia_stack_render(&stack, 54321, first, n, piece);
        assert_memory_equal(piece, whole + first, n * sizeof piece[0]);
    }
    memset(out, 0, sizeof out);
    for (uint8_t k = 0; k < stack.count; k++) {
        uint8_t blend = layers[k].blend;
        if (blend == DIA_BLEND_OVER) /* what a drawing goes over; the others fill it */
            memcpy(other, out, sizeof other);
        else
            memset(other, blend == DIA_BLEND_MULTIPLY || blend == DIA_BLEND_DARKEN ? 255 : 0,
                   sizeof other);
        layers[k].render(layers[k].values, &line, 54321, 0, MOST, other);
        uint16_t alpha = (uint16_t)((layers[k].level * 2u - 1u + 128u) >> 8);
        for (int i = 0; i < MOST; i++) {
            uint8_t *below = &out[i].r, *above = &other[i].r;
            for (int c = 0; c < 3; c++) {
                double r = blended(layers[k].blend, below[c] / 255.0, above[c] / 255.0) * 255;
                below[c] = (uint8_t)lround(below[c] + (round(r) - below[c]) * alpha / 256.0);
            }
        }
    }
    for (int i = 0; i < MOST; i++)
        assert_true(abs(out[i].r - whole[i].r) <= 2 && abs(out[i].g - whole[i].g) <= 2);
}

static void stacks_can_be_cross_faded(void **state)
{
    (void)state;
    struct dia_surface line = line_of(5);
    struct dia_layer one, two;
    struct dia_stack from = {&one, 1}, to = {&two, 1};
    dia_layer_init(&one, &line, dia_look_steady.render, &grey);
    dia_layer_init(&two, &line, dia_look_steady.render, &white);
    for (uint32_t percent = 0; percent <= 100; percent += 10) {
        dia_stack_cross(&from, &to, dia_share_percent((uint8_t)percent), 0, 0, 5, out);
        assert_true(fabs(out[4].r - (100 + 1.55 * percent)) <= 1.01);
    }
}

/* Sine, triangle, saw: of the wave's length, moving at its speed, between low and full. */
static void waves_move_along_a_surface(void **state)
{
    (void)state;
    struct dia_surface line = line_of(100);
    struct dia_wave wave;
    uint16_t now[100], later[100];
    for (uint8_t shape = DIA_WAVE_SINE; shape <= DIA_WAVE_PULSE; shape++) {
        uint16_t least = 65535, most = 0;
        dia_wave_init(&wave);
        wave.shape = shape;
        wave.length_um = 250000;
        wave.speed_um_s = 100000; /* an element in 100 ms */
        wave.low = DIA_SHARE_ONE / 4;
        dia_wave_run(&wave, &line, 1005, 0, 100, now);
        dia_wave_run(&wave, &line, 1305, 0, 100, later);
        for (int i = 0; i < 75; i++) {
            assert_true(abs(now[i] - now[i + 25]) <= 2);
            assert_true(abs(now[i] - later[i + 3]) <= 2);
            least = now[i] < least ? now[i] : least;
            most = now[i] > most ? now[i] : most;
        }
        assert_in_range(least, 16383, 16383 + 65535 / 20);
        assert_in_range(most, 65535 - 65535 / 20, 65535);
    }
    wave.period_ms = 2000; /* and all of it dark at once */
    dia_wave_run(&wave, &line, 2000, 0, 100, now);
    assert_in_range(now[0], 16383, 16384);
}

/* Over 60 days with a call a week: what has ended does not begin again, nor what has faded in. */
static void layers_stay_as_they_are_after_49_days(void **state)
{
    (void)state;
    static struct dia_steady red = {{200, 0, 0}}, green = {{0, 200, 0}};
    struct dia_surface one;
    struct dia_layer layers[2];
    struct dia_stack stack = {layers, 2};
    struct dia_rgb seen;
    assert_int_equal(dia_surface_line(&one, 1, 0, 1000), DIA_OK);
    dia_layer_init(&layers[0], &one, dia_look_steady.render, &red);
    dia_layer_init(&layers[1], &one, dia_look_steady.render, &green);
    layers[0].fade_in_ms = 60000;
    layers[1].blend = DIA_BLEND_ADD;
    layers[1].start_ms = 100000;
    layers[1].length_ms = 3600000;
    for (uint32_t hour = 0; hour < 60 * 24; hour++) {
        uint32_t ms = hour * 3600000u + 30000u;
        if (hour % (7 * 24) == 0)
            dia_layers_settle(layers, 2, ms);
        dia_stack_render(&stack, ms, 0, 1, &seen);
        assert_int_equal(seen.r, hour == 0 ? 100 : 200);
        assert_int_equal(seen.g, hour == 1 ? 200 : 0);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(blends_are_what_their_formula_says),
        cmocka_unit_test(a_layer_comes_and_goes_at_its_time),
        cmocka_unit_test(a_layer_may_cover_a_part_and_have_a_mask),
        cmocka_unit_test(each_blend_takes_a_mask),
        cmocka_unit_test(a_stack_is_pure_and_the_sum_of_its_layers),
        cmocka_unit_test(stacks_can_be_cross_faded),
        cmocka_unit_test(waves_move_along_a_surface),
        cmocka_unit_test(layers_stay_as_they_are_after_49_days),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
