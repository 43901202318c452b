/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <diachrome/bench.h>
#include <diachrome/diachrome.h>
#include <diachrome/sim.h>

/* Four digits straight from pins, lit in turns by a timer interrupt. */
static struct dia_digits tide;

static uint32_t timer(void *nothing)
{
    (void)nothing;
    return dia_driver_tick(&tide.driver);
}

int main(void)
{
    static struct dia_sim sim; /* on a controller: a port and a timer of its own */
    struct dia_digits_setup setup = {.segment_pin = {30, 31, 32, 33, 34, 35, 36, 37},
                                     .common_pin = {20, 21, 22, 23},
                                     .digits = 4,
                                     .inverted = 1,
                                     .turn_us = dia_digits_turn_us(250000, 4, 0)}; /* 250 Hz */
    static const uint8_t pins[16] = {30, 31, 32, 33, 34, 35, 36, 37, 20, 21, 22, 23};
    struct dia_device_setup desk = {
        .name = "tide", .part = "digits", .pins = pins, .count = 4, .options = DIA_DIGITS_INVERTED};
    struct dia_bench *bench = dia_bench_new(); /* what lies on the desk */
    int digits = dia_bench_digits(bench, &desk);
    static uint8_t segments[4];

    dia_sim_init(&sim, 16000000);
    if (dia_sim_listen(&sim, dia_bench_take, bench) != DIA_OK ||
        dia_digits_init(&tide, &sim.port, &setup, segments) != DIA_OK ||
        dia_sim_timer(&sim, timer, NULL, 100) < 0)
        return 1;
    dia_segments_text("2.37", segments, 4);
    if (dia_driver_show_and_wait(&tide.driver) != DIA_OK)
        return 1;
    dia_bench_expose(bench, digits, sim.now_ns);
    dia_sim_advance_us(&sim, 100000);
    dia_bench_settle(bench, sim.now_ns);
    const uint16_t *level = dia_bench_lamps(bench, digits)->level;
    for (int row = 0; row < 3; row++) { /* segments a; f g b; e d c */
        static const signed char at[3][3] = {{-1, 0, -1}, {5, 6, 1}, {4, 3, 2}};
        for (int digit = 0; digit < 4; digit++) {
            for (int k = 0; k < 3; k++)
                putchar(at[row][k] >= 0 && level[digit * 8 + at[row][k]] ? k == 1 ? '_' : '|'
                                                                         : ' ');
            putchar(row == 2 && level[digit * 8 + 7] ? '.' : ' ');
        }
        putchar('\n');
    }
    dia_bench_free(bench);
    return 0;
}
