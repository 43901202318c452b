/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <diachrome/bench.h>
#include <diachrome/diachrome.h>
#include <diachrome/sim.h>

/* 16 lamps on two shift registers, from dark to full in 4 bits, by a timer interrupt. */
#define CHIPS 2
#define DEPTH 4
enum { SER = 4, SRCLK, RCLK, OE };

static struct dia_shift buoys;

/* The timer interrupt: it says when it wants to come again. */
static uint32_t timer(void *nothing)
{
    (void)nothing;
    return dia_driver_tick(&buoys.driver);
}

int main(void)
{
    static struct dia_sim sim; /* on a controller: a port and a timer of its own */
    static uint8_t levels[DIA_SHIFT_LEVELS(CHIPS)], memory[DIA_SHIFT_BYTES(CHIPS, DEPTH)];
    static const uint8_t pins[DIA_SHIFT_PINS] = {SER, SRCLK, RCLK, OE};
    struct dia_device_setup desk = {
        .name = "buoys", .part = "74HC595", .pins = pins, .count = CHIPS};
    struct dia_shift_setup setup = {.part = &dia_74hc595,
                                    .data_pin = SER,
                                    .clock_pin = SRCLK,
                                    .latch_pin = RCLK,
                                    .enable_pin = OE,
                                    .bus = DIA_SHIFT_BY_PINS,
                                    .depth = DEPTH,
                                    .slices = DIA_SLICES_WEIGHTED,
                                    .chips = CHIPS,
                                    .unit_us = dia_slices_unit_us(200000, DEPTH)}; /* 200 Hz */
    struct dia_bench *bench = dia_bench_new(); /* what lies on the desk */
    int chain = dia_bench_shift(bench, &desk);

    dia_sim_init(&sim, 16000000);
    if (dia_sim_listen(&sim, dia_bench_take, bench) != DIA_OK ||
        dia_shift_init(&buoys, &sim.port, &setup, levels, memory) != DIA_OK ||
        dia_sim_timer(&sim, timer, NULL, 100) < 0)
        return 1;
    for (uint8_t i = 0; i < 8 * CHIPS; i++)
        levels[i] = (uint8_t)(17 * i); /* as they look: 0 to 255 in even steps */
    if (dia_driver_show_and_wait(&buoys.driver) != DIA_OK)
        return 1;
    dia_sim_advance_us(&sim, 1);
    dia_bench_expose(bench, chain, sim.now_ns);
    dia_sim_advance_us(&sim, 100000); /* an eye looks for a tenth of a second */
    dia_bench_settle(bench, sim.now_ns);
    for (uint8_t i = 0; i < 8 * CHIPS; i++)
        printf("%d ", (dia_bench_lamps(bench, chain)->level[i] * 15 + 32767) / 65535);
    puts("of 15");
    dia_bench_free(bench);
    return 0;
}
