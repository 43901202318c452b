/* SPDX-License-Identifier: MIT */
#include "../desk.h"

#include <string.h>

enum { STB = 14, CLK, DIO };
static const uint8_t pins[DIA_PANEL_PINS] = {STB, CLK, DIO};

static struct dia_panel panel;
static uint8_t drawing[DIA_PANEL_DRAWING];

static int connect(const struct dia_panel_part *part, uint32_t clock_hz)
{
    const struct dia_device_setup setup = {
        .name = "panel", .part = part->name, .pins = pins, .lamp_ua = 2500};
    desk_set_up(clock_hz);
    int device = dia_bench_panel(bench, &setup);
    assert_true(device >= 0);
    assert_int_equal(dia_panel_init(&panel, &sim.port, part, STB, CLK, DIO, drawing), DIA_OK);
    return device;
}

static void show(void)
{
    assert_int_equal(dia_driver_show_and_wait(&panel.driver), DIA_OK);
    desk_settle();
}

static void random_frames_come_out_and_keys_come_in(void **state)
{
    (void)state;
    uint32_t seed = 9;
    for (int clock = 0; clock < 3; clock++) {
        static const uint32_t clocks[] = {16000000, 125000000, 1000000};
        int device = connect(&dia_tm1638, clocks[clock]);
        const struct dia_lamps_shown *shown = dia_bench_lamps(bench, device);
        for (int frame = 0; frame < 100; frame++) {
            uint8_t digits[8], lamps[8], keys = (uint8_t)random_below(&seed, 256);
            for (uint8_t k = 0; k < 8; k++) {
                digits[k] = (uint8_t)random_below(&seed, 256);
                lamps[k] = (uint8_t)random_below(&seed, 2);
                assert_int_equal(dia_panel_digit(&panel, k, digits[k]), DIA_OK);
                assert_int_equal(dia_panel_lamp(&panel, k, lamps[k]), DIA_OK);
            }
            assert_int_equal(dia_bench_keys(bench, device, keys), 0);
            show();
            assert_int_equal(panel.keys, keys); /* several held at once */
            for (uint32_t k = 0; k < 8; k++) {
                for (uint32_t s = 0; s < 8; s++)
                    assert_int_equal(shown->level[k * 16 + s] != 0, digits[k] >> s & 1);
                assert_int_equal(shown->level[k * 16 + 8], lamps[k] * 14u * 65535 / 16);
            }
            desk_draws(shown, 128, 2500, 1);
        }
        desk_finds(NULL);
        desk_clear();
    }
}

/* One lamp of 1 mA at the lowest of eight levels, a sixteenth: 62.5 uA, rounded up. */
static void a_current_is_rounded_up(void **state)
{
    (void)state;
    connect(&dia_tm1638, 16000000);
    assert_int_equal(dia_panel_digit(&panel, 3, 1), DIA_OK);
    dia_driver_master(&panel.driver, 1);
    assert_int_equal(panel.driver.ops->asks_ua(&panel.driver, 1000), 63);
    dia_driver_master(&panel.driver, DIA_SHARE_ONE);
    assert_int_equal(panel.driver.ops->asks_ua(&panel.driver, 1000), 875); /* 14 of them */
    desk_clear();
}

/* Keys are read with each frame: 8 bits of a command and 32 of keys. What has not changed is not
 * sent again; all of it is 16 bytes behind an address, with two commands more. */
static void what_has_not_changed_is_not_sent(void **state)
{
    (void)state;
    connect(&dia_tm1638, 16000000);
    assert_int_equal(dia_panel_digit(&panel, 3, 0x55), DIA_OK);
    show();
    uint32_t before = edges_heard[CLK];
    show();
    uint32_t unchanged = edges_heard[CLK] - before;
    assert_int_equal(dia_panel_digit(&panel, 3, 0x56), DIA_OK);
    before = edges_heard[CLK];
    show();
    assert_int_equal(edges_heard[CLK] - before - unchanged, 8 * (1 + 1 + 16));
    assert_in_range(unchanged, 40, 48);
    desk_clear();
}

static void the_two_wire_relative_answers(void **state)
{
    (void)state;
    uint32_t seed = 10;
    int device = connect(&dia_tm1637, 16000000);
    const struct dia_lamps_shown *shown = dia_bench_lamps(bench, device);
    for (int frame = 0; frame < 100; frame++) {
        uint8_t digits[6];
        for (uint8_t k = 0; k < 6; k++) {
            digits[k] = (uint8_t)random_below(&seed, 256);
            assert_int_equal(dia_panel_digit(&panel, k, digits[k]), DIA_OK);
        }
        show();
        for (uint32_t i = 0; i < 48; i++)
            assert_int_equal(shown->level[i] != 0, digits[i / 8] >> (i % 8) & 1);
        desk_draws(shown, 48, 2500, 1);
    }
    assert_int_equal(dia_panel_digit(&panel, 6, 0), DIA_BAD_VALUE);
    assert_int_equal(dia_panel_lamp(&panel, 0, 1), DIA_BAD_VALUE);
    desk_finds(NULL);
    desk_clear();

    /* nothing there: DIO stays high in the ninth clock */
    desk_set_up(16000000);
    assert_int_equal(dia_panel_init(&panel, &sim.port, &dia_tm1637, STB, CLK, DIO, drawing),
                     DIA_OK);
    assert_int_equal(dia_driver_show(&panel.driver), DIA_OK);
    assert_int_equal(dia_driver_poll(&panel.driver, NULL), DIA_PORT_FAILED);
    assert_int_equal(dia_driver_poll(&panel.driver, NULL), DIA_OK);
    desk_clear();
}

/* Nearest of 1 2 4 10 11 12 13 14 to master * 14, by hand. */
static void the_master_sets_the_level(void **state)
{
    (void)state;
    static const uint8_t by_hand[][2] = {{100, 14}, {90, 13}, {70, 10}, {51, 10},
                                         {48, 4},   {20, 2},  {3, 1},   {0, 0}};
    int device = connect(&dia_tm1638, 16000000);
    dia_panel_digit(&panel, 0, 1);
    for (size_t k = 0; k < sizeof by_hand / sizeof by_hand[0]; k++) {
        dia_driver_master(&panel.driver, dia_share_percent(by_hand[k][0]));
        show();
        assert_int_equal(dia_bench_lamps(bench, device)->level[0], by_hand[k][1] * 65535u / 16);
    }
    /* what a chip holds after power-up was never lit, and a refresh sends all again */
    dia_driver_refresh(&panel.driver);
    show();
    desk_finds(NULL);
    desk_clear();
}

/* The command to read and one bit, with the times given. */
static const struct {
    uint32_t strobe, low, high, set_up, hold, wait;
    const char *code;
} timings[] = {
    {1000, 500, 500, 100, 100, 1000, NULL},
    {1000, 400, 600, 100, 100, 1000, NULL},
    {1000, 600, 400, 100, 100, 1000, NULL},
    {999, 500, 500, 100, 100, 1000, "strobe-short"},
    {1000, 399, 700, 100, 100, 1000, "pulse-short"},
    {1000, 700, 399, 100, 100, 1000, "pulse-short"},
    {1000, 500, 499, 100, 100, 1000, "clock-fast"},
    {1000, 500, 500, 99, 100, 1000, "set-up-short"},
    {1000, 500, 500, 100, 99, 1000, "hold-short"},
    {1000, 500, 500, 100, 100, 999, "wait-short"},
};

static void the_model_minds_every_time_of_the_sheet(void **state)
{
    (void)state;
    for (size_t k = 0; k < sizeof timings / sizeof timings[0]; k++) {
        connect(&dia_tm1638, 16000000);
        dia_sim_advance_us(&sim, 1);
        by_hand_ns = 10000;
        after(0, STB, 0);
        after(1000, STB, 1);
        after(timings[k].strobe, STB, 0);
        for (int bit = 0; bit < 8; bit++) {
            uint8_t level = 0x42 >> bit & 1;
            after(bit ? timings[k].high - (bit == 2 ? timings[k].hold : 0) : 700, CLK, 0);
            after(timings[k].low - timings[k].set_up, DIO, level);
            after(timings[k].set_up, CLK, 1);
            if (bit == 1) { /* changes while the clock is high, as far as it may */
                after(timings[k].hold, DIO, !level);
            }
        }
        after(timings[k].wait, CLK, 0);
        const struct dia_findings *found = dia_bench_findings(bench);
        if (timings[k].code == NULL)
            desk_finds(NULL);
        else if (!dia_findings_find(found, timings[k].code, "panel"))
            fail_msg("not found: %s", timings[k].code);
        desk_clear();
    }
    connect(&dia_tm1638, 16000000);
    by_hand_ns = 10000;
    after(0, STB, 0);
    after(500, CLK, 0);
    after(500, CLK, 1);
    after(1000, STB, 1);
    desk_finds("word-part");
    desk_clear();
    connect(&dia_tm1638, 16000000);
    by_hand_ns = 10000;
    after(0, STB, 0);
    for (int bit = 0; bit < 8; bit++) {
        after(500, CLK, 0);
        after(0, DIO, 0x40 >> bit & 1);
        after(500, CLK, 1);
    }
    after(999, STB, 1); /* the sheet wants 1 us */
    desk_finds("strobe-short");
    desk_clear();
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(random_frames_come_out_and_keys_come_in),
        cmocka_unit_test(a_current_is_rounded_up),
        cmocka_unit_test(what_has_not_changed_is_not_sent),
        cmocka_unit_test(the_two_wire_relative_answers),
        cmocka_unit_test(the_master_sets_the_level),
        cmocka_unit_test(the_model_minds_every_time_of_the_sheet),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
