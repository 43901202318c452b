/* SPDX-License-Identifier: MIT */
/* Refresh and depth: what is planned fits, by arithmetic and by what check says; one step more does
 * not. */
#include <stdlib.h>
#include <string.h>

#include <diachrome/refresh_plan.h>

#include "../run.h"

/* 1130 cycles at 16 MHz are 70.6 us, so no slice is shorter than 71 us. 8 bits weighted: 255 units
 * of 71 us are 55.2 Hz, 8 ticks of 70.6 us of 18,105 us are 3.2 %. Even at half of the time: 142 us
 * a slice, 27.6 Hz. */
static void an_atmega_with_eight_chips(void **state)
{
    (void)state;
    const struct dia_refresh_setup setup = {
        .clock_hz = 16000000, .tick_cycles = 1130, .most_permille = 500};
    struct dia_refresh r, near[DIA_REFRESH_NEAR];
    assert_true(dia_refresh_highest(&r, &setup, 8, DIA_SLICES_WEIGHTED));
    assert_int_equal(r.unit_us, 71);
    assert_int_equal(r.refresh_mhz, 55233);
    assert_int_equal(r.load_permille, 32);
    assert_int_equal(r.levels, 256);
    assert_true(dia_refresh_highest(&r, &setup, 8, DIA_SLICES_EVEN));
    assert_int_equal(r.unit_us, 142);
    assert_int_equal(r.refresh_mhz, 27616);
    /* 120 Hz: 8333 us / 255 = 32 us, too short; 6 bits have 132 us, and 55 Hz is the next for 8 */
    dia_refresh_at(&r, &setup, 120000, 8, DIA_SLICES_WEIGHTED);
    assert_int_equal(r.why, DIA_REFRESH_SLICE_SHORT);
    assert_int_equal(r.tick_us, 71);
    assert_int_equal(dia_refresh_nearest(near, &setup, 120000, 8, DIA_SLICES_WEIGHTED), 2);
    assert_int_equal(near[0].depth, 6);
    assert_int_equal(near[0].unit_us, 132);
    assert_int_equal(near[1].depth, 8);
    assert_int_equal(near[1].refresh_mhz, 55233);
    /* 8 bits in even slices at 1500 Hz: 382,500 ticks a second */
    dia_refresh_at(&r, &setup, 1500000, 8, DIA_SLICES_EVEN);
    assert_int_equal(r.unit_us, 2);
    assert_int_equal(r.why, DIA_REFRESH_SLICE_SHORT);
    assert_int_equal(r.load_permille, 35313); /* a tick of 70.6 us each 2 us */
    dia_refresh_at(&r, &setup, 10, 1, DIA_SLICES_WEIGHTED);
    assert_int_equal(r.why, DIA_REFRESH_SLICE_LONG);
}

/*
 * 16 rows of 5 bits at 120 Hz: 520 us a row, ticks of 32 us. A unit of 14 us: 46, 60, 56, 112 and
 * 224 us are 498; one of 15: 47, 62, 60, 120, 240 are 529, too many, and of 16, of which the second
 * plane is as long as a tick, 48, 32, 64, 128, 256 are 528. So 14: light for 434 of 498 us, ticks
 * for 5 * 32, and 14 + 28 that they wait.
 */
static void rows_of_a_panel(void **state)
{
    (void)state;
    struct dia_refresh_setup setup = {
        .clock_hz = 125000000, .tick_cycles = 4000, .most_permille = 500, .rows = 16};
    struct dia_refresh r, near[DIA_REFRESH_NEAR];
    dia_refresh_at(&r, &setup, 120000, 5, DIA_SLICES_WEIGHTED);
    assert_int_equal(r.why, DIA_REFRESH_FITS);
    assert_int_equal(r.unit_us, 14);
    assert_int_equal(r.tick_us, 32);
    assert_int_equal(r.refresh_mhz, 125502); /* 16 * 498 us */
    assert_int_equal(r.lit_permille, 871);
    assert_int_equal(r.load_permille, 406);
    assert_int_equal(r.ticks_mhz / 1000, 10040);
    /* 8 bits at 200 Hz: 312 us a row, and the shortest that there is takes 33 + 34 + 36 + 40 + 48 +
     * 32 + 64 + 128 = 415 */
    dia_refresh_at(&r, &setup, 200000, 8, DIA_SLICES_WEIGHTED);
    assert_int_equal(r.why, DIA_REFRESH_SLICE_SHORT);
    assert_int_equal(r.refresh_mhz, 150602);
    uint32_t n = dia_refresh_nearest(near, &setup, 200000, 8, DIA_SLICES_WEIGHTED);
    assert_int_equal(n, 2);
    assert_true(near[0].depth < 8 && near[0].refresh_mhz >= 200000);
    assert_true(near[1].depth == 8 && near[1].refresh_mhz < 200000);
    /* the highest: no unit is faster inside of the load */
    for (uint8_t depth = 1; depth <= 8; depth++) {
        assert_true(dia_refresh_highest(&r, &setup, depth, DIA_SLICES_WEIGHTED));
        for (uint16_t unit = 1; unit < 256; unit++) {
            uint32_t row_us = dia_slices_row_us(unit, 32, depth), busy_us = 32u * depth;
            for (uint8_t k = 0; k < depth; k++)
                busy_us += (uint32_t)unit << k < 32 ? (uint32_t)unit << k : 0;
            assert_true(2 * busy_us > row_us || 1000000000u / (16 * row_us) <= r.refresh_mhz);
        }
    }
}

static const char wall[] =
    "controller: RP2040\nsupplies: {s: {voltage: 5 V, current: 9 A}}\n"
    "devices: {d: {chip: rgb-panel, columns: 64, rows: 32, depth: %u, refresh: %u Hz, "
    "shifter: 74HCT245, pins: {r1: 2, g1: 3, b1: 4, r2: 5, g2: 6, b2: 7, a: 8, b: 9, c: 10, "
    "d: 11, clk: 12, lat: 13, oe: 14}}}\n";

static void write_wall(unsigned depth, unsigned refresh_hz)
{
    char text[600];
    int size = snprintf(text, sizeof text, wall, depth, refresh_hz);
    write_file("wall.rig.yaml", text, (size_t)size);
}

/* The highest refresh that the plan takes is right to check too; a hertz more has no time. */
static void what_fits_a_panel_is_what_check_says(void **state)
{
    (void)state;
    for (unsigned depth = 5; depth <= 8; depth += 3) {
        unsigned low = 10, high = 4000;
        write_wall(depth, 100);
        while (high - low > 1) {
            unsigned middle = (low + high) / 2;
            int fits = run("$D refresh wall.rig.yaml --most 100%% --refresh %uHz", middle) == 0;
            *(fits ? &low : &high) = middle;
        }
        /* 4,310 cycles are 35 us; a unit of 1 us: 5 * 35 + 31 are 206 us a row, and of 8 bits six
         * planes are shorter than a tick: 6 * 35 + 63 + 64 + 128 are 465; times 16 rows */
        assert_int_equal(low, depth == 5 ? 303 : 134);
        for (unsigned k = 0; k < 2; k++) {
            write_wall(depth, low + k);
            run("$D check wall.rig.yaml");
            assert_int_equal(strstr(output, "leave no time") != NULL, k);
        }
    }
}

/* Whatever is highest fits, and a microsecond less a slice does not: for all clocks, ticks, depths.
 */
static void a_step_more_never_fits(void **state)
{
    (void)state;
    uint32_t seed = 3, tried = 0;
    for (int i = 0; i < 20000; i++) {
        struct dia_refresh_setup setup = {.clock_hz = 1000000 + random_below(&seed, 250000000),
                                          .tick_cycles = 100 + random_below(&seed, 600000),
                                          .most_permille = 1 + random_below(&seed, 1000),
                                          .turns = (uint8_t)random_below(&seed, 17),
                                          .dark_ticks = (uint8_t)random_below(&seed, 2),
                                          .least_us = (uint16_t)random_below(&seed, 30)};
        uint8_t depth = (uint8_t)(1 + random_below(&seed, 8));
        enum dia_slices slices = random_below(&seed, 2) ? DIA_SLICES_EVEN : DIA_SLICES_WEIGHTED;
        uint32_t units = setup.turns ? setup.turns : (1u << depth) - 1u;
        struct dia_refresh r, more;
        if (!dia_refresh_highest(&r, &setup, depth, slices))
            continue;
        tried++;
        assert_int_equal(r.why, DIA_REFRESH_FITS);
        assert_true(r.unit_us >= setup.least_us && r.load_permille <= setup.most_permille);
        if (r.unit_us < 2)
            continue;
        /* the lowest rate whose slices are one us shorter */
        uint32_t mhz = 1000000000u / ((r.unit_us - 1) * units);
        while (1000000000u / mhz / units >= r.unit_us)
            mhz++;
        if (1000000000u / mhz / units != r.unit_us - 1)
            continue; /* rates in thousandths of a hertz do not have each length */
        dia_refresh_at(&more, &setup, mhz, depth, slices);
        assert_int_not_equal(more.why, DIA_REFRESH_FITS);
    }
    assert_true(tried > 5000);
}

/* In a rig: with the planned refresh check is content, with the next it is not. */
static void check_agrees(void **state)
{
    (void)state;
    static const struct {
        const char *device;
        uint32_t depth;
    } devices[] = {
        {"chip: 74HC595, chips: 3, clock: 4 MHz, depth: 5, pins: { ser: 1, srclk: 2, rclk: 3 }", 5},
        {"chip: 74HC595, chips: 1, depth: 3, pins: { ser: 1, srclk: 2, rclk: 3 }", 3},
        {"chip: 74HC595, chips: 2, clock: 1 MHz, depth: 4, slices: even, pins: { ser: 1, srclk: 2, "
         "rclk: 3 }",
         4},
        {"chip: lamps, depth: 5, pins: { lamp1: 1, lamp2: 2, lamp3: 3 }", 5},
        {"chip: digits, digits: 4, pins: { a: 1, b: 2, c: 3, d: 4, e: 5, f: 6, g: 7, digit1: 8, "
         "digit2: "
         "9, digit3: 10, digit4: 11 }",
         1},
    };
    for (size_t i = 0; i < sizeof devices / sizeof devices[0]; i++) {
        uint32_t units = i == 4 ? 4 : (1u << devices[i].depth) - 1u, unit_us = 0;
        for (int more = 0; more < 2; more++) {
            char text[600], rate[60] = "";
            if (unit_us) /* in the middle of those that give the length, so that it is that one */
                snprintf(rate, sizeof rate, ", refresh: %.3f Hz",
                         1e6 / ((unit_us - (unsigned)more + 0.4) * units));
            int n =
                snprintf(text, sizeof text,
                         "controller: ATmega328P\nsupplies: { s: { current: 1 A } }\ndevices: { "
                         "d: { %s%s } }\n",
                         devices[i].device, rate);
            write_file("ticks.rig.yaml", text, (size_t)n);
            if (!unit_us) {
                assert_in_range(run("$D refresh ticks.rig.yaml --json --refresh 10kHz"), 0, 1);
                const char *key = i == 2 ? "\"even\"" : i == 4 ? "\"highest\"" : "\"weighted\"";
                char depth[24];
                snprintf(depth, sizeof depth, "\"depth\":\t%u,", (unsigned)devices[i].depth);
                const char *at = strstr(output, "\"highest\"");
                do {
                    at = strstr(at + 1, depth);
                    assert_non_null(at);
                } while (i != 4 &&
                         strncmp(strstr(at, "\"slices\":\t") + 10, key, strlen(key)) != 0);
                assert_int_equal(
                    sscanf(strstr(at, "\"slice_us\":\t"), "\"slice_us\":\t%u", &unit_us), 1);
                more--;
                continue;
            }
            int code = run("$D check ticks.rig.yaml | tr -s ' \\n' ' '");
            int complains = strstr(output, "its shortest slice is") ||
                            strstr(output, "ticks take") || strstr(output, "ticks would take") ||
                            strstr(output, "ticks are left out");
            assert_int_equal(code, 0);
            if (complains != more)
                fail_msg("%s: %u us: %s", devices[i].device, (unsigned)unit_us - (unsigned)more,
                         output);
        }
    }
    remove("ticks.rig.yaml");
}

static void the_command_says_it(void **state)
{
    (void)state;
    assert_int_equal(run("$D refresh demo/quay.rig.yaml"), 0);
    says("buoys: 74HC595 at 48 MHz; a tick takes up to 23 us (1071 cycles)");
    says("120.2 Hz, 6 bits, weighted slices from 132 us: 722 ticks/s, 1.7 %");
    says("  8       256              171 Hz          3.1 %          87.1 Hz         49.6 %");
    for (char *line = strtok(output, "\n"); line; line = strtok(NULL, "\n"))
        assert_true(strlen(line) <= 80);
    assert_int_equal(run("$D refresh demo/quay.rig.yaml --device buoys --depth 8 --refresh 1500Hz "
                         "--slices even"),
                     1);
    says("does not fit: its shortest slice is 2 us, and a tick takes 23 us");
    says("near: 1503.7 Hz, 3 bits, even slices from 95 us");
    assert_int_equal(run("$D refresh demo/quay.rig.yaml --device tida"), 2);
    says("no device 'tida' with lamps that ticks light; did you mean 'tide'");
    assert_int_equal(run("$D refresh demo/quay.rig.yaml --slices odd"), 2);
    says("--slices is weighted or even; found 'odd'");
    assert_int_equal(run("$D refresh demo/quay.rig.yaml --depth 9"), 2);
    says("--depth must be 1 to 8; found '9'");
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(an_atmega_with_eight_chips),
        cmocka_unit_test(rows_of_a_panel),
        cmocka_unit_test(what_fits_a_panel_is_what_check_says),
        cmocka_unit_test(a_step_more_never_fits),
        cmocka_unit_test(check_agrees),
        cmocka_unit_test(the_command_says_it),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
