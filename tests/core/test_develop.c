/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <math.h>

#include <stdlib.h>
#include <string.h>

#include <diachrome/develop.h>

#define COUNT 97
#define LONG  700

static void fill_at_random(struct dia_rgb *pixels, uint32_t n, uint32_t seed)
{
    for (uint32_t i = 0; i < n; i++) {
        pixels[i].r = (uint8_t)random_below(&seed, 256);
        pixels[i].g = (uint8_t)random_below(&seed, 256);
        pixels[i].b = (uint8_t)random_below(&seed, 256);
    }
}

static void run(const struct dia_develop *develop, const struct dia_rgb *pixels, uint16_t n,
                uint8_t *out)
{
    struct dia_carry carry;
    dia_carry_begin(&carry, develop);
    dia_develop_run(develop, &carry, pixels, n, out);
}

static void black_and_full_never_dither(void **state)
{
    (void)state;
    struct dia_rgb pixels[2][COUNT];
    uint8_t out[3 * COUNT];
    memset(pixels[0], 0, sizeof pixels[0]);
    memset(pixels[1], 255, sizeof pixels[1]);
    struct dia_develop develop;
    dia_develop_init(&develop, &dia_channels_rgb);
    develop.time_from = DIA_TIME_ALWAYS;
    for (uint32_t slot = 0; slot < 256; slot++) {
        dia_develop_begin(&develop, slot);
        for (int full = 0; full < 2; full++) {
            run(&develop, pixels[full], COUNT, out);
            for (int i = 0; i < 3 * COUNT; i++)
                assert_int_equal(out[i], full ? 255 : 0);
        }
    }
}

/* Over 256 frames each byte sums up to the light times 256: out of 255 * 256 = 65280 for full. */
static void every_pixel_is_right_on_average(void **state)
{
    (void)state;
    struct dia_rgb pixels[COUNT];
    uint8_t out[3 * COUNT];
    uint32_t sums[3 * COUNT] = {0};
    fill_at_random(pixels, COUNT, 7);
    struct dia_develop develop;
    dia_develop_init(&develop, &dia_channels_rgb);
    develop.time_from = DIA_TIME_ALWAYS;
    develop.master = dia_share_percent(25);
    for (uint32_t slot = 0; slot < 256; slot++) {
        dia_develop_begin(&develop, slot);
        run(&develop, pixels, COUNT, out);
        for (int i = 0; i < 3 * COUNT; i++)
            sums[i] += out[i];
    }
    for (int i = 0; i < COUNT; i++) {
        const uint8_t *code = &pixels[i].r;
        for (int c = 0; c < 3; c++) {
            double ideal = 65280.0 / 65535.0 * dia_light_of(code[c]) / 4;
            double error = sums[3 * i + c] - ideal;
            assert_true(error > -2 && error < 2);
        }
    }
}

/* light 32 of 65280 is an eighth of a step: it shows on one of eight neighbours, and on each
 * pixel in one of eight frames, evenly spread in time */
static void the_dimmest_light_takes_turns(void **state)
{
    (void)state;
    struct dia_rgb pixels[8];
    uint8_t out[24];
    memset(pixels, 10, sizeof pixels); /* code 10 is light 199, see the curve's test */
    struct dia_develop develop;
    dia_develop_init(&develop, &dia_channels_rgb);
    develop.time_from = DIA_TIME_ALWAYS;
    develop.master = (dia_share)(DIA_SHARE_ONE * 32 / 199 + 1);
    int last = -1;
    for (int slot = 0; slot < 64; slot++) {
        dia_develop_begin(&develop, (uint32_t)slot);
        run(&develop, pixels, 8, out);
        int lit = 0;
        for (int i = 0; i < 8; i++)
            lit += out[3 * i];
        assert_int_equal(lit, 1);
        if (out[0]) {
            assert_in_range(slot - last, 5, 11);
            last = slot;
        }
    }
}

/* A part with a level shows byte * level of 255 * 31 = 7905 small steps. For every light that a
 * curve can have, of 65280: the level is the least that holds it, and the byte what is whole of it;
 * less than two 128ths of a step are cut off before. */
static void the_level_is_the_least_that_holds_the_light(void **state)
{
    (void)state;
    static uint16_t curve[256];
    struct dia_rgb pixel = {0, 1, 0};
    struct dia_develop develop;
    uint8_t out[4];
    dia_develop_init(&develop, &dia_channels_level);
    develop.curve = curve;
    dia_develop_begin(&develop, 0);
    develop.phase = 0; /* nothing is carried to the first */
    for (uint32_t v = 0; v <= 65280; v++) {
        curve[1] = (uint16_t)v;
        run(&develop, &pixel, 1, out);
        uint32_t level = v ? (v * 31 + 65279) / 65280 : 1;
        double drive = v * 7905.0 / 65280 / level;
        assert_int_equal(out[3], level);
        assert_int_equal(out[0] + out[2], 0);
        assert_true(out[1] <= drive && out[1] > drive - 1 - 2 / 128.0);
    }
    assert_true(out[1] == 255 && out[3] == 31);
}

/* Whatever the levels beside each other are, a strip never has more light than it should by more
 * than its first carry; and where all is one colour, each pixel is right on average. */
static void levels_add_no_light(void **state)
{
    (void)state;
    enum { MANY = 300, ALIKE = 40 };
    static struct dia_rgb pixels[MANY];
    static uint8_t out[4 * MANY];
    uint32_t sums[ALIKE] = {0};
    struct dia_develop develop;
    dia_develop_init(&develop, &dia_channels_level);
    develop.time_from = DIA_TIME_ALWAYS;
    develop.master = dia_share_percent(70);
    for (uint32_t slot = 0; slot < 256; slot++) {
        fill_at_random(pixels, MANY, slot);
        if (slot % 2) /* dim and bright in turns */
            for (int i = 0; i < MANY; i += 2)
                pixels[i] = (struct dia_rgb){3, 9, (uint8_t)(slot / 2)};
        dia_develop_begin(&develop, slot);
        run(&develop, pixels, MANY, out);
        for (int c = 0; c < 3; c++) {
            double exact = develop.phase / 256.0 * out[3], shown = 0;
            for (int i = 0; i < MANY; i++) {
                exact += dia_light_of((&pixels[i].r)[c]) * 0.7 * 7905 / 65535;
                shown += out[4 * i + c] * out[4 * i + 3];
            }
            assert_true(shown <= exact && shown > exact * 0.99);
        }
        memset(pixels, 150, ALIKE * sizeof *pixels);
        run(&develop, pixels, ALIKE, out);
        for (int i = 0; i < ALIKE; i++)
            sums[i] += (uint32_t)out[4 * i] * out[4 * i + 3];
    }
    double exact = dia_light_of(150) * 0.7 * 7905 / 65535 * 256;
    for (int i = 0; i < ALIKE; i++)
        assert_true(sums[i] > exact * 0.999 && sums[i] < exact * 1.001);
}

static void stretches_and_shared_memory_give_the_same_bytes(void **state)
{
    (void)state;
    static const struct dia_channels *const kinds[] = {&dia_channels_rgb, &dia_channels_rgbw,
                                                       &dia_channels_series, &dia_channels_level,
                                                       &dia_channels_seven};
    for (int kind = 0; kind < 5; kind++) {
        uint8_t channels = kinds[kind]->count;
        uint8_t memory[4 * LONG], whole[4 * LONG], parts[4 * LONG];
        struct dia_rgb pixels[LONG];
        fill_at_random(pixels, LONG, 40u + (uint32_t)kind);
        struct dia_develop develop;
        dia_develop_init(&develop, kinds[kind]);
        develop.white[1] = dia_share_percent(80);
        dia_develop_begin(&develop, 3);
        run(&develop, pixels, LONG, whole);

        static const uint16_t firsts[] = {10, LONG / 2}; /* from 256 on by tables */
        for (int k = 0; k < 2; k++) {
            struct dia_carry carry;
            dia_carry_begin(&carry, &develop);
            dia_develop_run(&develop, &carry, pixels, firsts[k], parts);
            dia_develop_run(&develop, &carry, pixels + firsts[k], (uint16_t)(LONG - firsts[k]),
                            parts + firsts[k] * channels);
            assert_memory_equal(parts, whole, (size_t)channels * LONG);
        }

        uint8_t *tail = memory + (channels - 3) * LONG;
        memcpy(tail, pixels, sizeof pixels);
        run(&develop, (struct dia_rgb *)(void *)tail, LONG, memory);
        assert_memory_equal(memory, whole, (size_t)channels * LONG);
    }
}

/* Rounded down by itself: what a pixel is does not hang on the one before it. A white point that is
 * not even is dithered all the same; kinds with more to do, and small builds, refuse. */
static void without_dithering_equal_colours_are_equal_bytes(void **state)
{
    (void)state;
    static const struct dia_channels *const not_those[] = {&dia_channels_rgbw, &dia_channels_level,
                                                           &dia_channels_rgb_table};
    static const struct dia_channels *const those[] = {&dia_channels_rgb, &dia_channels_seven,
                                                       &dia_channels_series};
    struct dia_rgb pixels[COUNT];
    uint8_t out[3 * COUNT], alone[3], dithered[3 * COUNT];
    uint16_t table[256];
    struct dia_develop develop;
    for (int k = 0; k < 3; k++) {
        dia_develop_init(&develop, not_those[k]);
        assert_int_equal(dia_develop_whole(&develop, table), DIA_UNSUPPORTED);
    }
    fill_at_random(pixels, COUNT, 77);
    for (int k = 0; k < 3; k++) {
        dia_develop_init(&develop, those[k]);
        develop.master = dia_share_percent(37);
        if (dia_develop_whole(&develop, table) == DIA_UNSUPPORTED)
            return; /* curves lie in flash */
        dia_develop_begin(&develop, 3);
        dia_develop_run_whole(&develop, pixels, COUNT, out);
        for (int i = 0; i < COUNT; i++) {
            dia_develop_run_whole(&develop, pixels + i, 1, alone);
            assert_memory_equal(alone, out + 3 * i, 3);
        }
        develop.white[1] = dia_share_percent(80);
        dia_develop_begin(&develop, 3);
        dia_develop_run_whole(&develop, pixels, COUNT, out);
        run(&develop, pixels, COUNT, dithered);
        assert_memory_equal(dithered, out, sizeof out);
    }
}

/* White comes out of the colour in light: the channels plus white are the light asked for. */
static void white_is_taken_out_in_light(void **state)
{
    (void)state;
    struct dia_rgb pixel = {255, 188, 255};
    uint8_t out[4];
    struct dia_develop develop;
    dia_develop_init(&develop, &dia_channels_rgbw);
    develop.time_from = 0;
    dia_develop_begin(&develop, 0);
    run(&develop, &pixel, 1, out);
    /* light of 188 is 32865 of 65535, 127.9 of 255 steps; a carry of half a step rounds it */
    assert_int_equal(out[3], 128);
    assert_int_equal(out[1], 0);
    assert_int_equal(out[0], 127);
    assert_int_equal(out[2], 127);
}

static void white_point_and_master_scale_light(void **state)
{
    (void)state;
    struct dia_rgb pixel = {255, 255, 255};
    uint8_t out[3];
    struct dia_develop develop;
    dia_develop_init(&develop, &dia_channels_rgb);
    develop.time_from = 0;
    develop.master = dia_share_percent(40);
    develop.white[1] = dia_share_percent(50);
    develop.white[2] = 0;
    dia_develop_begin(&develop, 9);
    run(&develop, &pixel, 1, out);
    assert_int_equal(out[0], 102); /* 0.4 * 255 */
    assert_int_equal(out[1], 51);  /* half of that */
    assert_int_equal(out[2], 0);
}

/* From 5 % to 0 in 10 s at 50 frames a second, with a curve of light and without: no drive byte
 * makes a step of more than one, and the light of all pixels together only ever falls. */
static void a_fade_to_dark_never_jumps(void **state)
{
    (void)state;
    struct dia_rgb white[64];
    uint8_t now[192], before[192];
    for (int i = 0; i < 64; i++)
        white[i] = (struct dia_rgb){255, 255, 255};
    for (int squared = 0; squared < 2; squared++) {
        uint64_t last_sum = UINT64_MAX;
        for (uint32_t frame = 0; frame <= 500; frame++) {
            struct dia_develop develop;
            struct dia_carry carry;
            uint64_t sum = 0, left = 500 - frame;
            dia_develop_init(&develop, &dia_channels_rgb);
            develop.time_from = DIA_TIME_ALWAYS;
            develop.master =
                (dia_share)(DIA_SHARE_ONE / 20 * (squared ? left * left : left * 500) / 250000);
            for (uint32_t slot = 0; slot < 256;
                 slot++) { /* what an eye sees, and the first of it */
                uint8_t bytes[192];
                dia_develop_begin(&develop, slot + frame);
                dia_carry_begin(&carry, &develop);
                dia_develop_run(&develop, &carry, white, 64, bytes);
                for (int i = 0; i < 192; i++)
                    sum += bytes[i];
                if (slot == 0)
                    memcpy(now, bytes, sizeof now);
            }
            for (int i = 0; i < 192 && frame; i++)
                assert_true(abs(now[i] - before[i]) <= 1);
            assert_true(sum <= last_sum);
            last_sum = sum;
            memcpy(before, now, sizeof now);
        }
        assert_int_equal(last_sum, 0);
    }
}

/* Every kind in every order of r g b: the bytes are those of no order, each in its place; in one
 * run of 600 as in stretches of 97, and where the bytes take the place of their colours too. */
static void bytes_come_out_in_any_order(void **state)
{
    (void)state;
    static const uint8_t orders[6][3] = {{0, 1, 2}, {0, 2, 1}, {1, 0, 2},
                                         {1, 2, 0}, {2, 0, 1}, {2, 1, 0}};
    static const struct dia_channels *const kinds[] = {&dia_channels_rgb,   &dia_channels_rgb_table,
                                                       &dia_channels_rgbw,  &dia_channels_series,
                                                       &dia_channels_level, &dia_channels_seven};
    static struct dia_rgb pixels[600], colours[600];
    static uint8_t plain[4 * 600], out[4 * 600];
    uint16_t table[256];
    fill_at_random(pixels, 600, 11);
    for (size_t k = 0; k < sizeof kinds / sizeof kinds[0]; k++) {
        uint8_t count = kinds[k]->count;
        struct dia_develop develop;
        struct dia_carry carry;
        dia_develop_init(&develop, kinds[k]);
        develop.master = 20000;
        dia_develop_begin(&develop, 5);
        assert_int_equal(dia_develop_prepare(&develop, table), DIA_OK);
        run(&develop, pixels, 600, plain);
        for (int o = 0; o < 6; o++) {
            struct dia_order order = {{orders[o][0], orders[o][1], orders[o][2], 3}};
            dia_develop_order(&develop, order);
            for (int way = 0; way < 3; way++) {
                uint8_t *to = out;
                memset(out, 0, sizeof out);
                memcpy(colours, pixels, sizeof pixels);
                if (way == 1 && count == 3)
                    to = &colours[0].r;
                dia_carry_begin(&carry, &develop);
                for (uint16_t at = 0, n; at < 600; at = (uint16_t)(at + n)) {
                    n = way == 2 && at + 97 < 600 ? 97 : (uint16_t)(600 - at);
                    dia_develop_run(&develop, &carry, colours + at, n, to + at * count);
                }
                for (uint32_t i = 0; i < 600; i++)
                    for (uint8_t b = 0; b < count; b++)
                        assert_int_equal(to[i * count + b], plain[i * count + order.channel[b]]);
            }
        }
    }
}

/* At 400 frames a second in time is low risk on a drive of 20 and more: 8000 / 400. Half of the
 * master makes it 40 of the same code. Dimmer ones, and rates of 31 and less (8000 / 255), never.
 */
static void dithering_in_time_is_for_what_does_not_flicker(void **state)
{
    (void)state;
    struct dia_develop develop;
    dia_develop_init(&develop, &dia_channels_rgb);
    for (unsigned master = DIA_SHARE_ONE; master >= DIA_SHARE_ONE / 2; master /= 2) {
        for (int drive = 1; drive < 128; drive++) {
            struct dia_rgb pixels[3] = {{0, 0, 0}, {255, 0, 255}, {0, 0, 0}};
            /* the first code whose drive is as large at full master */
            for (pixels[2].g = 1; dia_light_of(pixels[2].g) < (unsigned)drive * 257;)
                pixels[2].g++;
            double is = dia_light_of(pixels[2].g) / 257.0 * master / DIA_SHARE_ONE;
            develop.master = (dia_share)master;
            develop.time_from = DIA_TIME_FROM(400);
            dia_develop_begin(&develop, 77);
            dia_develop_choose(&develop, 77, pixels, 3);
            if (fabs(is - 20) > 0.1) /* 77 with its bits reversed is 178 */
                assert_int_equal(develop.phase, is > 20 ? 178 : 128);
            develop.time_from = DIA_TIME_FROM(31);
            dia_develop_begin(&develop, 77);
            dia_develop_choose(&develop, 77, pixels, 3);
            assert_int_equal(develop.phase, 128);
        }
    }
    const struct dia_rgb white = {255, 255, 255};
    develop.master = DIA_SHARE_ONE;
    develop.time_from = DIA_TIME_FROM(32);
    dia_develop_begin(&develop, 1);
    dia_develop_choose(&develop, 1, &white, 1);
    assert_int_equal(develop.phase, 128); /* 1 with its bits reversed */
    dia_develop_begin(&develop, 2);
    dia_develop_choose(&develop, 2, &white, 1);
    assert_int_equal(develop.phase, 64);
    develop.time_from = 0;
    dia_develop_begin(&develop, 2);
    dia_develop_choose(&develop, 2, &white, 1);
    assert_int_equal(develop.phase, 128);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(dithering_in_time_is_for_what_does_not_flicker),
        cmocka_unit_test(a_fade_to_dark_never_jumps),
        cmocka_unit_test(black_and_full_never_dither),
        cmocka_unit_test(bytes_come_out_in_any_order),
        cmocka_unit_test(every_pixel_is_right_on_average),
        cmocka_unit_test(the_dimmest_light_takes_turns),
        cmocka_unit_test(the_level_is_the_least_that_holds_the_light),
        cmocka_unit_test(levels_add_no_light),
        cmocka_unit_test(stretches_and_shared_memory_give_the_same_bytes),
        cmocka_unit_test(without_dithering_equal_colours_are_equal_bytes),
        cmocka_unit_test(white_is_taken_out_in_light),
        cmocka_unit_test(white_point_and_master_scale_light),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
