/* SPDX-License-Identifier: MIT */
/* Chains whose supply comes through wires and rails: what they show, draw, refuse and say. */
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/bench.h>
#include <diachrome/diachrome.h>
#include <diachrome/sim.h>

#include "../support.h"

#define COUNT 40
#define PIN   3

static struct dia_sim sim;
static struct dia_bench *bench;
static struct dia_strip strip;
static struct dia_rgb pixels[COUNT];
static uint8_t memory[DIA_STRIP_BYTES(3, COUNT)];

/* A strip of 40 WS2812B on a bench, fed as told, at 5 V with wires of shared_ohm. */
static void lay(const struct dia_chain_feed *feeds, uint32_t n, double rail_ohm, double shared_ohm,
                uint32_t signal_mv)
{
    struct dia_chain_power power = {rail_ohm, feeds, n, signal_mv};
    bench = dia_bench_new();
    int supply = dia_bench_supply(bench, "s", 5000000, 0);
    assert_int_equal(dia_bench_terminals(bench, supply, 5000, shared_ohm), 0);
    struct dia_chain_setup setup = {.name = "rail",
                                    .part = "WS2812B",
                                    .pin = PIN,
                                    .count = COUNT,
                                    .supply = supply,
                                    .power = n ? &power : NULL};
    assert_int_equal(dia_bench_chain(bench, &setup), 0);
    dia_sim_init(&sim, 48000000);
    dia_sim_listen(&sim, dia_bench_take, bench);
    assert_int_equal(dia_strip_init(&strip, &sim.port, PIN, &dia_ws2812b, pixels, memory, COUNT),
                     DIA_OK);
    strip.develop.curve = dia_curve_straight; /* bytes as typed */
}

static void show(uint8_t r, uint8_t g, uint8_t b)
{
    for (uint32_t k = 0; k < COUNT; k++)
        pixels[k] = (struct dia_rgb){r, g, b};
    assert_int_equal(dia_driver_show(&strip.driver), DIA_OK);
    assert_int_equal(dia_driver_wait(&strip.driver), DIA_OK);
    dia_bench_settle(bench, sim.now_ns);
}

static const char *said(const char *code, const char *place)
{
    const struct dia_finding *finding = dia_findings_find(dia_bench_findings(bench), code, place);
    return finding ? finding->text : NULL;
}

/* Full red is 40 * 21 mA = 0.84 A; from one end with 0.02 ohm a rail and pixel the last is at
 * 5 - 2 * 0.02 * 0.021 * 40 * 39 / 2 = 4.3448 V: red is whole, and drawn as without resistance. */
static void red_holds_where_white_fades(void **state)
{
    (void)state;
    const struct dia_chain_feed start = {0, 1, 0, 0, 1000000};
    lay(&start, 1, 0.02, 0, 5000);
    const struct dia_shown *shown = dia_bench_shown(bench, 0);
    const struct dia_fed *fed = dia_bench_fed(bench, 0);
    show(255, 0, 0);
    assert_in_range(fed->mv[COUNT - 1], 4344, 4346);
    assert_in_range(dia_bench_gives_ua(bench, 1), 840000, 840002);
    assert_int_equal(shown->draws_ua, dia_bench_gives_ua(bench, 1));
    assert_memory_equal(shown->lit[COUNT - 1], shown->drive[COUNT - 1], 4);
    assert_null(said("starved", "rail"));
    /* white wants 2.44 A: the far end fades, blue first, and the 1 A fuse is too small */
    show(255, 255, 255);
    assert_true(shown->drive[COUNT - 1][2] == 255 && shown->lit[COUNT - 1][2] < 200);
    assert_true(shown->lit[COUNT - 1][1] > shown->lit[COUNT - 1][2]);
    assert_true(shown->lit[COUNT - 1][0] == 255 && shown->lit[0][2] == 255);
    assert_true(dia_bench_gives_ua(bench, 1) < 2300000);
    assert_int_equal(fed->least_at, COUNT - 1);
    assert_int_equal(fed->feeds_mv, 5000);
    assert_non_null(strstr(said("starved", "rail"), "pixel 39 has 3."));
    assert_non_null(strstr(said("fuse-over", "rail, feed at 0"), "through its fuse of 1 A"));
    dia_bench_free(bench);
}

/* Where pixels have less than 3.5 V, they and all behind them keep what they showed, until the
 * supply is switched off and on. */
static void data_stops_where_logic_starves(void **state)
{
    (void)state;
    const struct dia_chain_feed start = {0, 1, 0, 0, 0};
    lay(&start, 1, 0.05, 0, 5000);
    const struct dia_shown *shown = dia_bench_shown(bench, 0);
    const struct dia_fed *fed = dia_bench_fed(bench, 0);
    show(240, 240, 240);
    uint32_t later = 0, refuses = 0;
    while (later < COUNT && fed->mv[later] >= 3500)
        later++;
    dia_bench_restart_pixels(bench, sim.now_ns);
    show(255, 255, 255);
    while (refuses < COUNT && fed->mv[refuses] >= 3500)
        refuses++;
    assert_in_range(refuses, 5, later - 1);
    char pixel[20]; /* the nearest that refuses is told */
    snprintf(pixel, sizeof pixel, "pixel %u has 3.4", (unsigned)refuses);
    assert_non_null(strstr(said("data-refused", "rail"), pixel));
    assert_true(fed->mv[COUNT - 1] < 2800); /* there even red fades */
    assert_in_range(shown->lit[COUNT - 1][0], 1, 254);
    assert_non_null(strstr(said("starved", "rail"), "pixel 39 has 2.7"));
    assert_non_null(strstr(said("starved", "rail"), "so its blue is at 0 %"));
    /* the worst is told: at the same pixel that was 3.475 V, not the 3.482 of a later frame */
    show(248, 248, 248);
    assert_in_range(fed->mv[refuses], 3480, 3489);
    assert_non_null(strstr(said("data-refused", "rail"), "has 3.47 V"));
    show(0, 0, 0);
    for (uint32_t k = 0; k < COUNT; k++)
        assert_int_equal(shown->drive[k][0], k < refuses ? 0 : 255);
    assert_non_null(said("data-refused", "rail"));
    dia_bench_restart_pixels(bench, sim.now_ns);
    assert_int_equal(shown->drive[COUNT - 1][0], 0);
    show(20, 0, 0);
    assert_int_equal(shown->drive[COUNT - 1][0], 20);
    dia_bench_free(bench);
}

/* A ground wire of 3 ohm under full red, which is 0.84 A: 2.52 V. Between the rails are 2.48 V, of
 * which a high is half: above 3.76 V. 3.3 V is none, 5 V is; the logic has too little in any case,
 * so the other is asked at a red of a fifth: 0.2 A, 0.6 V, (5 - 0.6) / 2 + 0.6 = 2.8 V. At pixel 1
 * the ground is 0.05 ohm of it higher: 0.60 V. */
static void the_ground_shifts_the_threshold(void **state)
{
    (void)state;
    const struct dia_chain_feed start = {0, 1, 0, 3, 0};
    for (int weak = 0; weak < 2; weak++) {
        lay(&start, 1, 0.05, 0, weak ? 2700 : 3300);
        show(50, 0, 0);
        show(0, 50, 0);
        assert_int_equal(dia_bench_shown(bench, 0)->drive[0][1], weak ? 0 : 50);
        /* a sure high is 0.7 of what is between the rails, 0.5906 + 0.7 * 4.4094 V */
        assert_int_equal(dia_bench_fed(bench, 0)->needs_mv, 3677);
        const char *text = said("data-refused", "rail");
        if (weak)
            assert_non_null(strstr(text,
                                   "the ground of pixel 0 is 0.59 V above that of the supply, so "
                                   "its input sees no high of 2.70 V"));
        else
            assert_null(text);
        dia_bench_free(bench);
    }
}

/* 1 ohm that all share: 40 * (1 mA + red) leaves 5 - 0.84 = 4.16 V. With white it is where what is
 * drawn and what is left agree: V = 5 - 0.04 - 0.8 (1 + (V - 2.7) / 1.2 + (V - 2.8) / 1.2), so
 * V (1 + 4 / 3) = 4.16 + 0.8 * 5.5 / 1.2, V = 3.3543 V. */
static void wires_that_all_share_sag(void **state)
{
    (void)state;
    lay(NULL, 0, 0, 1, 0);
    const struct dia_fed *fed = dia_bench_fed(bench, 0);
    show(255, 0, 0);
    assert_in_range(fed->mv[0], 4159, 4161);
    show(255, 255, 255);
    assert_in_range(fed->mv[0], 3353, 3355);
    assert_in_range(dia_bench_gives_ua(bench, 1), 1645000, 1647000);
    dia_bench_free(bench);
    /* what was tried to find that is no current that ever flowed */
    bench = dia_bench_new();
    const struct dia_chain_feed ends[] = {{0, 1, 0.01, 0.01, 0}, {COUNT - 1, 2, 0.01, 0.01, 0}};
    const struct dia_chain_power power = {0.001, ends, 2, 0};
    for (int k = 0; k < 2; k++)
        dia_bench_terminals(bench, dia_bench_supply(bench, "s", 5000000, 0), 5000, 0.2);
    struct dia_chain_setup setup = {.name = "rail",
                                    .part = "WS2812B",
                                    .pin = PIN,
                                    .count = COUNT,
                                    .supply = 1,
                                    .power = &power};
    assert_int_equal(dia_bench_chain(bench, &setup), 0);
    for (int k = 0; k < 2; k++)
        assert_in_range(dia_bench_fed(bench, 0)->feed_most_ua[k], 19000, 21000);
    dia_bench_free(bench);
    /* and nothing is between where nothing is said */
    lay(NULL, 0, 0, 0, 0);
    assert_null(dia_bench_fed(bench, 0));
    assert_ptr_equal(dia_bench_shown(bench, 0)->lit, dia_bench_shown(bench, 0)->drive);
    dia_bench_free(bench);
}

/* Half of the light of two supplies comes from each; the lower one takes some of the higher one. */
static void two_supplies_share_a_strip(void **state)
{
    (void)state;
    const struct dia_chain_feed ends[] = {{0, 1, 0.05, 0.05, 0}, {COUNT - 1, 2, 0.05, 0.05, 0}};
    const struct dia_chain_power power = {0.001, ends, 2, 0};
    const uint32_t mv[] = {5000, 4600};
    for (int lower = 0; lower < 2; lower++) {
        bench = dia_bench_new();
        for (int k = 0; k < 2; k++) {
            int supply = dia_bench_supply(bench, k ? "b" : "a", 5000000, 0);
            dia_bench_terminals(bench, supply, lower ? mv[k] : 5000, 0);
        }
        struct dia_chain_setup setup = {.name = "rail",
                                        .part = "WS2812B",
                                        .pin = PIN,
                                        .count = COUNT,
                                        .supply = 1,
                                        .power = &power};
        assert_int_equal(dia_bench_chain(bench, &setup), 0);
        /* dark: 40 mA; 0.4 V through 0.139 ohm of supply wires and rail are 2.88 A */
        uint64_t a = dia_bench_gives_ua(bench, 1), b = dia_bench_gives_ua(bench, 2);
        if (lower) {
            assert_in_range(a, 2860000, 2920000);
            assert_int_equal(b, 0);
            assert_non_null(strstr(said("back-feed", "rail, feed at 39"), "go back"));
        } else {
            assert_in_range(a, 19999, 20002);
            assert_in_range(b, 19999, 20002);
        }
        dia_bench_free(bench);
    }
    bench = dia_bench_new();
    dia_bench_supply(bench, "a", 5000000, 0);
    struct dia_chain_setup setup = {.name = "rail",
                                    .part = "WS2812B",
                                    .pin = PIN,
                                    .count = COUNT,
                                    .supply = 1,
                                    .power = &power};
    assert_int_equal(dia_bench_chain(bench, &setup), -1); /* there is no supply 2 */
    assert_int_equal(dia_bench_terminals(bench, 2, 5000, 0), -1);
    dia_bench_free(bench);
}

/* A supply that is nearly empty: what pixels have is told to the last volt. */
static void little_is_not_none(void **state)
{
    (void)state;
    const struct dia_chain_feed start = {0, 1, 0, 0, 0};
    bench = dia_bench_new();
    int supply = dia_bench_supply(bench, "s", 5000000, 0);
    assert_int_equal(dia_bench_terminals(bench, supply, 900, 0), 0);
    struct dia_chain_power power = {0.02, &start, 1, 0};
    struct dia_chain_setup setup = {.name = "rail",
                                    .part = "WS2812B",
                                    .pin = PIN,
                                    .count = COUNT,
                                    .supply = supply,
                                    .power = &power};
    assert_int_equal(dia_bench_chain(bench, &setup), 0);
    dia_bench_settle(bench, 1000);
    assert_int_equal(dia_bench_fed(bench, 0)->mv[0], 900);
    dia_bench_free(bench);
}

/* As many feeds as there may be, one at each of the first pixels; one more, or none, is refused. */
static void a_chain_has_one_to_sixteen_feeds(void **state)
{
    (void)state;
    struct dia_chain_feed feeds[DIA_RAILS_FEEDS + 1];
    for (uint32_t k = 0; k <= DIA_RAILS_FEEDS; k++)
        feeds[k] = (struct dia_chain_feed){k, 1, 0.05, 0.05, 0};
    lay(feeds, DIA_RAILS_FEEDS, 0.02, 0, 0);
    const struct dia_fed *fed = dia_bench_fed(bench, 0);
    assert_non_null(fed);
    assert_int_equal(fed->feed_count, 16);
    struct dia_chain_power power = {0.02, feeds, DIA_RAILS_FEEDS + 1, 0};
    struct dia_chain_setup setup = {.name = "other",
                                    .part = "WS2812B",
                                    .pin = PIN + 1,
                                    .count = COUNT,
                                    .supply = 1,
                                    .power = &power};
    assert_int_equal(dia_bench_chain(bench, &setup), -1);
    power.feed_count = 0;
    assert_int_equal(dia_bench_chain(bench, &setup), -1);
    dia_bench_free(bench);
}

/* Every part has a sheet that says from where on it starves, and gives nothing below that. */
/* The level of an APA102 is no current: it stays where the volts fall. */
static void a_level_does_not_fade(void **state)
{
    (void)state;
    static uint8_t raw[4 + 4 * COUNT + 4];
    const struct dia_chain_feed start = {0, 1, 0, 0, 0};
    const struct dia_chain_power power = {0.05, &start, 1, 5000};
    bench = dia_bench_new();
    int supply = dia_bench_supply(bench, "s", 5000000, 0);
    assert_int_equal(dia_bench_terminals(bench, supply, 5000, 0), 0);
    const struct dia_chain_setup setup = {.name = "rail",
                                          .part = "APA102",
                                          .pin = PIN,
                                          .clock_pin = PIN + 1,
                                          .count = COUNT,
                                          .supply = supply,
                                          .power = &power};
    assert_int_equal(dia_bench_chain(bench, &setup), 0);
    dia_sim_init(&sim, 48000000);
    dia_sim_listen(&sim, dia_bench_take, bench);
    assert_int_equal(dia_sim_spi_pins(&sim, 0, PIN + 1, PIN), DIA_OK);
    memset(raw + 4, 0xff, 4 * COUNT);
    assert_int_equal(sim.port.ops->spi_start(&sim.port, 0, 1000000, raw, sizeof raw), DIA_OK);
    dia_sim_advance_us(&sim, 3000);
    dia_bench_settle(bench, sim.now_ns);
    const struct dia_shown *shown = dia_bench_shown(bench, 0);
    assert_int_equal(shown->drive[COUNT - 1][3], 31);
    assert_int_equal(shown->lit[COUNT - 1][3], 31);
    assert_true(shown->lit[COUNT - 1][2] < 200 && shown->drive[COUNT - 1][2] == 255);
    dia_bench_free(bench);
}

static void every_part_needs_something(void **state)
{
    (void)state;
    struct dia_pixel_need need;
    for (int k = 0; dia_onewire_parts[k]; k++) {
        const struct dia_pixel_part *part = dia_onewire_parts[k];
        assert_int_equal(dia_bench_need(part->name, part->supply_max_mv, &need), 0);
        for (int c = 0; c < 4; c++) {
            assert_true(need.rails.full_volt[c] * 1000 <= part->supply_max_mv);
            assert_true(need.rails.gone_volt[c] < need.rails.full_volt[c]);
        }
        assert_int_equal(need.channels, part->channels->count);
        assert_true(fabs(need.quiet_amp * 1e6 - part->power.idle_ua) < 1);
    }
    /* a WS2815 has three dies in a row at 12 V: its sheet names 10.8 V; a choice of ours below */
    assert_int_equal(dia_bench_need("WS2815", 12000, &need), 0);
    for (int c = 0; c < 4; c++)
        assert_true(need.rails.full_volt[c] == 9.1 && need.rails.gone_volt[c] == 7.2);
    assert_int_equal(dia_bench_need("WS9999", 5000, &need), -1);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(red_holds_where_white_fades),
        cmocka_unit_test(data_stops_where_logic_starves),
        cmocka_unit_test(the_ground_shifts_the_threshold),
        cmocka_unit_test(wires_that_all_share_sag),
        cmocka_unit_test(two_supplies_share_a_strip),
        cmocka_unit_test(a_chain_has_one_to_sixteen_feeds),
        cmocka_unit_test(little_is_not_none),
        cmocka_unit_test(a_level_does_not_fade),
        cmocka_unit_test(every_part_needs_something),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
