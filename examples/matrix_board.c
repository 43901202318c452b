/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <diachrome/bench.h>
#include <diachrome/diachrome.h>
#include <diachrome/sim.h>

/* A wave of dots over five modules of 8 x 8; only rows that change are sent. */
#define CHIPS 5
enum { DIN = 20, CLK, CS };

int main(void)
{
    static struct dia_sim sim; /* on a controller: a port of its own */
    static uint8_t rows[DIA_MATRIX_ROWS(CHIPS)], memory[DIA_MATRIX_BYTES(CHIPS)];
    static const uint8_t pins[DIA_MATRIX_PINS] = {DIN, CLK, CS};
    static const uint8_t wave[8] = {3, 5, 6, 5, 3, 1, 0, 1}; /* height of each column */
    const struct dia_matrix_wiring wiring = {0, 0, 0};
    struct dia_device_setup desk = {
        .name = "board", .part = "MAX7219", .pins = pins, .count = CHIPS};
    struct dia_bench *bench = dia_bench_new(); /* what lies on the desk */
    int board = dia_bench_matrix(bench, &desk);
    struct dia_matrix matrix;

    dia_sim_init(&sim, 16000000);
    if (dia_sim_listen(&sim, dia_bench_take, bench) != DIA_OK ||
        dia_sim_spi_pins(&sim, 0, CLK, DIN) != DIA_OK ||
        dia_matrix_init(&matrix, &sim.port, &dia_max7219, 0, CS, 1000000, rows, memory, CHIPS) !=
            DIA_OK)
        return 1;
    dia_driver_master(&matrix.driver, dia_share_percent(30));
    for (uint16_t frame = 0; frame < 16; frame++) {
        for (uint16_t column = 0; column < 8 * CHIPS; column++)
            for (uint8_t row = 0; row < 8; row++)
                dia_matrix_set(&matrix, dia_matrix_dot(&wiring, CHIPS, column, row),
                               7 - row == wave[(column + frame) % 8]);
        if (dia_driver_show_and_wait(&matrix.driver) != DIA_OK)
            return 1;
    }
    dia_bench_settle(bench, sim.now_ns);
    for (uint8_t row = 0; row < 8; row++) {
        for (uint16_t column = 0; column < 8 * CHIPS; column++)
            putchar(
                dia_bench_lamps(bench, board)->level[dia_matrix_dot(&wiring, CHIPS, column, row)]
                    ? 'O'
                    : '.');
        putchar('\n');
    }
    dia_bench_free(bench);
    return 0;
}
