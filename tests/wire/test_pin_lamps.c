/* SPDX-License-Identifier: MIT */
#include "../desk.h"

#include <string.h>

/* Lamps on pins, by their model. */

static struct dia_pin_lamps lamps;
static uint8_t level[DIA_PIN_LAMPS_MOST];

static uint32_t tick(void *self)
{
    return dia_driver_tick(self);
}

static struct dia_pin_lamps_setup setup_of(uint8_t count, uint8_t depth, uint8_t sinks)
{
    struct dia_pin_lamps_setup setup = {.lamps = count,
                                        .depth = depth,
                                        .sinks = sinks,
                                        .unit_us = dia_slices_unit_us(100000, depth)};
    for (uint8_t k = 0; k < DIA_PIN_LAMPS_MOST; k++)
        setup.pins[k] = (uint8_t)(40 - k);
    return setup;
}

static int connect(const struct dia_pin_lamps_setup *setup)
{
    const struct dia_device_setup on_bench = {.name = "beacon",
                                              .part = "lamps",
                                              .pins = setup->pins,
                                              .count = setup->lamps,
                                              .lamp_ua = 15000,
                                              .options = setup->sinks ? DIA_PIN_LAMPS_SINK : 0};
    desk_set_up(16000000);
    int device = dia_bench_pin_lamps(bench, &on_bench);
    assert_true(device >= 0);
    assert_int_equal(dia_pin_lamps_init(&lamps, &sim.port, setup, level), DIA_OK);
    dia_sim_timer(&sim, tick, &lamps, 100);
    return device;
}

static void next_period(void)
{
    uint8_t now = lamps.periods;
    while (lamps.periods == now)
        dia_sim_advance_us(&sim, 1);
}

static const struct dia_lamps_shown *look(int device)
{
    assert_int_equal(dia_driver_show(&lamps.driver), DIA_OK);
    while (dia_driver_poll(&lamps.driver, NULL) == DIA_BUSY)
        dia_sim_advance_us(&sim, 1);
    next_period();
    dia_bench_expose(bench, device, sim.now_ns);
    next_period();
    dia_bench_settle(bench, sim.now_ns);
    return dia_bench_lamps(bench, device);
}

/* Each lamp has the share of light of its level, rounded to the steps of the depth; with one bit it
 * is on from level 128 on. Times are 2 us off at most for each edge. */
static void levels_are_shares_of_the_time(void **state)
{
    (void)state;
    static const uint8_t levels[] = {0, 1, 30, 60, 127, 128, 180, 200, 254, 255};
    for (uint8_t depth = 1; depth <= 8; depth++) {
        for (uint8_t sinks = 0; sinks < 2; sinks++) {
            struct dia_pin_lamps_setup setup = setup_of(16, depth, sinks);
            int device = connect(&setup);
            uint32_t full = (1u << depth) - 1u, period_us = full * setup.unit_us;
            for (uint32_t k = 0; k < 16; k++)
                level[k] = levels[k % 10];
            const struct dia_lamps_shown *shown = look(device);
            for (uint32_t k = 0; k < 16; k++) {
                uint8_t code = levels[k % 10];
                uint32_t steps = (dia_light_of(code) * full + 32767u) / 65535u;
                if (depth == 1)
                    steps = code >= 128;
                uint32_t expected = steps * 65535u / full, off = 65535u * 4u / period_us + 1u;
                if (steps == 0 || steps == full)
                    assert_int_equal(shown->level[k], expected);
                else
                    assert_in_range(shown->level[k], expected > off ? expected - off : 0,
                                    expected + off);
            }
            desk_draws(shown, 16, 15000, 1);
            assert_int_equal(dia_driver_dark(&lamps.driver), DIA_OK);
            for (uint8_t k = 0; k < 16; k++)
                assert_int_equal(sim.level[setup.pins[k]], sinks);
            desk_finds(NULL);
            desk_clear();
        }
    }
}

/* Half of the light is half of the time; what it asks for is the mean, rounded up. */
static void the_master_and_the_current(void **state)
{
    (void)state;
    struct dia_pin_lamps_setup setup = setup_of(3, 8, 0);
    int device = connect(&setup);
    memcpy(level, (uint8_t[]){255, 255, 0}, 3);
    assert_int_equal(lamps.driver.ops->asks_ua(&lamps.driver, 10000), 20000);
    dia_driver_master(&lamps.driver, DIA_SHARE_ONE / 2);
    const struct dia_lamps_shown *shown = look(device);
    assert_in_range(shown->level[0], 65535 / 2 - 300, 65535 / 2 + 300);
    assert_int_equal(shown->level[2], 0);
    assert_in_range(lamps.driver.ops->asks_ua(&lamps.driver, 10000), 9960, 10080);
    desk_clear();
}

static void what_cannot_be_is_refused(void **state)
{
    (void)state;
    desk_set_up(16000000);
    for (int k = 0; k < 9; k++) {
        struct dia_pin_lamps_setup setup = setup_of(4, 5, 0);
        enum dia_status expected = DIA_BAD_VALUE;
        switch (k) {
        case 0:
            setup.lamps = 0;
            break;
        case 1:
            setup.lamps = 17;
            break;
        case 2:
            setup.depth = 0;
            break;
        case 3:
            setup.depth = 9;
            setup.unit_us = 20;
            break;
        case 4:
            setup.unit_us = 19;
            break;
        case 5:
            setup.unit_us = 4096; /* 16 of them: 65,536 us */
            break;
        case 6:
            setup.pins[3] = setup.pins[0];
            break;
        case 7:
            setup.pins[1] = DIA_NO_PIN;
            break;
        default:
            setup.unit_us = 4095;
            setup.pins[4] = setup.pins[0]; /* not used */
            expected = DIA_OK;
            break;
        }
        assert_int_equal(dia_pin_lamps_init(&lamps, &sim.port, &setup, level), expected);
    }
    desk_clear();
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(levels_are_shares_of_the_time),
        cmocka_unit_test(the_master_and_the_current),
        cmocka_unit_test(what_cannot_be_is_refused),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
