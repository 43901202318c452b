/* SPDX-License-Identifier: MIT */
/* One processor that sends pulses itself: how late ticks come, by arithmetic, in check and on the
 * bench. */
#include <diachrome/check.h>
#include <diachrome/schedule.h>

#include "../run.h"

/* Four digits in turns of 1.25 ms beside 300 pixels of 30 us, at 50 frames a second: a tick is 9 ms
 * late, and two other devices have 1600 cycles of 62.5 ns, 0.1 ms each. In 20 ms a digit is lit for
 * 5 ms; 9.2 ms late are 6.9 ms more of them, 3/4 of that time: half of 138 % is 69 %. */
static void by_hand(void **state)
{
    (void)state;
    struct dia_schedule_setup s = {.clock_hz = 16000000, .rate_mhz = 50000};
    assert_int_equal(dia_schedule_tick(&s, 2160, 1250, 4), 0);
    assert_int_equal(dia_schedule_late_ns(&s, 0), 0);
    assert_int_equal(dia_schedule_modulation_permille(&s, 0), 0);
    dia_schedule_hold(&s, 9000000);
    dia_schedule_hold(&s, 1000000);
    assert_int_equal(dia_schedule_late_ns(&s, 0), 9000000);
    assert_int_equal(dia_schedule_tick(&s, 1600, 100, 255), 1);
    assert_int_equal(dia_schedule_tick(&s, 1600, 100, 255), 2);
    assert_int_equal(dia_schedule_late_ns(&s, 0), 9200000);
    assert_int_equal(dia_schedule_late_ns(&s, 1), 9000000 + 100000 + 135000);
    assert_int_equal(dia_schedule_modulation_permille(&s, 0), 690);
    assert_int_equal(dia_schedule_modulation_permille(&s, 1), 1000);
    while (s.tick_count < DIA_SCHEDULE_TICKS)
        assert_int_not_equal(dia_schedule_tick(&s, 1, 1, 2), -1);
    assert_int_equal(dia_schedule_tick(&s, 1, 1, 2), -1);
}

#define DIGITS                                                                                     \
    "{ chip: digits, digits: 4, pins: { a: 1, b: 2, c: 3, d: 4, e: 5, f: 6, g: 7, digit1: 8, "     \
    "digit2: 9, digit3: 10, digit4: 11 } }"
static const char *const beside[] = {
    DIGITS,
    "{ chip: 74HC595, depth: 3, clock: 4 MHz, pins: { ser: 1, srclk: 2, rclk: 3 } }",
    "{ chip: lamps, depth: 4, pins: { lamp1: 1, lamp2: 2, lamp3: 3 } }",
};

static const char *rig_text(const char *controller, const char *lanes, const char *device)
{
    static char text[1000];
    snprintf(text, sizeof text,
             "controller: %s\nframe_rate: 20 Hz\nsupplies: { s: { current: 2 A } }\nlanes: %s\n"
             "devices: { d: %s }\n",
             controller, lanes, device);
    return text;
}

static void check_text(const char *text, struct dia_rig *rig, struct dia_check *check)
{
    struct dia_diagnostic wrong;
    write_file("late.rig.yaml", text, strlen(text));
    if (dia_rig_load(rig, "late.rig.yaml", &wrong) != DIA_OK)
        fail_msg("%s", wrong.text);
    assert_int_equal(dia_check_run(check, rig, NULL, &wrong), DIA_OK);
}

static const struct dia_finding *found(const struct dia_check *check, const char *code)
{
    for (uint32_t i = 0; i < check->findings.count; i++) {
        if (strcmp(check->findings.items[i].code, code) == 0)
            return &check->findings.items[i];
    }
    return NULL;
}

/* What is planned for the latest tick is what the bench shows, within 5 %: for each kind of ticks,
 * strips long and short, alone, in groups, of another part and another clock. */
static void the_bench_is_as_late_as_planned(void **state)
{
    (void)state;
    static const struct {
        const char *controller, *lanes;
        double ms; /* by the sheet: pixels, bits, us a bit */
    } cases[] = {
        {"ATmega328P", "{ l: { chip: WS2812B, pin: 17, count: 100 } }", 100 * 24 * 1.25e-3},
        {"ATmega328P", "{ l: { chip: SK6812-RGBW, pin: 17, count: 120 } }",
         120 * (24 * 1.25e-3 + 8 * 1.1875e-3)}, /* a 1: 10 and 10 cycles, a 0: 5 and 14 */
        {"{ chip: ATmega328P, clock: 8 MHz }", "{ l: { chip: WS2811-slow, pin: 17, count: 60 } }",
         60 * 24 * 2.5e-3},
        {"ATmega2560",
         "{ l: { chip: WS2812B, pin: 20, count: 90, group: g }, m: { chip: WS2812B, pin: 21, "
         "count: 150, group: g } }",
         150 * 24 * 1.25e-3},
        {"{ chip: RP2040, pulses: interrupts off }",
         "{ l: { chip: WS2812B, pin: 17, count: 65 }, m: { chip: WS2812B, pin: 18, count: 300 } }",
         300 * 24 * 1.25e-3},
    };
    struct dia_rig *rig = malloc(sizeof *rig);
    for (size_t i = 0; i < sizeof cases / sizeof cases[0]; i++) {
        for (size_t k = 0; k < sizeof beside / sizeof beside[0]; k++) {
            struct dia_check check;
            check_text(rig_text(cases[i].controller, cases[i].lanes, beside[k]), rig, &check);
            double planned = (double)check.devices[0].late_ns / 1e6;
            double was = (double)check.devices[0].was_late_ns / 1e6;
            if (planned < cases[i].ms * 0.99 || planned > cases[i].ms * 1.01)
                fail_msg("case %zu: planned %.3f ms, by the sheet %.3f", i, planned, cases[i].ms);
            if (was < planned * 0.95 || was > planned * 1.05)
                fail_msg("case %zu, device %zu: planned %.3f ms, was %.3f", i, k, planned, was);
            assert_non_null(found(&check, "tick-late"));
            assert_int_equal(check.processor.longest_hold_ns, check.devices[0].late_ns);
            dia_check_free(&check);
        }
    }
    free(rig);
    remove("late.rig.yaml");
}

/* Sent in the background nothing is late, and nothing said; nor beside a driver chip; and a single
 * pixel is too short to be seen. */
static void what_cures_it_does(void **state)
{
    (void)state;
    static const char strip[] = "{ l: { chip: WS2812B, pin: 17, count: 150 } }";
    struct dia_rig *rig = malloc(sizeof *rig);
    struct dia_check check;
    check_text(rig_text("{ chip: ATmega328P, pulses: background }", strip, beside[0]), rig, &check);
    assert_null(found(&check, "tick-late"));
    assert_true(check.devices[0].late_ns == 0 && check.devices[0].was_late_ns == 0);
    dia_check_free(&check);
    check_text(rig_text("ATmega328P", strip, "{ chip: TM1638, pins: { stb: 1, clk: 2, dio: 3 } }"),
               rig, &check);
    assert_null(found(&check, "tick-late"));
    dia_check_free(&check);
    check_text(rig_text("ATmega328P", "{ l: { chip: WS2812B, pin: 17, count: 1 } }", beside[0]),
               rig, &check);
    assert_null(found(&check, "tick-late"));
    assert_int_equal(check.devices[0].late_ns, 30000);
    dia_check_free(&check);
    free(rig);
    remove("late.rig.yaml");
}

/* 1000 pixels on an ATmega2560: a hue sweep of 8126 + 231 a pixel is 14.95 ms at 16 MHz, the strip
 * 30 ms, no ticks: 22.25 frames a second. With 23 asked for that is an error, with 22 it is not. */
static void frames_that_are_left(void **state)
{
    (void)state;
    static const char text[] = "controller: { chip: ATmega2560, pulses: interrupts off }\n"
                               "frame_rate: %d Hz\nsupplies: { s: { current: 2 A } }\n"
                               "lanes: { l: { chip: WS2812B, pin: 17, count: 1000 } }\n";
    struct dia_rig *rig = malloc(sizeof *rig);
    for (int rate = 22; rate <= 23; rate++) {
        struct dia_check check;
        char one[400];
        snprintf(one, sizeof one, text, rate);
        check_text(one, rig, &check);
        assert_in_range(check.processor.rate_mhz, 22200, 22300);
        const struct dia_finding *finding = found(&check, "processor-time");
        assert_int_equal(finding != NULL, rate == 23);
        assert_true(!finding || finding->level == DIA_ERROR);
        assert_non_null(found(&check, rate == 22 ? "look-time" : "processor-time"));
        dia_check_free(&check);
    }
    free(rig);
    remove("late.rig.yaml");
    write_file("p.rig.yaml", "controller: { chip: RP2040, pulses: by hand }\n", 46);
    assert_int_equal(run("$D check p.rig.yaml"), 2);
    says("p.rig.yaml:1:37: 'pulses' is one of: background, interrupts off; found 'by hand'");
    remove("p.rig.yaml");
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(by_hand),
        cmocka_unit_test(the_bench_is_as_late_as_planned),
        cmocka_unit_test(what_cures_it_does),
        cmocka_unit_test(frames_that_are_left),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
