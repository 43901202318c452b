/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include <diachrome/bench.h>
#include <diachrome/diachrome.h>
#include <diachrome/sim.h>

/* A text and a glyph of one's own on 16 x 2, over four lines without R/W. Nothing waits: poll says
 * when it wants to be called again. */
enum { RS = 20, E, D4, D5, D6, D7 };

int main(void)
{
    static struct dia_sim sim; /* on a controller: a port of its own */
    static uint8_t cells[DIA_CHARACTERS_CELLS(16, 2)], memory[DIA_CHARACTERS_BYTES(16, 2)];
    static const uint8_t wave[8] = {0, 0, 2, 5, 8, 16, 31, 0};
    uint8_t pins[DIA_CHARACTERS_PINS];
    struct dia_glass glass = {.columns = 16, .rows = 2};
    struct dia_device_setup desk = {.name = "keeper", .part = "HD44780", .pins = pins};
    struct dia_characters_setup setup = {.part = &dia_hd44780,
                                         .bus = DIA_BUS_4_LINES,
                                         .rs_pin = RS,
                                         .rw_pin = DIA_NO_PIN,
                                         .e_pin = E,
                                         .data_pin = {D4, D5, D6, D7},
                                         .columns = 16,
                                         .rows = 2};
    struct dia_characters keeper;
    enum dia_status status;
    uint32_t us;

    memset(pins, DIA_NO_PIN, sizeof pins);
    pins[DIA_CHARACTERS_RS] = RS;
    pins[DIA_CHARACTERS_E] = E;
    for (uint8_t k = 0; k < 4; k++)
        pins[DIA_CHARACTERS_D0 + 4 + k] = (uint8_t)(D4 + k);
    struct dia_bench *bench = dia_bench_new(); /* what lies on the desk */
    int display = dia_bench_characters(bench, &desk, &glass);

    dia_sim_init(&sim, 16000000);
    if (dia_sim_listen(&sim, dia_bench_take, bench) != DIA_OK ||
        dia_characters_init(&keeper, &sim.port, &setup, cells, memory) != DIA_OK ||
        dia_characters_glyph(&keeper, 0, wave) != DIA_OK ||
        dia_characters_text(&keeper, 0, 0, "Petrel Quay", 11) != DIA_OK ||
        dia_characters_text(&keeper, 0, 1, "sea \010 calm", 10) != DIA_OK) /* code 8: glyph 0 */
        return 1;
    status = dia_driver_show(&keeper.driver);
    while (status == DIA_OK && dia_driver_poll(&keeper.driver, &us) == DIA_BUSY)
        dia_sim_advance_us(&sim, us); /* a program would do something else here */
    dia_bench_settle(bench, sim.now_ns);
    for (int row = 0; row < 2; row++) {
        for (int column = 0; column < 16; column++) {
            uint8_t code = dia_bench_cells(bench, display)->code[row][column];
            putchar(code < 16 ? '~' : code);
        }
        puts("|");
    }
    printf("%lu ms after power-up\n", (unsigned long)(sim.now_ns / 1000000));
    dia_bench_free(bench);
    return status != DIA_OK;
}
