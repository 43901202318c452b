/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <diachrome/bench.h>
#include <diachrome/diachrome.h>
#include <diachrome/sim.h>

/*
 * Two boards of dots on one SPI bus: the same clock and data, a select each. Each driver holds the
 * bus for one transaction and lets it go; nobody has to take turns by hand.
 */
enum { DATA = 18, CLOCK, ARRIVALS, DEPARTURES };

int main(void)
{
    static struct dia_sim sim;
    static uint8_t rows[2][DIA_MATRIX_ROWS(2)], memory[2][DIA_MATRIX_BYTES(2)];
    static const uint8_t selects[2] = {ARRIVALS, DEPARTURES};
    static const char *const names[2] = {"arrivals", "departures"};
    struct dia_matrix boards[2];
    struct dia_bench *bench = dia_bench_new();
    int on_bench[2];

    dia_sim_init(&sim, 16000000);
    if (dia_sim_listen(&sim, dia_bench_take, bench) != DIA_OK ||
        dia_sim_spi_pins(&sim, 0, CLOCK, DATA) != DIA_OK)
        return 1;
    for (int k = 0; k < 2; k++) {
        const uint8_t pins[DIA_MATRIX_PINS] = {DATA, CLOCK, selects[k]};
        struct dia_device_setup desk = {
            .name = names[k], .part = "MAX7219", .pins = pins, .count = 2, .lamp_ua = 20000};
        on_bench[k] = dia_bench_matrix(bench, &desk);
        if (on_bench[k] < 0 || dia_matrix_init(&boards[k], &sim.port, &dia_max7219, 0, selects[k],
                                               1000000, rows[k], memory[k], 2) != DIA_OK)
            return 1;
        for (uint16_t dot = 0; dot < 128; dot++) /* every second dot, every fourth */
            dia_matrix_set(&boards[k], dot, dot % (2 << k) == 0);
    }

    if (dia_driver_show(&boards[0].driver) != DIA_OK ||
        dia_driver_show(&boards[1].driver) != DIA_OK ||
        dia_driver_wait(&boards[0].driver) != DIA_OK ||
        dia_driver_wait(&boards[1].driver) != DIA_OK)
        return 1;
    dia_bench_settle(bench, sim.now_ns);
    int fine = dia_bench_findings(bench)->count == 0;
    for (int k = 0; k < 2; k++) {
        uint32_t lit = 0;
        for (uint32_t dot = 0; dot < 128; dot++)
            lit += dia_bench_lamps(bench, on_bench[k])->level[dot] != 0;
        printf("%s: %u of 128 dots lit\n", names[k], (unsigned)lit);
        fine = fine && lit == 64u >> k;
    }
    dia_bench_free(bench);
    return fine ? 0 : 1;
}
