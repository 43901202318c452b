/* SPDX-License-Identifier: MIT */
#include "../desk.h"

#include <stdlib.h>
#include <string.h>

enum { SER = 4, SRCLK, RCLK, OE };
static const uint8_t pins[DIA_SHIFT_PINS] = {SER, SRCLK, RCLK, OE};

static struct dia_shift shift;
static uint8_t levels[DIA_SHIFT_LEVELS(64)], memory[DIA_SHIFT_BYTES(64, 8)];

static struct dia_shift_setup setup_of(uint16_t chips, uint8_t depth, enum dia_slices slices,
                                       int by_pins)
{
    return (struct dia_shift_setup){
        .part = &dia_74hc595,
        .data_pin = SER,
        .clock_pin = SRCLK,
        .latch_pin = RCLK,
        .enable_pin = OE,
        .bus = by_pins ? DIA_SHIFT_BY_PINS : 0,
        .depth = depth,
        .slices = (uint8_t)slices,
        .clock_hz = 8000000,
        .chips = chips,
        .unit_us = (uint16_t)(chips * 6u + 20u),
    };
}

static uint32_t tick(void *self)
{
    return dia_driver_tick(self);
}

static int connect(const struct dia_shift_setup *setup)
{
    const struct dia_device_setup on_bench = {
        .name = "buoys", .part = "74HC595", .pins = pins, .count = setup->chips, .lamp_ua = 9000};
    desk_set_up(48000000);
    assert_int_equal(dia_sim_spi_pins(&sim, 0, SRCLK, SER), DIA_OK);
    int device = dia_bench_shift(bench, &on_bench);
    assert_true(device >= 0);
    assert_int_equal(dia_shift_init(&shift, &sim.port, setup, levels, memory), DIA_OK);
    dia_sim_timer(&sim, tick, &shift, setup->unit_us);
    return device;
}

/* Until the next period begins. */
static void next_period(void)
{
    uint8_t now = shift.periods;
    while (shift.periods == now)
        dia_sim_advance_us(&sim, 1);
}

/* Shows a frame and looks at it for one whole period. */
static const struct dia_lamps_shown *look_at(int device)
{
    while (dia_driver_show(&shift.driver) == DIA_BUSY)
        dia_sim_advance_us(&sim, 1);
    while (dia_driver_poll(&shift.driver, NULL) == DIA_BUSY)
        dia_sim_advance_us(&sim, 1);
    next_period();
    dia_bench_expose(bench, device, sim.now_ns);
    next_period();
    dia_bench_settle(bench, sim.now_ns);
    return dia_bench_lamps(bench, device);
}

static void random_levels_come_out_of_every_chain_and_depth(void **state)
{
    (void)state;
    uint32_t seed = 5;
    for (uint16_t k = 0; k < 64; k++) {
        uint16_t chips = (uint16_t)(k + 1);
        uint8_t depth = (uint8_t)(1 + k % 8), steps[64 * 8];
        struct dia_shift_setup setup =
            setup_of(chips, depth, k / 8 % 2 ? DIA_SLICES_EVEN : DIA_SLICES_WEIGHTED, k % 3 == 0);
        int device = connect(&setup);
        for (int frame = 0; frame < 2; frame++) {
            for (uint32_t i = 0; i < chips * 8u; i++)
                levels[i] = (uint8_t)random_below(&seed, 256);
            dia_lamps_develop(levels, (uint16_t)(chips * 8u), DIA_SHARE_ONE, depth, steps);
            const struct dia_lamps_shown *shown = look_at(device);
            uint32_t full = (1u << depth) - 1u;
            for (uint32_t i = 0; i < chips * 8u; i++)
                assert_int_equal((shown->level[i] * full + 32767) / 65535, steps[i]);
            desk_draws(shown, chips * 8u, 9000, 1);
            uint64_t sum = 0;
            for (uint32_t i = 0; i < chips * 8u; i++)
                sum += steps[i];
            assert_int_equal(shift.driver.ops->asks_ua(&shift.driver, 9001),
                             (sum * 9001 + full - 1) / full);
        }
        assert_int_equal(shift.late, 0);
        desk_finds(NULL);
        desk_clear();
    }
}

static const struct dia_port_ops *right;
static int until_refused; /* sends that go well before one that does not; below 0: all go well */

static enum dia_status refuses_once(struct dia_port *port, uint8_t bus, uint32_t clock_hz,
                                    const uint8_t *out, uint32_t n)
{
    return until_refused-- == 0 ? DIA_BUSY : right->spi_start(port, bus, clock_hz, out, n);
}

/* A row that could not be sent is sent with the next tick: nothing of the light of that period is
 * left out. The lamps are at 8 of 15 steps, which is one row of four. */
static void a_row_that_was_refused_comes_with_the_next_tick(void **state)
{
    (void)state;
    for (int at = 0; at < 4; at++) {
        struct dia_shift_setup setup = setup_of(1, 4, DIA_SLICES_WEIGHTED, 0);
        int device = connect(&setup);
        uint8_t steps[8] = {0}, code = 0;
        for (; steps[0] != 8; code++) {
            memset(levels, code, 8);
            dia_lamps_develop(levels, 8, DIA_SHARE_ONE, 4, steps);
        }
        until_refused = -1;
        look_at(device);
        right = sim.port.ops;
        struct dia_port_ops refusing = *right;
        refusing.spi_start = refuses_once;
        sim.port.ops = &refusing;
        until_refused = at;
        dia_bench_expose(bench, device, sim.now_ns);
        next_period();
        dia_bench_settle(bench, sim.now_ns);
        assert_true(until_refused < 0); /* it has been refused */
        for (uint32_t lamp = 0; lamp < 8; lamp++)
            assert_in_range(dia_bench_lamps(bench, device)->level[lamp], 65535 / 3, 65535 * 3 / 4);
        desk_clear();
    }
}

/* The latches hold anything after power-up; with the enable pin none of it is seen. */
static void all_is_dark_before_the_first_frame_and_at_the_end(void **state)
{
    (void)state;
    for (int by_pins = 0; by_pins < 2; by_pins++) {
        struct dia_shift_setup setup = setup_of(3, 4, DIA_SLICES_WEIGHTED, by_pins);
        int device = connect(&setup);
        struct dia_about about;
        dia_driver_about(&shift.driver, &about);
        assert_int_equal(about.route, by_pins ? DIA_ON_PINS : DIA_ON_SPI);
        assert_int_equal(about.bus, 0);
        const struct dia_lamps_shown *shown = dia_bench_lamps(bench, device);
        desk_settle();
        dia_bench_expose(bench, device, sim.now_ns);
        dia_sim_advance_us(&sim, 5000);
        desk_settle();
        for (int i = 0; i < 24; i++)
            assert_int_equal(shown->level[i], 0);
        memset(levels, 255, 24);
        assert_int_equal(look_at(device)->level[7], 65535);
        assert_int_equal(dia_driver_dark(&shift.driver), DIA_OK); /* ticks go on, and do nothing */
        desk_settle();
        dia_bench_expose(bench, device, sim.now_ns);
        dia_sim_advance_us(&sim, 5000);
        desk_settle();
        for (int i = 0; i < 24; i++)
            assert_int_equal(shown->level[i], 0);
        desk_finds(NULL);
        desk_clear();
    }
}

/* Ticks that come late, or too early, change how long a slice lasts; the period after is right. */
static void a_disturbed_tick_corrupts_nothing(void **state)
{
    (void)state;
    struct dia_shift_setup setup = setup_of(40, 4, DIA_SLICES_WEIGHTED, 0);
    int device = connect(&setup);
    uint8_t steps[320];
    for (int i = 0; i < 320; i++)
        levels[i] = (uint8_t)(i * 7);
    dia_lamps_develop(levels, 320, DIA_SHARE_ONE, 4, steps);
    look_at(device);
    sim.timers[0].due_ns += 3000000; /* a tick 3 ms late */
    dia_sim_advance_us(&sim, 10000);
    dia_driver_tick(&shift.driver);
    dia_driver_tick(&shift.driver); /* 40 chips take 40 us: these are too early */
    assert_true(shift.late > 0);
    const struct dia_lamps_shown *shown = look_at(device);
    shown = look_at(device);
    for (int i = 0; i < 320; i++)
        assert_int_equal((shown->level[i] * 15 + 32767) / 65535, steps[i]);
    desk_finds(NULL);
    desk_clear();
}

static const struct {
    uint32_t period, high, set_up, latch, before_latch;
    const char *code;
} timings[] = {
    {41, 20, 25, 20, 25, NULL},          {40, 20, 25, 20, 25, "clock-fast"},
    {60, 19, 25, 20, 25, "pulse-short"}, {60, 20, 24, 20, 25, "set-up-short"},
    {60, 20, 25, 19, 25, "pulse-short"}, {60, 20, 25, 20, 24, "set-up-short"},
};

static void the_model_minds_every_time_of_the_sheet(void **state)
{
    (void)state;
    for (size_t k = 0; k < sizeof timings / sizeof timings[0]; k++) {
        struct dia_shift_setup setup = setup_of(1, 1, DIA_SLICES_EVEN, 0);
        connect(&setup);
        uint32_t low = timings[k].period - timings[k].high, before = timings[k].set_up;
        by_hand_ns = 1000;
        for (int bit = 0; bit < 8; bit++) {
            /* where the low is shorter than the set-up, data changes while the clock is high */
            uint32_t change = low > before ? low - before : 0;
            after(change, SER, !(bit & 1) && low >= before);
            after(low - change, SRCLK, 1);
            after(timings[k].high, SRCLK, 0);
        }
        after(timings[k].before_latch - timings[k].high, RCLK, 1);
        after(timings[k].latch, RCLK, 0);
        desk_finds(timings[k].code);
        desk_clear();
    }
    struct dia_shift_setup setup = setup_of(2, 1, DIA_SLICES_EVEN, 0);
    connect(&setup);
    by_hand_ns = 1000;
    for (int bit = 0; bit < 15; bit++) {
        after(50, SRCLK, 1);
        after(50, SRCLK, 0);
    }
    after(50, RCLK, 1);
    desk_finds("word-part");
    desk_clear();
}

static void what_cannot_be_is_refused(void **state)
{
    (void)state;
    static const struct {
        uint16_t chips, unit_us;
        uint8_t depth;
        uint32_t clock_hz;
    } wrong[] = {
        {0, 100, 4, 8000000},  {10000, 60000, 4, 8000000}, {3, 100, 0, 8000000},
        {3, 100, 9, 8000000},  {3, 0, 4, 8000000},         {3, 100, 4, 24000001},
        {3, 9000, 4, 8000000}, /* the longest slice would be 72 ms */
        {99, 99, 4, 8000000},  /* 99 chips take 99 us */
    };
    for (size_t k = 0; k < sizeof wrong / sizeof wrong[0]; k++) {
        struct dia_shift other = {0};
        struct dia_shift_setup setup = setup_of(3, 4, DIA_SLICES_WEIGHTED, 0);
        desk_set_up(48000000);
        assert_int_equal(dia_sim_spi_pins(&sim, 0, SRCLK, SER), DIA_OK);
        setup.chips = wrong[k].chips;
        setup.unit_us = wrong[k].unit_us;
        setup.depth = wrong[k].depth;
        setup.clock_hz = wrong[k].clock_hz;
        assert_int_equal(dia_shift_init(&other, &sim.port, &setup, levels, NULL), DIA_BAD_VALUE);
        desk_clear();
    }
    assert_int_equal(dia_slices_unit_us(120000, 8), 32); /* 8333 us / 255 */
    assert_int_equal(dia_slices_unit_us(0, 8), 0);
    assert_int_equal(dia_slices_row_unit_us(0, 16, 100, 4), 0);
    assert_int_equal(dia_slices_row_unit_us(100000, 0, 100, 4), 0);
    assert_int_equal(dia_slices_row_unit_us(100000, 16, 100, 0), 0);
    assert_int_equal(dia_slices_row_unit_us(100000, 16, 100, 9), 0);
    /* one row that has all of the time: 10 ms at 100 Hz, of one plane, is 10,000 us of light less a
     * tick of 100 us beside it; and the slowest there is */
    uint16_t alone = dia_slices_row_unit_us(100000, 1, 100, 1);
    assert_true(alone != 0 && dia_slices_row_us(alone, 100, 1) <= 10000);
    assert_true(dia_slices_row_us((uint16_t)(alone + 1u), 100, 1) > 10000);
    assert_true(dia_slices_row_unit_us(1, 16, 100, 1) > 60000);
    /* without SPI registers go by pins, and by nothing else */
    for (int by_pins = 0; by_pins < 2; by_pins++) {
        struct dia_shift other = {0};
        struct dia_shift_setup setup = setup_of(3, 4, DIA_SLICES_WEIGHTED, by_pins);
        desk_set_up(48000000);
        struct dia_port_ops ops = *sim.port.ops;
        ops.spi_poll = NULL;
        sim.port.ops = &ops;
        setup.unit_us = 1000;
        assert_int_equal(dia_shift_init(&other, &sim.port, &setup, levels, memory),
                         by_pins ? DIA_OK : DIA_UNSUPPORTED);
        desk_clear();
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(random_levels_come_out_of_every_chain_and_depth),
        cmocka_unit_test(a_row_that_was_refused_comes_with_the_next_tick),
        cmocka_unit_test(all_is_dark_before_the_first_frame_and_at_the_end),
        cmocka_unit_test(a_disturbed_tick_corrupts_nothing),
        cmocka_unit_test(the_model_minds_every_time_of_the_sheet),
        cmocka_unit_test(what_cannot_be_is_refused),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
