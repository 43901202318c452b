/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <diachrome/bench.h>
#include <diachrome/diachrome.h>
#include <diachrome/sim.h>

/* Three strips of different length, sent at once in the time of the longest. */
enum { LANES = 3, FIRST = 16, LONGEST = 60 };

int main(void)
{
    static struct dia_sim sim; /* on a controller: a port of its own */
    static const uint16_t counts[LANES] = {LONGEST, 24, 7};
    static struct dia_rgb pixels[LANES][LONGEST];
    static uint8_t memory[LANES][DIA_STRIP_BYTES(3, LONGEST)];
    static uint8_t planes[DIA_PLANES_BYTES(LANES, 3 * LONGEST)];
    struct dia_bench *bench = dia_bench_new(); /* what lies on the desk */
    struct dia_group group;
    struct dia_strip strips[LANES];

    dia_sim_init(&sim, 64000000);
    if (dia_sim_listen(&sim, dia_bench_take, bench) != DIA_OK ||
        dia_group_init(&group, &sim.port, FIRST, LANES, &dia_ws2812b, planes, 3 * LONGEST) !=
            DIA_OK)
        return 1;
    for (uint8_t k = 0; k < LANES; k++) {
        struct dia_chain_setup desk = {
            .name = "lane", .part = "WS2812B", .pin = (uint8_t)(FIRST + k), .count = counts[k]};
        if (dia_bench_chain(bench, &desk) < 0 ||
            dia_strip_init_lane(&strips[k], &group, k, &dia_ws2812b, pixels[k], memory[k],
                                counts[k]) != DIA_OK)
            return 1;
        strips[k].develop.curve = dia_curve_straight; /* bytes exactly as typed */
        for (uint8_t i = 0; i < counts[k]; i++)
            pixels[k][i] =
                (struct dia_rgb){(uint8_t)(k == 0 ? 4 * i : 0), (uint8_t)(k == 1 ? 4 * i : 0),
                                 (uint8_t)(k == 2 ? 4 * i : 0)};
    }
    uint64_t start_ns = sim.now_ns;
    for (uint8_t k = 0; k < LANES; k++)
        if (dia_driver_show(&strips[k].driver) != DIA_OK)
            return 1;
    for (uint8_t k = 0; k < LANES; k++) /* all go out with the first poll */
        if (dia_driver_wait(&strips[k].driver) != DIA_OK)
            return 1;
    dia_bench_settle(bench, sim.now_ns);
    for (int k = 0; k < LANES; k++) {
        const uint8_t *last = dia_bench_shown(bench, k)->drive[counts[k] - 1];
        printf("lane %d ends in red %d, green %d, blue %d\n", k, last[0], last[1], last[2]);
    }
    printf("all in %.1f ms\n", (double)(sim.now_ns - start_ns) / 1e6);
    dia_bench_free(bench);
    return 0;
}
