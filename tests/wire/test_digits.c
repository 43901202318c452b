/* SPDX-License-Identifier: MIT */
#include "../desk.h"

#include <string.h>

static struct dia_digits digits;
static uint8_t drawn[8];
static uint32_t seed;

/* All the ways in which digits can be wired. */
static struct dia_digits_setup setup_of(uint8_t count, int anode, int inverted, int by_segment)
{
    struct dia_digits_setup setup = {.digits = count,
                                     .common_anode = (uint8_t)anode,
                                     .inverted = (uint8_t)inverted,
                                     .by_segment = (uint8_t)by_segment};
    for (uint8_t k = 0; k < 8; k++) {
        setup.segment_pin[k] = (uint8_t)(10 + k);
        setup.common_pin[k] = (uint8_t)(20 + k);
    }
    setup.turn_us = dia_digits_turn_us(200000, count, (uint8_t)by_segment);
    return setup;
}

static uint32_t tick(void *self)
{
    return dia_driver_tick(self);
}

static int connect(const struct dia_digits_setup *setup)
{
    uint8_t pins[16];
    memcpy(pins, setup->segment_pin, 8);
    memcpy(pins + 8, setup->common_pin, 8);
    const struct dia_device_setup on_bench = {.name = "tide",
                                              .part = "digits",
                                              .pins = pins,
                                              .count = setup->digits,
                                              .lamp_ua = 12000,
                                              .options =
                                                  (setup->common_anode ? DIA_DIGITS_ANODE : 0u) |
                                                  (setup->inverted ? DIA_DIGITS_INVERTED : 0u) |
                                                  (setup->by_segment ? DIA_DIGITS_BY_SEGMENT : 0u)};
    desk_set_up(16000000);
    int device = dia_bench_digits(bench, &on_bench);
    assert_true(device >= 0);
    assert_int_equal(dia_digits_init(&digits, &sim.port, setup, drawn), DIA_OK);
    dia_sim_timer(&sim, tick, &digits, 100);
    return device;
}

static void next_round(void)
{
    uint8_t now = digits.rounds;
    while (digits.rounds == now)
        dia_sim_advance_us(&sim, 1);
}

static const struct dia_lamps_shown *look_at(int device, const uint8_t *segments)
{
    memcpy(drawn, segments, digits.setup.digits);
    assert_int_equal(dia_driver_show(&digits.driver), DIA_OK);
    while (dia_driver_poll(&digits.driver, NULL) == DIA_BUSY)
        dia_sim_advance_us(&sim, 1);
    next_round();
    dia_bench_expose(bench, device, sim.now_ns);
    next_round();
    dia_bench_settle(bench, sim.now_ns);
    return dia_bench_lamps(bench, device);
}

/*
 * Lit segments get 1 / turns of the time, all the same but for the 2 us of blanking and 1 us of the
 * test; the others get none at all: no ghosts.
 */
static void random_segments_show_in_every_wiring(void **state)
{
    (void)state;
    for (int k = 0; k < 64; k++) {
        uint8_t count = (uint8_t)(1 + k % 8), shown_segments[8];
        struct dia_digits_setup setup = setup_of(count, k >> 3 & 1, k >> 4 & 1, k >> 5 & 1);
        int device = connect(&setup);
        for (int i = 0; i < 8; i++)
            shown_segments[i] = (uint8_t)random_below(&seed, 256);
        const struct dia_lamps_shown *shown = look_at(device, shown_segments);
        uint32_t turns = setup.by_segment ? 8u : count;
        for (uint32_t i = 0; i < count * 8u; i++) {
            if (shown_segments[i / 8] >> (i % 8) & 1)
                assert_in_range(shown->level[i], 65535 / turns - 65535 * 6 / 5000, 65535 / turns);
            else
                assert_int_equal(shown->level[i], 0);
        }
        desk_draws(shown, count * 8u, 12000, 1);
        desk_finds(NULL);
        for (uint32_t unused = count; unused < 8; unused++) /* pins of digits that are not there */
            assert_int_equal(edges_heard[20 + unused], 0);
        desk_clear();
    }
}

/* The same brightness for 1 and for 8, which have 2 and 7 segments. */
static void resistors_on_the_commons_do_not_show(void **state)
{
    (void)state;
    struct dia_digits_setup setup = setup_of(4, 0, 1, 1);
    int device = connect(&setup);
    uint8_t segments[4];
    dia_segments_text("18.1", segments, 4);
    const struct dia_lamps_shown *shown = look_at(device, segments);
    assert_in_range(shown->level[1] - shown->level[8 + 1] + 50, 0, 100);
    /* while with one digit at a time, they would share the current of the resistor */
    setup.by_segment = 0;
    setup.turn_us = dia_digits_turn_us(200000, 4, 0);
    assert_int_equal(dia_digits_init(&digits, &sim.port, &setup, drawn), DIA_OK);
    shown = look_at(device, segments);
    assert_in_range(shown->level[1] * 2u - shown->level[8 + 1] * 8u + 100, 0, 200);
    desk_clear();
}

static void the_master_dims_all_alike(void **state)
{
    (void)state;
    static const uint8_t percent[] = {100, 60, 25, 5};
    for (int by_segment = 0; by_segment < 2; by_segment++) {
        struct dia_digits_setup setup = setup_of(4, 1, 1, by_segment);
        int device = connect(&setup);
        uint8_t segments[4];
        dia_segments_text("8888", segments, 4);
        uint32_t turns = by_segment ? 8 : 4;
        for (int k = 0; k < 4; k++) {
            dia_driver_master(&digits.driver, dia_share_percent(percent[k]));
            const struct dia_lamps_shown *shown = look_at(device, segments);
            /* of the 5 ms of a round; each turn is up to 3 us short, by blanking and cut off */
            uint32_t full = 65535u * percent[k] / 100 / turns;
            assert_in_range(shown->level[9], full - 65535 * 6 / 5000, full + 10);
        }
        dia_driver_master(&digits.driver, 0);
        assert_int_equal(dia_driver_show(&digits.driver), DIA_OK);
        dia_sim_advance_us(&sim, 20000);
        dia_bench_expose(bench, device, sim.now_ns);
        dia_sim_advance_us(&sim, 20000);
        dia_bench_settle(bench, sim.now_ns);
        for (int i = 0; i < 32; i++)
            assert_int_equal(dia_bench_lamps(bench, device)->level[i], 0);
        dia_driver_master(&digits.driver, DIA_SHARE_ONE);
        look_at(device, segments);
        assert_int_equal(dia_driver_dark(&digits.driver), DIA_OK); /* ticks go on, and do nothing */
        desk_settle();
        dia_bench_expose(bench, device, sim.now_ns);
        dia_sim_advance_us(&sim, 20000);
        dia_bench_settle(bench, sim.now_ns);
        for (int i = 0; i < 32; i++)
            assert_int_equal(dia_bench_lamps(bench, device)->level[i], 0);
        desk_clear();
    }
}

/* A tick that comes 9 ms late lights one digit longer; the round after is as it should be. */
static void a_late_tick_corrupts_nothing(void **state)
{
    (void)state;
    struct dia_digits_setup setup = setup_of(4, 0, 0, 0);
    int device = connect(&setup);
    uint8_t segments[4];
    dia_segments_text("1234", segments, 4);
    look_at(device, segments);
    sim.timers[0].due_ns += 9000000;
    dia_sim_advance_us(&sim, 12000);
    const struct dia_lamps_shown *shown = look_at(device, segments);
    for (int i = 0; i < 32; i++)
        assert_int_equal(shown->level[i] > 15000, segments[i / 8] >> (i % 8) & 1);
    desk_clear();
}

static void what_cannot_be_is_refused(void **state)
{
    (void)state;
    struct dia_digits other;
    desk_set_up(16000000);
    struct dia_digits_setup setup = setup_of(4, 0, 0, 0);
    setup.common_pin[2] = setup.segment_pin[5];
    assert_int_equal(dia_digits_init(&other, &sim.port, &setup, drawn), DIA_BAD_VALUE);
    setup = setup_of(4, 0, 0, 0);
    setup.segment_pin[7] = setup.segment_pin[0];
    assert_int_equal(dia_digits_init(&other, &sim.port, &setup, drawn), DIA_BAD_VALUE);
    setup.segment_pin[7] = DIA_NO_PIN;
    assert_int_equal(dia_digits_init(&other, &sim.port, &setup, drawn), DIA_OK);
    setup.digits = 9;
    assert_int_equal(dia_digits_init(&other, &sim.port, &setup, drawn), DIA_BAD_VALUE);
    setup = setup_of(1, 0, 0, 0);
    setup.turn_us = 19;
    assert_int_equal(dia_digits_init(&other, &sim.port, &setup, drawn), DIA_BAD_VALUE);
    setup.turn_us = 20;
    setup.segment_pin[3] = 64;
    assert_int_equal(dia_digits_init(&other, &sim.port, &setup, drawn), DIA_BAD_VALUE);
    assert_int_equal(dia_digits_turn_us(200000, 4, 0), 1250);
    assert_int_equal(dia_digits_turn_us(200000, 4, 1), 625);
    assert_int_equal(dia_digits_turn_us(368053, 1, 0), 2716); /* 368.053 Hz, 2,716.999... */
    desk_clear();
}

/* Drawn by hand: 2 is a b g e d; the point belongs to the digit before it. */
static void text_becomes_segments(void **state)
{
    (void)state;
    uint8_t segments[4];
    assert_int_equal(dia_segments_text("2.3-", segments, 4), 0);
    assert_memory_equal(segments, ((uint8_t[]){0x5b | 0x80, 0x4f, 0x40, 0}), 4);
    assert_int_equal(dia_segments_text(".1..", segments, 4), 0);
    assert_memory_equal(segments, ((uint8_t[]){0x80, 0x06 | 0x80, 0x80, 0}), 4);
    assert_int_equal(dia_segments_text("12345.", segments, 4), 2); /* the point is that of the 5 */
    assert_int_equal(segments[3], 0x66);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(random_segments_show_in_every_wiring),
        cmocka_unit_test(resistors_on_the_commons_do_not_show),
        cmocka_unit_test(the_master_dims_all_alike),
        cmocka_unit_test(a_late_tick_corrupts_nothing),
        cmocka_unit_test(what_cannot_be_is_refused),
        cmocka_unit_test(text_becomes_segments),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
