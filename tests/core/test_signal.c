/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <math.h>
#include <stdlib.h>

#include <diachrome/signal.h>

#define TURN 4294967296.0

static void nearly(double is, double should, double within)
{
    if (fabs(is - should) > within)
        print_error("%.2f should be %.2f\n", is, should);
    assert_true(fabs(is - should) <= within);
}

static void shapes_are_those_of_a_double_reference(void **state)
{
    (void)state;
    uint32_t seed = 4;
    for (int k = 0; k < 200000; k++) {
        dia_phase phase = random_below(&seed, 65536) << 16 | random_below(&seed, 65536);
        double turn = phase / TURN;
        nearly(dia_signal_sine(phase), 65535 * (0.5 - 0.5 * cos(2 * acos(-1.0) * turn)), 12);
        nearly(dia_signal_triangle(phase), 65535 * (turn < 0.5 ? 2 * turn : 2 - 2 * turn), 1);
        nearly(dia_signal_saw(phase), 65535 * turn, 1);
        nearly(dia_phase_there_and_back(phase) / TURN, turn < 0.5 ? 2 * turn : 2 - 2 * turn, 1e-9);
    }
    assert_int_equal(dia_signal_sine(0), 0);
    assert_int_equal(dia_signal_sine(0x80000000u), 65535);
    assert_int_equal(dia_signal_pulse(0x3fffffffu, DIA_SHARE_ONE / 4), 65535);
    assert_int_equal(dia_signal_pulse(0x40000000u, DIA_SHARE_ONE / 4), 0);
    assert_int_equal(dia_signal_pulse(UINT32_MAX, DIA_SHARE_ONE), 65535);
    assert_int_equal(dia_signal_pulse(0, 0), 0);
    /* four steps: 0, a third, two thirds, full */
    static const uint16_t steps[] = {0, 21845, 43690, 65535};
    for (uint32_t k = 0; k < 4; k++) {
        assert_int_equal(dia_signal_steps(k << 30, 4), steps[k]);
        assert_int_equal(dia_signal_steps((k << 30) + 0x3fffffffu, 4), steps[k]);
    }
    assert_int_equal(dia_signal_steps(UINT32_MAX, 255), 65535);
    assert_int_equal(dia_signal_steps(UINT32_MAX, 1), 0);
}

/* The curve itself, walked in double: where its time is x, its level is y. */
static double eased(const struct dia_ease *e, double x)
{
    double x1 = e->x1 / 32768.0, x2 = e->x2 / 32768.0, y1 = e->y1 / 32768.0, y2 = e->y2 / 32768.0;
    double low = 0, high = 1;
    for (int k = 0; k < 60; k++) {
        double t = (low + high) / 2, u = 1 - t;
        if (3 * u * u * t * x1 + 3 * u * t * t * x2 + t * t * t < x)
            low = t;
        else
            high = t;
    }
    double t = low, u = 1 - t;
    return 3 * u * u * t * y1 + 3 * u * t * t * y2 + t * t * t;
}

static void easing_curves_are_those_of_css(void **state)
{
    (void)state;
    const struct dia_ease *curves[] = {&dia_ease_linear, &dia_ease_ease, &dia_ease_in,
                                       &dia_ease_out, &dia_ease_in_out};
    /* x1 y1 x2 y2 of CSS Easing Functions 1 */
    static const double css[5][4] = {
        {0, 0, 1, 1}, {0.25, 0.1, 0.25, 1}, {0.42, 0, 1, 1}, {0, 0, 0.58, 1}, {0.42, 0, 0.58, 1}};
    for (int c = 0; c < 5; c++) {
        assert_int_equal(curves[c]->x1, lround(css[c][0] * 32768));
        assert_int_equal(curves[c]->y1, lround(css[c][1] * 32768));
        assert_int_equal(curves[c]->x2, lround(css[c][2] * 32768));
        assert_int_equal(curves[c]->y2, lround(css[c][3] * 32768));
        uint16_t last = 0;
        for (uint32_t part = 0; part <= 65535; part += 13) {
            uint16_t level = dia_ease_run(curves[c], (uint16_t)part);
            nearly(level, 65535 * eased(curves[c], part / 65535.0), 40);
            assert_true(level + 8 >= last); /* it goes back by no more than its rounding */
            last = level;
        }
        assert_int_equal(dia_ease_run(curves[c], 65535), 65535);
        assert_true(dia_ease_run(curves[c], 0) <= 1);
    }
}

static void time_becomes_phase_without_drift_or_jump(void **state)
{
    (void)state;
    uint32_t seed = 6;
    for (int k = 0; k < 2000; k++) {
        uint32_t period = 1 + random_below(&seed, 3600000), ms = random_below(&seed, 1000000);
        double turns = ms / (double)period;
        nearly(remainder(dia_phase_at(ms, period) / TURN - turns, 1), 0, 1e6 / TURN);
        /* over the wrap of time it goes on by one millisecond's worth */
        assert_int_equal(dia_phase_at(0, period) - dia_phase_at(UINT32_MAX, period),
                         dia_phase_at(1, period));
    }
}

static void envelopes_rise_stay_and_fall(void **state)
{
    (void)state;
    static const struct {
        uint32_t ms;
        uint16_t level;
    } by_hand[] = {{0, 0},       {50, 32767},  {100, 65535}, {299, 65535},
                   {300, 65535}, {500, 32768}, {699, 164},   {700, 0}};
    for (size_t k = 0; k < sizeof by_hand / sizeof by_hand[0]; k++)
        assert_int_equal(dia_envelope(by_hand[k].ms, 100, 200, 400), by_hand[k].level);
    assert_int_equal(dia_envelope(0, 0, 0, 0), 0);
    assert_int_equal(dia_envelope(0, 0, 1, 0), 65535);
    assert_in_range(dia_envelope(2000000000, 4000000000u, 0, 0), 32766, 32769);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(shapes_are_those_of_a_double_reference),
        cmocka_unit_test(easing_curves_are_those_of_css),
        cmocka_unit_test(time_becomes_phase_without_drift_or_jump),
        cmocka_unit_test(envelopes_rise_stay_and_fall),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
