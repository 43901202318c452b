/* SPDX-License-Identifier: MIT */
#ifndef DIA_TESTS_DESK_H
#define DIA_TESTS_DESK_H

#include "support.h"

#include <diachrome/bench.h>
#include <diachrome/diachrome.h>
#include <diachrome/sim.h>

/* A simulated controller with a bench on its pins, for one test. */
static struct dia_sim sim;
static struct dia_bench *bench;
static uint32_t edges_heard[DIA_SIM_PINS]; /* rising ones, of each pin */

static inline void count_edges(void *self, const struct dia_edge *edges, uint32_t n)
{
    (void)self;
    for (uint32_t i = 0; i < n; i++)
        edges_heard[edges[i].pin] += edges[i].level;
}

static inline void desk_set_up(uint32_t clock_hz)
{
    bench = dia_bench_new();
    assert_non_null(bench);
    dia_sim_init(&sim, clock_hz);
    assert_int_equal(dia_sim_listen(&sim, dia_bench_take, bench), DIA_OK);
    assert_int_equal(dia_sim_listen(&sim, count_edges, NULL), DIA_OK);
    dia_bench_answers(bench, dia_sim_drive, &sim);
    for (int i = 0; i < DIA_SIM_PINS; i++)
        edges_heard[i] = 0;
}

static inline void desk_settle(void)
{
    dia_sim_advance_us(&sim, 1);
    dia_bench_settle(bench, sim.now_ns);
}

/* The bench has found nothing, or this. */
static inline void desk_finds(const char *code)
{
    const struct dia_findings *found = dia_bench_findings(bench);
    if (code == NULL && found->count != 0)
        print_error("found %s: %s\n", found->items[0].code, found->items[0].text);
    if (code != NULL && found->count == 0)
        print_error("not found: %s\n", code);
    assert_int_equal(found->count, code != NULL);
    if (code != NULL)
        assert_string_equal(found->items[0].code, code);
}

static inline void desk_clear(void)
{
    dia_bench_free(bench);
}

/* What is drawn: of each lamp its current, for the share of the time that it is lit. Lamps that
 * take turns are lit in one of `turns`; rounding is up to 1 uA a lamp and 0.01 %. */
static inline void desk_draws(const struct dia_lamps_shown *shown, uint32_t lamps, uint32_t lamp_ua,
                              uint32_t turns)
{
    uint64_t levels = 0;
    for (uint32_t i = 0; i < lamps; i++)
        levels += shown->level[i];
    uint64_t ua = levels * lamp_ua / (65535ull * turns), off = lamps + 1 + ua / 10000;
    assert_in_range(shown->draws_ua + off, ua, ua + 2 * off);
}

/* A change of a pin at a time, given to the bench by hand; times count from the last one. */
static uint64_t by_hand_ns;
static inline void after(uint64_t ns, uint8_t pin, uint8_t level)
{
    by_hand_ns += ns;
    struct dia_edge edge = {by_hand_ns, pin, level, 0};
    dia_bench_take(bench, &edge, 1);
}

#endif
