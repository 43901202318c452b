/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <diachrome/bench.h>
#include <diachrome/diachrome.h>
#include <diachrome/sim.h>

/* A lamp on a pin: three seconds on, one second off. */
static struct dia_pin_lamps beacon;

static uint32_t timer(void *nothing)
{
    (void)nothing;
    return dia_driver_tick(&beacon.driver);
}

int main(void)
{
    static struct dia_sim sim; /* on a controller: a port and a timer of its own */
    struct dia_pin_lamps_setup setup = {
        .pins = {9}, .lamps = 1, .depth = 1, .unit_us = dia_slices_unit_us(120000, 1)};
    struct dia_device_setup desk = {
        .name = "beacon", .part = "lamps", .pins = setup.pins, .count = 1};
    struct dia_bench *bench = dia_bench_new(); /* what lies on the desk */
    int lamp = dia_bench_pin_lamps(bench, &desk);
    static uint8_t level[1];

    dia_sim_init(&sim, 16000000);
    if (dia_sim_listen(&sim, dia_bench_take, bench) != DIA_OK ||
        dia_pin_lamps_init(&beacon, &sim.port, &setup, level) != DIA_OK ||
        dia_sim_timer(&sim, timer, NULL, 100) < 0)
        return 1;
    for (uint32_t second = 0; second < 8; second++) {
        level[0] = second % 4 < 3 ? 255 : 0;
        if (dia_driver_show_and_wait(&beacon.driver) != DIA_OK)
            return 1;
        dia_bench_expose(bench, lamp, sim.now_ns);
        dia_sim_advance_us(&sim, (second + 1) * 1000000 - sim.now_ns / 1000);
        dia_bench_settle(bench, sim.now_ns);
        putchar(dia_bench_lamps(bench, lamp)->level[0] ? '#' : '.');
    }
    putchar('\n');
    dia_bench_free(bench);
    return 0;
}
