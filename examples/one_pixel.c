/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <diachrome/bench.h>
#include <diachrome/diachrome.h>
#include <diachrome/sim.h>

/*
 * A strip keeps what was drawn: one pixel changes, the others stay as they are. The loop is the
 * simplest there is, draw, show, rest, and every frame is shown.
 */
#define COUNT 72
#define PIN   17

/* On a controller: its own delay. */
static void rest_ms(struct dia_sim *sim, uint32_t ms)
{
    dia_sim_advance_us(sim, ms * 1000u);
}

int main(void)
{
    static struct dia_sim sim;
    static struct dia_rgb pixels[COUNT];
    static uint8_t memory[DIA_STRIP_BYTES(3, COUNT)];
    struct dia_strip strip;
    struct dia_bench *bench = dia_bench_new();
    struct dia_chain_setup desk = {
        .name = "rail", .part = "WS2812B", .pin = PIN, .count = COUNT, .order = "GRB"};
    int rail = dia_bench_chain(bench, &desk);

    dia_sim_init(&sim, 16000000);
    if (rail < 0 || dia_sim_listen(&sim, dia_bench_take, bench) != DIA_OK ||
        dia_strip_init(&strip, &sim.port, PIN, &dia_ws2812b, pixels, memory, COUNT) != DIA_OK)
        return 1;
    strip.develop.curve = dia_curve_straight; /* the bytes as typed */
    for (uint32_t i = 0; i < COUNT; i++)
        pixels[i] = (struct dia_rgb){0, 0, 40};
    for (uint32_t i = 0; i < 20; i++) {
        pixels[3 * i] = (struct dia_rgb){200, 80, 0};
        if (dia_driver_show(&strip.driver) != DIA_OK)
            return 1;
        rest_ms(&sim, 50);
    }
    dia_bench_settle(bench, sim.now_ns);
    const struct dia_shown *shown = dia_bench_shown(bench, rail);
    printf("%u frames shown; pixel 3 is %u %u %u, pixel 4 is %u %u %u\n", (unsigned)shown->frames,
           shown->drive[3][0], shown->drive[3][1], shown->drive[3][2], shown->drive[4][0],
           shown->drive[4][1], shown->drive[4][2]);
    int fine = shown->frames == 20 && shown->drive[3][0] == 200 && shown->drive[4][2] == 40;
    dia_bench_free(bench);
    return fine ? 0 : 1;
}
