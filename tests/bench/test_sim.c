/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <string.h>

#include <diachrome/diachrome.h>
#include <diachrome/sim.h>

static struct dia_sim sim;
static struct dia_edge heard[4096];
static uint32_t heard_count;

static void listen(void *self, const struct dia_edge *edges, uint32_t n)
{
    (void)self;
    assert_true(heard_count + n <= 4096);
    memcpy(&heard[heard_count], edges, n * sizeof edges[0]);
    heard_count += n;
}

static void start_over(uint32_t clock_hz)
{
    dia_sim_init(&sim, clock_hz);
    assert_int_equal(dia_sim_listen(&sim, listen, NULL), DIA_OK);
    heard_count = 0;
}

/* At 16 MHz a cycle is 62.5 ns: 400, 850, 800 and 450 ns become 6, 14, 13 and 7 cycles. */
static void pulses_are_whole_cycles_of_the_controller(void **state)
{
    (void)state;
    start_over(16000000);
    uint8_t byte = 0x40; /* 0, 1, 0 ... */
    const struct dia_port_ops *ops = sim.port.ops;
    assert_int_equal(ops->pulse_start(&sim.port, 5, &byte, 1, &dia_ws2812b.timing), DIA_OK);
    dia_sim_advance_us(&sim, 50);
    assert_int_equal(heard_count, 16);
    const uint32_t by_hand[] = {0, 375, 1250, 2062, 2500, 2875};
    for (int i = 0; i < 6; i++) {
        assert_int_equal(heard[i].t_ns - heard[0].t_ns, by_hand[i]);
        assert_int_equal(heard[i].level, i % 2 == 0);
        assert_int_equal(heard[i].pin, 5);
    }
}

/* A background transmission reads a byte when its turn comes. */
static void bytes_changed_too_early_are_sent_changed(void **state)
{
    (void)state;
    start_over(0);
    uint8_t bytes[20];
    memset(bytes, 0, sizeof bytes);
    const struct dia_port_ops *ops = sim.port.ops;
    assert_int_equal(ops->pulse_start(&sim.port, 5, bytes, 20, &dia_ws2812b.timing), DIA_OK);
    assert_int_equal(ops->pulse_start(&sim.port, 5, bytes, 20, &dia_ws2812b.timing), DIA_BUSY);
    dia_sim_advance_us(&sim, 15); /* 10 us a byte */
    memset(bytes, 0xff, sizeof bytes);
    dia_sim_advance_us(&sim, 500);
    assert_int_equal(ops->pulse_poll(&sim.port, 5), DIA_OK);
    assert_int_equal(heard_count, 20 * 16);
    assert_int_equal(heard[1].t_ns - heard[0].t_ns, 400);
    assert_int_equal(heard[319].t_ns - heard[318].t_ns, 800);
}

/* Mode 0: data is steady at the rising clock; 1 MHz is 500 ns from edge to edge. */
static void spi_decodes_as_mode_0(void **state)
{
    (void)state;
    start_over(0);
    const struct dia_port_ops *ops = sim.port.ops;
    uint8_t bytes[2] = {0xa5, 0x0f};
    assert_int_equal(ops->spi_start(&sim.port, 1, 1000000, bytes, 2), DIA_BAD_VALUE);
    assert_int_equal(dia_sim_spi_pins(&sim, 1, 10, 10), DIA_BAD_VALUE);
    assert_int_equal(dia_sim_spi_pins(&sim, 1, 10, 11), DIA_OK);
    assert_int_equal(ops->spi_start(&sim.port, 1, 0, bytes, 2), DIA_BAD_VALUE);
    assert_int_equal(ops->spi_start(&sim.port, 1, 1000000, bytes, 2), DIA_OK);
    assert_int_equal(ops->spi_start(&sim.port, 1, 1000000, bytes, 2), DIA_BUSY);
    while (ops->spi_poll(&sim.port, 1) == DIA_BUSY)
        ;
    uint32_t word = 0, rises = 0;
    uint8_t data = 0;
    uint64_t last_rise = 0;
    for (uint32_t i = 0; i < heard_count; i++) {
        if (heard[i].pin == 11)
            data = heard[i].level;
        if (heard[i].pin == 10 && heard[i].level) {
            word = word << 1 | data;
            if (rises++)
                assert_int_equal(heard[i].t_ns - last_rise, 1000);
            last_rise = heard[i].t_ns;
        }
    }
    assert_int_equal(rises, 16);
    assert_int_equal(word, 0xa50f);
}

/* Wires that rest high are heard by whoever comes later, before the first thing happens. */
static void a_listener_may_come_last(void **state)
{
    (void)state;
    dia_sim_init(&sim, 16000000);
    assert_int_equal(dia_sim_i2c_pins(&sim, 0, 8, 9), DIA_OK);
    heard_count = 0;
    assert_int_equal(dia_sim_listen(&sim, listen, NULL), DIA_OK);
    dia_sim_advance_us(&sim, 1);
    assert_int_equal(heard_count, 2);
    for (int k = 0; k < 2; k++)
        assert_true(heard[k].pin == 8 + k && heard[k].level == 1 && heard[k].let_go == 1);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(a_listener_may_come_last),
        cmocka_unit_test(pulses_are_whole_cycles_of_the_controller),
        cmocka_unit_test(bytes_changed_too_early_are_sent_changed),
        cmocka_unit_test(spi_decodes_as_mode_0),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
