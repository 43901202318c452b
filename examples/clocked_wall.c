/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <diachrome/bench.h>
#include <diachrome/diachrome.h>
#include <diachrome/sim.h>

/* Dim colours on 32 pixels with a clock line: the 5-bit level keeps what 8 bits would lose. */
#define COUNT 32
#define CLOCK 18
#define DATA  19

int main(void)
{
    static struct dia_sim sim; /* on a controller: a port of its own */
    static struct dia_rgb pixels[COUNT];
    static uint8_t memory[DIA_CLOCKED_BYTES(4, COUNT)];
    struct dia_chain_setup desk = {
        .name = "wall", .part = "APA102", .pin = DATA, .clock_pin = CLOCK, .count = COUNT};
    struct dia_bench *bench = dia_bench_new(); /* what lies on the desk */
    int chain = dia_bench_chain(bench, &desk);
    struct dia_strip wall;

    dia_sim_init(&sim, 64000000);
    if (dia_sim_listen(&sim, dia_bench_take, bench) != DIA_OK ||
        dia_sim_spi_pins(&sim, 0, CLOCK, DATA) != DIA_OK ||
        dia_strip_init_clocked(&wall, &sim.port, 0, &dia_apa102, 4000000, pixels, memory, COUNT) !=
            DIA_OK)
        return 1;
    dia_driver_master(&wall.driver, dia_share_percent(5));
    for (uint8_t i = 0; i < COUNT; i++)
        pixels[i] = (struct dia_rgb){(uint8_t)(4 * i), 0, 60};
    if (dia_driver_show_and_wait(&wall.driver) != DIA_OK)
        return 1;
    dia_bench_settle(bench, sim.now_ns);
    const uint8_t *last = dia_bench_shown(bench, chain)->drive[COUNT - 1];
    printf("the last pixel: red %d, blue %d of 255, at level %d of 31\n", last[0], last[2],
           last[3]);
    dia_bench_free(bench);
    return 0;
}
