/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <diachrome/bench.h>
#include <diachrome/diachrome.h>
#include <diachrome/sim.h>

/* Four digits on two shift registers, lit in turns: segments on the first, commons on the second.
 */
enum { DATA = 4, CLOCK, LATCH };

static struct dia_shift tide;

static uint32_t timer(void *nothing)
{
    (void)nothing;
    return dia_driver_tick(&tide.driver);
}

int main(void)
{
    static struct dia_sim sim; /* on a controller: a port and a timer of its own */
    static const struct dia_shift_digits digits = {
        .digits = 4, .segment = {0, 1, 2, 3, 4, 5, 6, 7}, .common = {8, 9, 10, 11}};
    struct dia_shift_setup setup = {.part = &dia_74hc595,
                                    .data_pin = DATA,
                                    .clock_pin = CLOCK,
                                    .latch_pin = LATCH,
                                    .enable_pin = DIA_NO_PIN,
                                    .bus = DIA_SHIFT_BY_PINS,
                                    .chips = 2,
                                    .unit_us = dia_digits_turn_us(200000, 4, 0)}; /* 200 Hz */
    const uint8_t pins[] = {DATA, CLOCK, LATCH, DIA_NO_PIN};
    struct dia_shift_turns wires = {
        .digits = 4, .segments = 8, .segment = {0, 1, 2, 3, 4, 5, 6, 7}, .common = {8, 9, 10, 11}};
    struct dia_device_setup desk = {
        .name = "tide", .part = "74HC595", .pins = pins, .count = 2, .turns = &wires};
    struct dia_bench *bench = dia_bench_new(); /* what lies on the desk */
    int chain = dia_bench_shift(bench, &desk);
    static uint8_t segments[4], memory[DIA_SHIFT_DIGITS_BYTES(2, 4)];

    dia_sim_init(&sim, 48000000);
    if (dia_sim_listen(&sim, dia_bench_take, bench) != DIA_OK ||
        dia_shift_digits_init(&tide, &sim.port, &setup, &digits, segments, memory) != DIA_OK ||
        dia_sim_timer(&sim, timer, NULL, 100) < 0)
        return 1;
    dia_segments_text("2.37", segments, 4);
    if (dia_driver_show_and_wait(&tide.driver) != DIA_OK)
        return 1;
    dia_bench_expose(bench, chain, sim.now_ns);
    dia_sim_advance_us(&sim, 100000);
    dia_bench_settle(bench, sim.now_ns);
    const uint16_t *level = dia_bench_lamps(bench, chain)->level;
    for (int digit = 0; digit < 4; digit++) {
        for (int k = 0; k < 8; k++) { /* segments a to g and the point, as letters */
            if (level[digit * 8 + k])
                putchar("abcdefg."[k]);
        }
        putchar(digit < 3 ? ' ' : '\n');
    }
    dia_bench_free(bench);
    return 0;
}
