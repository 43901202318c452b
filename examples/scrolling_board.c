/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <diachrome/bench.h>
#include <diachrome/diachrome.h>
#include <diachrome/sim.h>

/* A sentence that scrolls over modules of 8 x 8 dots: as many as CHIPS says. */
#define CHIPS 8
enum { DIN = 20, CLK, CS };

static void print_seen(const struct dia_lamps_shown *lamps);

int main(void)
{
    static struct dia_sim sim; /* on a controller: a port of its own */
    static uint8_t rows[DIA_MATRIX_ROWS(CHIPS)], memory[DIA_MATRIX_BYTES(CHIPS)];
    static uint8_t columns[8 * CHIPS];
    static const uint8_t pins[DIA_MATRIX_PINS] = {DIN, CLK, CS};
    const struct dia_matrix_wiring wiring = {0, 0, 0};
    const struct dia_screen screen = {.columns = 8 * CHIPS, .rows = 8, .pitch_um = 1000};
    const struct dia_text text = {
        .says = "Ferry to Skua 14:05 \342\206\222 pier 2", /* UTF-8: an arrow */
        .face = &dia_face_plain,
        .form = {.motion = DIA_TEXT_LEFT, .speed_um_s = 25000}, /* 25 dots a second */
    };
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
    for (uint32_t ms = 0; ms <= 4000; ms += 40) {
        dia_text_columns(&text, &screen, ms, 0, screen.columns, 0, columns);
        dia_matrix_columns(&matrix, &wiring, columns);
        if (dia_driver_show_and_wait(&matrix.driver) != DIA_OK)
            return 1;
        dia_sim_advance_us(&sim, 30000);
    }
    dia_bench_settle(bench, sim.now_ns);
    print_seen(dia_bench_lamps(bench, board));
    dia_bench_free(bench);
    return 0;
}

static void print_seen(const struct dia_lamps_shown *lamps)
{
    const struct dia_matrix_wiring wiring = {0, 0, 0};
    for (uint8_t row = 0; row < 8; row++) {
        for (uint16_t column = 0; column < 8 * CHIPS; column++)
            putchar(lamps->level[dia_matrix_dot(&wiring, CHIPS, column, row)] ? 'O' : '.');
        putchar('\n');
    }
}
