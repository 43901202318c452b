/* SPDX-License-Identifier: MIT */
#include "../desk.h"

#include <string.h>

/* Digits in turns on shift registers: what is sent, latched and lit, by the model of the chain. */

enum { DATA = 4, CLOCK, LATCH, ENABLE };

static struct dia_shift shift;
static struct dia_shift_digits digits;
static uint8_t drawn[DIA_SHIFT_DRAWING(DIA_SHIFT_DIGITS_MOST, 17)],
    memory[DIA_SHIFT_DIGITS_BYTES(5, 16)];
static uint32_t seed = 7;

/* Segments of a digit, and bits of it in a drawing. */
static uint8_t per(void)
{
    return digits.segments ? digits.segments : 8;
}

static uint32_t bits(void)
{
    return per() > 8 ? 24 : 8;
}

static uint32_t tick(void *self)
{
    return dia_driver_tick(self);
}

static uint32_t next_random(void)
{
    return seed = seed * 1664525u + 1013904223u;
}

/* Segments and commons on any outputs of five chips. */
static void wire_anyhow(uint8_t count, uint8_t segments)
{
    uint16_t outputs[40];
    for (uint16_t k = 0; k < 40; k++)
        outputs[k] = k;
    for (uint32_t k = 39; k > 0; k--) {
        uint32_t to = (next_random() >> 16) % (k + 1);
        uint16_t kept = outputs[k];
        outputs[k] = outputs[to];
        outputs[to] = kept;
    }
    memset(&digits, 0, sizeof digits);
    digits.digits = count;
    digits.segments = segments;
    digits.common_anode = next_random() >> 20 & 1;
    digits.inverted = next_random() >> 20 & 1;
    memcpy(digits.segment, outputs, sizeof digits.segment);
    memcpy(digits.common, outputs + 17, count * sizeof digits.common[0]);
    if (next_random() >> 20 & 1)
        digits.segment[segments - 1] = DIA_SHIFT_NO_OUTPUT;
}

static struct dia_shift_setup setup_of(int by_spi, int has_enable)
{
    struct dia_shift_setup setup = {.part = &dia_74hc595,
                                    .data_pin = DATA,
                                    .clock_pin = CLOCK,
                                    .latch_pin = LATCH,
                                    .enable_pin = has_enable ? ENABLE : DIA_NO_PIN,
                                    .bus = by_spi ? 0 : DIA_SHIFT_BY_PINS,
                                    .clock_hz = 4000000,
                                    .chips = 5,
                                    .unit_us = dia_digits_turn_us(200000, digits.digits, 0)};
    return setup;
}

static int connect(const struct dia_shift_setup *setup)
{
    const uint8_t pins[] = {DATA, CLOCK, LATCH, setup->enable_pin};
    struct dia_shift_turns wired = {
        .digits = digits.digits, .anode = digits.common_anode, .inverted = digits.inverted};
    wired.segments = per();
    memcpy(wired.segment, digits.segment, sizeof wired.segment);
    memcpy(wired.common, digits.common, sizeof wired.common);
    const struct dia_device_setup on_bench = {
        .name = "tide", .part = "74HC595", .pins = pins, .count = 5, .turns = &wired};
    desk_set_up(48000000);
    int device = dia_bench_shift(bench, &on_bench);
    assert_true(device >= 0);
    if (setup->bus == 0)
        assert_int_equal(dia_sim_spi_pins(&sim, 0, CLOCK, DATA), DIA_OK);
    assert_int_equal(dia_shift_digits_init(&shift, &sim.port, setup, &digits, drawn, memory),
                     DIA_OK);
    dia_sim_timer(&sim, tick, &shift, 100);
    return device;
}

static void next_round(void)
{
    uint8_t now = shift.periods;
    while (shift.periods == now)
        dia_sim_advance_us(&sim, 1);
}

static const struct dia_lamps_shown *look(int device)
{
    assert_int_equal(dia_driver_show(&shift.driver), DIA_OK);
    while (dia_driver_poll(&shift.driver, NULL) == DIA_BUSY)
        dia_sim_advance_us(&sim, 1);
    next_round();
    dia_bench_expose(bench, device, sim.now_ns);
    next_round();
    dia_bench_settle(bench, sim.now_ns);
    return dia_bench_lamps(bench, device);
}

/* A lit segment has its turn of the round but for 2 us of blanking and 2 us of the test; all others
 * are never lit: no ghosts. A segment without an output is dark. */
static void are_lit(const struct dia_lamps_shown *shown, uint32_t share_permille)
{
    uint32_t turn_us = shift.setup.unit_us, n = digits.digits;
    for (uint32_t k = 0; k < n * bits(); k++) {
        uint32_t full = 65535u / n * share_permille / 1000u, off = 65535u / (turn_us * n) * 5u + 2u;
        uint32_t s = k % bits();
        int lit =
            s < per() && drawn[k / 8] >> (k % 8) & 1 && digits.segment[s] != DIA_SHIFT_NO_OUTPUT;
        if (lit)
            assert_in_range(shown->level[k], full > off ? full - off : 0, full + off);
        else
            assert_int_equal(shown->level[k], 0);
    }
}

static void random_segments_show_in_every_wiring(void **state)
{
    (void)state;
    static const uint8_t kinds[] = {8, 15, 17};
    for (int k = 0; k < 96; k++) {
        wire_anyhow((uint8_t)(1 + k % 16), kinds[k / 2 % 3]);
        struct dia_shift_setup setup = setup_of(k >> 4 & 1, k >> 5 & 1);
        int device = connect(&setup);
        for (uint32_t i = 0; i < digits.digits * bits() / 8; i++)
            drawn[i] = (uint8_t)(next_random() >> 16);
        are_lit(look(device), 1000);
        assert_int_equal(dia_bench_findings(bench)->count, 0);
        assert_int_equal(dia_driver_dark(&shift.driver), DIA_OK);
        dia_sim_advance_us(&sim, 20000);
        dia_bench_expose(bench, device, sim.now_ns);
        dia_sim_advance_us(&sim, 20000);
        desk_settle();
        for (uint32_t i = 0; i < digits.digits * bits(); i++)
            assert_int_equal(dia_bench_lamps(bench, device)->level[i], 0);
        desk_clear();
    }
}

/* Half of the light is half of each turn, then a rest; the least is as long as the bits and a tick
 * take: 40 + 1 + 2 + 20 us of 1,250, for five chips at 1 MHz. Master 0 is dark. */
static void the_master_shortens_turns(void **state)
{
    (void)state;
    static const dia_share masters[] = {DIA_SHARE_ONE, DIA_SHARE_ONE / 2, DIA_SHARE_ONE / 4, 512,
                                        0};
    static const uint32_t permille[] = {1000, 500, 250, 50, 0};
    wire_anyhow(4, 8);
    digits.segment[7] = DIA_SHIFT_NO_OUTPUT;
    struct dia_shift_setup setup = setup_of(1, 1);
    setup.clock_hz = 1000000;
    int device = connect(&setup);
    for (int k = 0; k < 5; k++) {
        memcpy(drawn, (uint8_t[]){0x3f, 0, 0xff, 0x06}, 4);
        dia_driver_master(&shift.driver, masters[k]);
        const struct dia_lamps_shown *shown = look(device);
        if (masters[k] == 0)
            memset(drawn, 0, 4);
        are_lit(shown, permille[k]);
        /* 7 + 6 + 2 segments that are there, at most 5 mA each, a quarter of the time each */
        assert_int_equal(shift.driver.ops->asks_ua(&shift.driver, 5000),
                         masters[k] ? (6 + 8 + 2) * 5000 / 4 : 0);
    }
    desk_clear();
}

static void what_cannot_be_is_refused(void **state)
{
    (void)state;
    desk_set_up(48000000);
    struct dia_shift_digits right = {
        .digits = 4, .segment = {0, 1, 2, 3, 4, 5, 6, 7}, .common = {8, 9, 10, 11}};
    for (int k = 0; k < 10; k++) {
        digits = right;
        struct dia_shift_setup setup = setup_of(0, 0);
        setup.chips = 2;
        enum dia_status expected = DIA_BAD_VALUE;
        switch (k) {
        case 0:
            digits.digits = 0;
            break;
        case 1:
            digits.digits = DIA_SHIFT_DIGITS_MOST + 1;
            break;
        case 2:
            digits.common[3] = 16; /* of the third chip */
            break;
        case 3:
            digits.common[0] = 7; /* a segment's */
            break;
        case 4:
            digits.common[2] = DIA_SHIFT_NO_OUTPUT;
            break;
        case 5:
            setup.unit_us = 16384; /* four of them are longer than 65,535 us */
            break;
        case 8:
            digits.digits = 3;
            setup.unit_us = 21845; /* three of them are 65,535 us */
            expected = DIA_OK;
            break;
        case 6:
            setup.chips = DIA_SHIFT_DIGITS_CHIPS + 1;
            break;
        case 7:
            digits.segments = 9;
            break;
        default:
            digits.segment[3] = DIA_SHIFT_NO_OUTPUT;
            expected = DIA_OK;
            break;
        }
        assert_int_equal(dia_shift_digits_init(&shift, &sim.port, &setup, &digits, drawn, memory),
                         expected);
    }
    desk_clear();
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(random_segments_show_in_every_wiring),
        cmocka_unit_test(the_master_shortens_turns),
        cmocka_unit_test(what_cannot_be_is_refused),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
