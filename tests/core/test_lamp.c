/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <diachrome/lamp.h>

/* Luminance of IEC 61966-2-1 by hand: 0.7152 of light is code 220, 0.2126 is 127, 0.0722 is 76. */
static void a_colour_is_a_lamp_by_its_luminance(void **state)
{
    (void)state;
    assert_int_equal(dia_lamp_of((struct dia_rgb){0, 255, 0}), 220);
    assert_int_equal(dia_lamp_of((struct dia_rgb){255, 0, 0}), 127);
    assert_int_equal(dia_lamp_of((struct dia_rgb){0, 0, 255}), 76);
    for (int code = 0; code < 256; code++)
        assert_in_range(dia_lamp_of((struct dia_rgb){(uint8_t)code, (uint8_t)code, (uint8_t)code}),
                        code, code);
}

/* Steps of every depth are light times master, rounded; with 1 bit code 128 is the first that is
 * on. */
static void levels_become_steps(void **state)
{
    (void)state;
    for (uint8_t depth = 2; depth <= 8; depth++) {
        for (int percent = 0; percent <= 100; percent += 25) {
            for (int code = 0; code < 256; code++) {
                uint8_t level = (uint8_t)code, step;
                dia_share master = dia_share_percent((uint8_t)percent);
                dia_lamps_develop(&level, 1, master, depth, &step);
                double exact = dia_light_of(level) / 65535.0 * percent / 100 * ((1 << depth) - 1);
                assert_true(step > exact - 0.51 && step < exact + 0.51);
            }
        }
    }
    uint8_t levels[4] = {0, 127, 128, 255}, steps[4];
    dia_lamps_develop(levels, 4, DIA_SHARE_ONE, 1, steps);
    assert_memory_equal(steps, ((uint8_t[]){0, 0, 1, 1}), 4);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(a_colour_is_a_lamp_by_its_luminance),
        cmocka_unit_test(levels_become_steps),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
