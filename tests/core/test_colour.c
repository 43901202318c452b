/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <math.h>

#include <diachrome/colour.h>

/* The curve as IEC 61966-2-1 writes it. */
static double curve(double code)
{
    return code <= 0.04045 ? code / 12.92 : pow((code + 0.055) / 1.055, 2.4);
}

static void light_is_the_curve_rounded(void **state)
{
    (void)state;
    for (int code = 0; code < 256; code++)
        assert_int_equal(dia_light_of((uint8_t)code), lround(65535 * curve(code / 255.0)));
    /* by hand: 10 / 255 / 12.92 * 65535 = 198.9; 188 is about half the light of 255 */
    assert_int_equal(dia_light_of(10), 199);
    assert_in_range(dia_light_of(188), 32300, 33300);
}

static void code_is_the_nearest_of_all(void **state)
{
    (void)state;
    for (uint32_t light = 0; light < 65536; light++) {
        uint32_t found = dia_light_of(dia_code_of((dia_light)light));
        uint32_t distance = found > light ? found - light : light - found;
        for (uint32_t code = 0; code < 256; code++) {
            uint32_t other = dia_light_of((uint8_t)code);
            assert_true(distance <= (other > light ? other - light : light - other));
        }
    }
    for (uint32_t code = 0; code < 256; code++)
        assert_int_equal(dia_code_of(dia_light_of((uint8_t)code)), code);
}

static void a_mix_is_made_of_light(void **state)
{
    (void)state;
    struct dia_rgb black = {0, 0, 0}, white = {255, 255, 255};
    struct dia_rgb half = dia_rgb_mix(black, white, DIA_SHARE_ONE / 2);
    assert_int_equal(half.r, 188); /* half the light, not half the code (128) */
    assert_int_equal(dia_rgb_mix(black, white, 0).g, 0);
    assert_int_equal(dia_rgb_mix(black, white, DIA_SHARE_ONE).b, 255);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(light_is_the_curve_rounded),
        cmocka_unit_test(code_is_the_nearest_of_all),
        cmocka_unit_test(a_mix_is_made_of_light),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
