/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <diachrome/bench.h>
#include <diachrome/diachrome.h>
#include <diachrome/sim.h>

/* The program of the README, with a strip on the bench put under it when it starts its port. */
static struct dia_bench *bench;
static struct dia_sim *its_sim;

static void start_with_bench(struct dia_sim *sim, uint32_t clock_hz)
{
    struct dia_chain_setup desk = {.name = "strip", .part = "WS2812B", .pin = 17, .count = 48};
    bench = dia_bench_new();
    assert_int_equal(dia_bench_chain(bench, &desk), 0);
    dia_sim_init(sim, clock_hz);
    dia_sim_listen(sim, dia_bench_take, bench);
    its_sim = sim;
}

int program(void);
#define dia_sim_init  start_with_bench
#define main(nothing) program(nothing)
#include "../../examples/smallest_strip.c"
#undef main
#undef dia_sim_init

static void it_lights_a_strip(void **state)
{
    (void)state;
    assert_int_equal(program(), 0);
    dia_bench_settle(bench, its_sim->now_ns);
    const struct dia_shown *shown = dia_bench_shown(bench, 0);
    assert_int_equal(shown->frames, 50);
    assert_int_equal(dia_bench_findings(bench)->count, 0);
    /* 980 ms on, at 200 mm/s the sweep of 1000 mm has turned by 0.196: pixel 0 is in the sixth of
     * the circle from blue to magenta, and 1.9 A are enough for all of it */
    assert_true(shown->drive[0][0] > 0);
    assert_int_equal(shown->drive[0][1], 0);
    assert_int_equal(shown->drive[0][2], 255);
    dia_bench_free(bench);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(it_lights_a_strip),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
