/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include <diachrome/bench.h>
#include <diachrome/diachrome.h>
#include <diachrome/sim.h>

/* Six voltages in fixed fields with a tick or a cross behind each, once a second, on 20 x 4. Only
 * cells that change are sent. */
enum { RS = 20, E, D4, D5, D6, D7 };
#define CELLS 6

/* Drawn in a text file and made by 'diachrome glyphs signs.drawings --out signs.h'. The display
 * gives each a glyph of its own when it shows. */
static const struct dia_cell_glyph marks[] = {{0x2713, {0, 1, 3, 0x16, 0x1c, 8, 0, 0}},
                                              {0x2717, {0, 0x11, 0x1b, 0x0e, 0x1b, 0x11, 0, 0}}};
static const struct dia_letters letters = {.rom = &dia_rom_a00, .glyphs = marks, .count = 2};

/* The fields of all cells, with what was measured, and a tick or a cross. */
static enum dia_status draw(struct dia_characters *keeper, const int32_t *millivolts)
{
    enum dia_status status = DIA_OK;
    for (uint8_t k = 0; k < CELLS && status == DIA_OK; k++) {
        const struct dia_value values[] = {
            {.name = "n", .number = k + 1},
            {.name = "volts", .number = millivolts[k], .decimals = 3},
            {.name = "mark", .text = millivolts[k] < 2900 ? "\342\234\227" : "\342\234\223"},
        };
        char text[16];
        dia_values_text("{n} {volts:5.2}{mark}", values, 3, 0, text, sizeof text);
        status = dia_characters_write(keeper, &letters, k % 2 * 10, (uint8_t)(1 + k / 2), 10, text);
    }
    return status;
}

/* What an ADC would say. */
static void measure(uint32_t second, int32_t *millivolts)
{
    for (int32_t k = 0; k < CELLS; k++)
        millivolts[k] = 3300 - 40 * k * (int32_t)second;
}

static void print_seen(const struct dia_cells_shown *cells)
{
    for (int row = 0; row < 4; row++) {
        for (int column = 0; column < 20; column++)
            putchar(cells->code[row][column] < 16 ? "+x"[cells->code[row][column] & 1]
                                                  : cells->code[row][column]);
        puts("|");
    }
}

int main(void)
{
    static struct dia_sim sim; /* on a controller: a port of its own */
    static uint8_t cells[DIA_CHARACTERS_CELLS(20, 4)], memory[DIA_CHARACTERS_BYTES(20, 4)];
    uint8_t pins[DIA_CHARACTERS_PINS];
    struct dia_glass glass = {.columns = 20, .rows = 4};
    struct dia_device_setup desk = {.name = "keeper", .part = "HD44780", .pins = pins};
    struct dia_characters_setup setup = {.part = &dia_hd44780,
                                         .bus = DIA_BUS_4_LINES,
                                         .rs_pin = RS,
                                         .rw_pin = DIA_NO_PIN,
                                         .e_pin = E,
                                         .data_pin = {D4, D5, D6, D7},
                                         .columns = 20,
                                         .rows = 4};
    struct dia_characters keeper;
    int32_t millivolts[CELLS];

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
        dia_characters_text(&keeper, 0, 0, "Battery", 7) != DIA_OK)
        return 1;
    for (uint32_t second = 0; second < 4; second++) {
        uint32_t before = dia_bench_cells(bench, display)->frames;
        measure(second, millivolts);
        if (draw(&keeper, millivolts) != DIA_OK ||
            dia_driver_show_and_wait(&keeper.driver) != DIA_OK)
            return 1;
        dia_bench_settle(bench, sim.now_ns);
        printf("%u bytes sent\n", (unsigned)(dia_bench_cells(bench, display)->frames - before));
        dia_sim_advance_us(&sim, 1000000);
    }
    print_seen(dia_bench_cells(bench, display));
    dia_bench_free(bench);
    return 0;
}
