/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_PULSE_ENGINE_H
#define DIACHROME_PULSE_ENGINE_H

#include <stdint.h>

#include "edge.h"
#include "linkage.h"

DIA_BEGIN

/*
 * A pulse engine as it runs: instruction for instruction, each in its cycle of the divided clock,
 * as the RP2040 data sheet describes it (chapter PIO). It knows no plan: words, divider and pins
 * are what a controller would write to its registers. Its edges go to a bench.
 *
 * It has JMP, OUT, PULL, MOV, SET; of pins those that it drives. IN, PUSH, WAIT and IRQ are
 * not there: a program with one of them ends with DIA_ENGINE_UNKNOWN.
 *
 * Cost: some steps a cycle.
 * Context: one thread at a time for an object; not from an interrupt.
 */
struct dia_engine_setup {
    const uint16_t *words; /* the caller's, 1 to 32 */
    uint8_t count;
    uint8_t wrap;                             /* the word that comes after the last one */
    uint8_t side_count, set_count, out_count; /* pins; of the first 0 to 5 */
    uint8_t side_pin, set_pin, out_pin;       /* the first of each */
    uint8_t pull_bits; /* data is fetched when so many bits have gone out; 0: by PULL only */
    uint32_t clock_hz, divider; /* in 256ths, 256 to 16,777,216 */
    const uint32_t *data;       /* the caller's, most significant bit first */
    uint32_t data_count;
};
enum dia_engine_state { DIA_ENGINE_RUNS, DIA_ENGINE_WAITS, DIA_ENGINE_UNKNOWN };
struct dia_engine {
    struct dia_engine_setup setup;
    uint64_t cycle; /* of the divided clock, so far */
    uint32_t x, y, out;
    uint8_t out_left; /* bits of `out` not yet gone */
    uint8_t at;       /* the word that comes next */
    uint8_t state;    /* enum dia_engine_state */
    uint64_t levels;  /* of the pins, a bit each */
    uint32_t taken;   /* words of data */
};

/* At its first word, with all pins low. */
void dia_engine_init(struct dia_engine *engine, const struct dia_engine_setup *setup);

/* Runs until a time, or until it waits for data that does not come. */
enum dia_engine_state dia_engine_run(struct dia_engine *engine, uint64_t until_ns,
                                     dia_edge_listener *take, void *self);

/* Where it is, ns since it began. */
uint64_t dia_engine_now_ns(const struct dia_engine *engine);

DIA_END

#endif
