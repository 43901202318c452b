/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <diachrome/bench.h>
#include <diachrome/diachrome.h>
#include <diachrome/sim.h>

/* Three lanes of different length, sent at once in the time of the longest. */
#define LANES 3
#define FIRST 16

int main(void)
{
    static struct dia_sim sim; /* on a controller: a port of its own */
    static const uint32_t counts[LANES] = {60, 24, 7};
    static uint8_t bytes[LANES][3 * 60], planes[DIA_PLANES_BYTES(LANES, 3 * 60)];
    const uint8_t *lanes[LANES];
    uint32_t lengths[LANES];
    struct dia_bench *bench = dia_bench_new(); /* what lies on the desk */
    struct dia_parallel group;

    dia_sim_init(&sim, 64000000);
    dia_sim_listen(&sim, dia_bench_take, bench);
    for (uint8_t k = 0; k < LANES; k++) {
        struct dia_chain_setup desk = {
            .name = "lane", .part = "WS2812B", .pin = (uint8_t)(FIRST + k), .count = counts[k]};
        dia_bench_chain(bench, &desk);
        lanes[k] = bytes[k];
        lengths[k] = 3 * counts[k];
        for (uint32_t i = 0; i < counts[k]; i++)
            bytes[k][3 * i + k] = (uint8_t)(4 * i); /* in wire order: green, red, blue */
    }
    dia_parallel_init(&group, &sim.port, FIRST, LANES, &dia_ws2812b);
    dia_planes_make(planes, LANES, lanes, lengths);
    while (dia_parallel_start(&group, planes, lengths) == DIA_BUSY)
        ;
    uint64_t start_ns = sim.now_ns;
    while (dia_parallel_poll(&group) == DIA_BUSY)
        ; /* a program would draw the next frame here */
    dia_bench_settle(bench, sim.now_ns);
    for (int k = 0; k < LANES; k++) {
        const uint8_t *last = dia_bench_shown(bench, k)->drive[counts[k] - 1];
        printf("lane %d ends in red %d, green %d, blue %d\n", k, last[0], last[1], last[2]);
    }
    printf("all in %.1f ms\n", (double)(sim.now_ns - start_ns) / 1e6);
    dia_bench_free(bench);
    return 0;
}
