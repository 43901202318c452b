/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <math.h>
#include <string.h>

#include <diachrome/diachrome.h>

static void a_gamma_is_a_power(void **state)
{
    (void)state;
    static uint16_t table[256];
    double worst = 0;
    for (uint16_t gamma = 1000; gamma <= 4000; gamma = (uint16_t)(gamma + 50)) {
        assert_int_equal(dia_curve_gamma(table, gamma), DIA_OK);
        for (int code = 0; code < 256; code++) {
            double error = fabs(table[code] - 65280 * pow(code / 255.0, gamma / 1000.0));
            worst = error > worst ? error : worst;
        }
        assert_int_equal(table[0], 0);
        assert_int_equal(table[255], 65280);
    }
    assert_true(worst <= 2);
    assert_int_equal(dia_curve_gamma(table, 999), DIA_BAD_VALUE);
    assert_int_equal(dia_curve_gamma(table, 4001), DIA_BAD_VALUE);
}

/* Every kind of channels follows the curve: with gamma 2 a code of 128 is 0.25196 of full light, in
 * the mean of 256 frames and on its limiter's scale; with the curve of sRGB it is 0.21586. */
static void every_part_follows_the_curve(void **state)
{
    (void)state;
    static const struct dia_channels *const kinds[] = {&dia_channels_rgb, &dia_channels_series,
                                                       &dia_channels_rgbw, &dia_channels_seven};
    static const struct dia_power power = {{10000, 10000, 10000, 10000}, 0};
    static uint16_t table[256];
    struct dia_rgb pixels[300];
    uint8_t out[1200];
    assert_int_equal(dia_curve_gamma(table, 2000), DIA_OK);
    for (int n = 10; n <= 300; n += 290) { /* with tables of their own, and without */
        for (size_t k = 0; k < sizeof kinds / sizeof kinds[0]; k++) {
            struct dia_develop develop;
            struct dia_carry carry;
            double sum[2] = {0, 0}, full = kinds[k] == &dia_channels_seven ? 127 : 255;
            uint32_t draws[2];
            for (int curved = 0; curved < 2; curved++) {
                for (int i = 0; i < n; i++)
                    pixels[i] = (struct dia_rgb){128, 0, 0};
                dia_develop_init(&develop, kinds[k]);
                if (curved)
                    develop.curve = table;
                for (uint32_t slot = 0; slot < 256; slot++) {
                    dia_develop_begin(&develop, slot);
                    dia_carry_begin(&carry, &develop);
                    dia_develop_run(&develop, &carry, pixels, (uint16_t)n, out);
                    for (int i = 0; i < n; i++)
                        sum[curved] += out[i * kinds[k]->count] / full / 256 / n;
                }
                draws[curved] = kinds[k]->draw_ua(&develop, &power, pixels, (uint16_t)n);
            }
            assert_true(fabs(sum[0] - 0.21586) < 0.0002 && fabs(sum[1] - 0.25196) < 0.0002);
            assert_true(fabs(draws[1] / (10000.0 * n) - 0.25196) < 0.0005);
        }
    }
}

/* The table is for speed alone: the same bytes, dimmed or not. */
static void a_table_gives_the_same_bytes(void **state)
{
    (void)state;
    uint32_t seed = 3;
    static uint16_t table[256];
    static struct dia_rgb pixels[500];
    static uint8_t one[1500], two[1500];
    for (int round = 0; round < 200; round++) {
        struct dia_develop plain, quick;
        struct dia_carry carry;
        uint16_t n = (uint16_t)(1 + random_below(&seed, 500));
        for (int i = 0; i < n; i++)
            pixels[i] = (struct dia_rgb){(uint8_t)random_below(&seed, 256),
                                         (uint8_t)random_below(&seed, 256), 0};
        dia_develop_init(&plain, &dia_channels_rgb);
        plain.master = (dia_share)random_below(&seed, DIA_SHARE_ONE + 1);
        dia_develop_begin(&plain, (uint32_t)round);
        dia_develop_limit(&plain, (dia_share)random_below(&seed, DIA_SHARE_ONE + 1));
        quick = plain;
        quick.channels = &dia_channels_rgb_table;
        if (round % 4 == 0) { /* without its table, and with that of another gain: the same bytes */
            quick.table = round % 8 ? table : NULL;
            quick.table_gain = (dia_share)(quick.gain[0] ^ 1u);
        } else {
            assert_int_equal(dia_develop_prepare(&quick, table), DIA_OK);
        }
        dia_carry_begin(&carry, &plain);
        dia_develop_run(&plain, &carry, pixels, n, one);
        dia_carry_begin(&carry, &quick);
        dia_develop_run(&quick, &carry, pixels, n, two);
        assert_memory_equal(one, two, 3 * n);
        plain.gain[1] ^= 1;
        assert_int_equal(dia_develop_prepare(&plain, table), DIA_UNSUPPORTED);
    }
}

/* All codes, on every channel, in every frame: dithering has nothing to add. */
static void a_straight_curve_sends_what_is_typed(void **state)
{
    (void)state;
    struct dia_develop develop;
    struct dia_carry carry;
    uint16_t made[256];
    struct dia_rgb pixels[256];
    uint8_t one[768];
    assert_int_equal(dia_curve_gamma(made, 1000), DIA_OK); /* `curve: 1` of a rig */
    assert_memory_equal(made, dia_curve_straight, sizeof made);
    for (uint16_t i = 0; i < 256; i++)
        pixels[i] = (struct dia_rgb){(uint8_t)i, (uint8_t)(255 - i), (uint8_t)(i * 7)};
    dia_develop_init(&develop, &dia_channels_rgb);
    develop.curve = dia_curve_straight;
    for (uint32_t slot = 0; slot < 256; slot++) {
        dia_develop_begin(&develop, slot);
        dia_carry_begin(&carry, &develop);
        dia_develop_run(&develop, &carry, pixels, 256, one);
        assert_memory_equal(one, pixels, sizeof pixels[0] * 256);
    }
}

/* By hand: 100 of 125 is 0.8, and 100 of 160 is 0.625. */
static void a_measured_white_becomes_even(void **state)
{
    (void)state;
    static const uint32_t seen[3] = {100, 125, 160}, none[3] = {100, 0, 100},
                          far[3] = {1, 1, 65537};
    dia_share white[4] = {7, 7, 7, 7};
    assert_int_equal(dia_white_measured(white, none), DIA_BAD_VALUE);
    assert_int_equal(dia_white_measured(white, far), DIA_BAD_VALUE);
    assert_int_equal(white[0], 7);
    assert_int_equal(dia_white_measured(white, seen), DIA_OK);
    assert_int_equal(white[0], DIA_SHARE_ONE);
    assert_int_equal(white[1], 26214);
    assert_int_equal(white[2], 20480);
    assert_int_equal(white[3], DIA_SHARE_ONE);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(a_gamma_is_a_power),
        cmocka_unit_test(every_part_follows_the_curve),
        cmocka_unit_test(a_table_gives_the_same_bytes),
        cmocka_unit_test(a_straight_curve_sends_what_is_typed),
        cmocka_unit_test(a_measured_white_becomes_even),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
