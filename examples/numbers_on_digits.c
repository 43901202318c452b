/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <diachrome/bench.h>
#include <diachrome/diachrome.h>
#include <diachrome/sim.h>

/* Numbers on four digits: with a point, below zero, hexadecimal, with zeros, too large, a text. */
static struct dia_digits tide;
static uint8_t segments[4];

static uint32_t timer(void *nothing)
{
    (void)nothing;
    return dia_driver_tick(&tide.driver);
}

/* What the bench saw, as a person would read it. */
static void print_seen(const uint16_t *level)
{
    static const char known[] = " -0123456789AbCdEFLP";
    for (int digit = 0; digit < 4; digit++, level += 8) {
        uint8_t lit = 0;
        const char *is = known;
        for (int k = 0; k < 7; k++)
            lit = (uint8_t)(lit | (level[k] != 0) << k);
        while (*is && dia_segments_of(*is) != lit)
            is++;
        printf("%c%s", *is ? *is : '?', level[7] ? "." : "");
    }
    putchar('\n');
}

int main(void)
{
    static const struct dia_number_form forms[] = {
        {.width = 4},                             /* 1258 */
        {.width = 4},                             /* -7 */
        {.width = 4, .decimals = 3, .merged = 1}, /* 3.141 */
        {.width = 4, .fill = DIA_FILL_ZEROS},     /* 0023 */
        {.width = 4, .base = 16},                 /* FA */
        {.width = 4},                             /* 12345: dashes */
    };
    static const int32_t values[] = {1258, -7, 3141, 23, 0xfa, 12345};
    static struct dia_sim sim; /* on a controller: a port and a timer of its own */
    static const uint8_t pins[16] = {30, 31, 32, 33, 34, 35, 36, 37, 20, 21, 22, 23};
    struct dia_digits_setup setup = {.segment_pin = {30, 31, 32, 33, 34, 35, 36, 37},
                                     .common_pin = {20, 21, 22, 23},
                                     .digits = 4,
                                     .inverted = 1,
                                     .turn_us = dia_digits_turn_us(250000, 4, 0)};
    struct dia_device_setup desk = {
        .name = "tide", .part = "digits", .pins = pins, .count = 4, .options = DIA_DIGITS_INVERTED};
    struct dia_bench *bench = dia_bench_new(); /* what lies on the desk */
    int digits = dia_bench_digits(bench, &desk);
    char text[DIA_NUMBER_BYTES];

    dia_sim_init(&sim, 16000000);
    if (dia_sim_listen(&sim, dia_bench_take, bench) != DIA_OK ||
        dia_digits_init(&tide, &sim.port, &setup, segments) != DIA_OK ||
        dia_sim_timer(&sim, timer, NULL, 100) < 0)
        return 1;
    for (size_t k = 0; k <= sizeof values / sizeof values[0]; k++) {
        if (k < sizeof values / sizeof values[0])
            dia_number_text(values[k], &forms[k], text);
        dia_segments_text(k < sizeof values / sizeof values[0] ? text : "FEEd", segments, 4);
        if (dia_driver_show_and_wait(&tide.driver) != DIA_OK)
            return 1;
        dia_sim_advance_us(&sim, 4000); /* a round */
        dia_bench_expose(bench, digits, sim.now_ns);
        dia_sim_advance_us(&sim, 100000);
        dia_bench_settle(bench, sim.now_ns);
        print_seen(dia_bench_lamps(bench, digits)->level);
    }
    dia_bench_free(bench);
    return 0;
}
