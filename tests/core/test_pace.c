/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <math.h>
#include <stdlib.h>

#include <diachrome/pace.h>

/* At any rate: frame k is due k * seconds / frames after the start, rounded down, for hours. */
static void frames_never_drift(void **state)
{
    (void)state;
    static const uint32_t rates[][2] = {{30, 1},   {30000, 1001}, {60, 1}, {1, 1},
                                        {1000, 1}, {7, 3},        {1, 60}, {65535, 4000}};
    for (size_t k = 0; k < sizeof rates / sizeof rates[0]; k++) {
        struct dia_pace pace;
        uint32_t start = 0xfff00000u; /* the clock wraps on the way */
        dia_pace_init(&pace, rates[k][0], rates[k][1]);
        dia_pace_start(&pace, start);
        for (uint64_t frame = 0; frame < 100000; frame++) {
            uint64_t us = frame * rates[k][1] * 1000000u / rates[k][0];
            assert_int_equal(dia_pace_next_us(&pace), (uint32_t)(start + us));
            assert_int_equal(dia_pace_due(&pace, dia_pace_next_us(&pace) - 1), 0);
            assert_int_equal(dia_pace_due(&pace, dia_pace_next_us(&pace)), 1);
            assert_int_equal(pace.frame, frame);
            assert_int_equal(pace.ms, (uint32_t)(us / 1000));
        }
        assert_int_equal(pace.dropped, 0);
    }
}

/* By hand at 50 Hz: 5 ms late, then 47 ms late: two frames are left out, and it is 7 ms late. */
static void late_frames_are_told_and_left_out(void **state)
{
    (void)state;
    struct dia_pace pace;
    dia_pace_init(&pace, 50, 1);
    dia_pace_start(&pace, 1000);
    assert_int_equal(dia_pace_due(&pace, 1000), 1);
    assert_int_equal(dia_pace_due(&pace, 20999), 0);
    assert_int_equal(dia_pace_due(&pace, 26000), 1);
    assert_int_equal(pace.late_us, 5000);
    assert_int_equal(dia_pace_due(&pace, 88000), 1);
    assert_int_equal(pace.late_us, 7000);
    assert_int_equal(pace.dropped, 2);
    assert_int_equal(pace.frame, 4);
    assert_int_equal(pace.ms, 80);
    assert_int_equal(dia_pace_due(&pace, 100999), 0);
}

/* Half as fast, paused, sought: what the show's time is then, by hand. */
static void time_can_be_scaled_paused_and_sought(void **state)
{
    (void)state;
    struct dia_pace pace;
    dia_pace_init(&pace, 100, 1);
    dia_pace_speed(&pace, 128);
    for (int k = 0; k < 11; k++)
        dia_pace_step(&pace);
    assert_int_equal(pace.ms, 50);
    dia_pace_pause(&pace, 1);
    for (int k = 0; k < 10; k++)
        dia_pace_step(&pace);
    assert_int_equal(pace.ms, 50);
    assert_int_equal(pace.frame, 20);
    dia_pace_pause(&pace, 0);
    dia_pace_speed(&pace, 1024);
    dia_pace_step(&pace);
    assert_int_equal(pace.ms, 90);
    dia_pace_seek(&pace, 5000);
    dia_pace_step(&pace);
    assert_int_equal(pace.ms, 5000);
    assert_int_equal(pace.frame, 22);
    dia_pace_step(&pace);
    assert_int_equal(pace.ms, 5040);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(frames_never_drift),
        cmocka_unit_test(late_frames_are_told_and_left_out),
        cmocka_unit_test(time_can_be_scaled_paused_and_sought),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
