/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <diachrome/bench.h>
#include <diachrome/diachrome.h>
#include <diachrome/sim.h>

int main(void)
{
    static struct dia_sim sim; /* on a controller: a port of its own */
    static uint8_t memory[DIA_STRIP_BYTES(3, 60)];
    struct dia_surface line;
    struct dia_strip strip;
    struct dia_hue_sweep sweep;
    struct dia_chain_setup desk = {.name = "strip", .part = "WS2812B", .pin = 6, .count = 60};
    struct dia_bench *bench = dia_bench_new(); /* what lies on the desk */
    int chain = dia_bench_chain(bench, &desk);

    dia_sim_init(&sim, 16000000);
    dia_sim_listen(&sim, dia_bench_take, bench);
    dia_surface_line(&line, 60, 0, 16667); /* 60 pixels, 16.667 mm apart */
    dia_strip_init(&strip, &sim.port, 6, &dia_ws2812b, memory, 60);
    dia_strip_supply(&strip, 2000, 100); /* 2 A, 100 mA of it for the controller */
    dia_hue_sweep_defaults(&sweep);
    for (uint32_t ms = 0; ms < 1000; ms += 20) {
        dia_strip_wait(&strip); /* until the pixels show the frame before */
        dia_hue_sweep_render(&sweep, &line, ms, 0, 60, strip.frame.pixels);
        dia_strip_show(&strip);
    }
    dia_strip_wait(&strip);
    dia_bench_settle(bench, sim.now_ns);
    const struct dia_shown *shown = dia_bench_shown(bench, chain);
    printf("%u frames; pixel 0 is driven at %d %d %d of 255\n", (unsigned)shown->frames,
           shown->drive[0][0], shown->drive[0][1], shown->drive[0][2]);
    dia_bench_free(bench);
    return 0;
}
