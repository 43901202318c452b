/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include <diachrome/diachrome.h>
#include <diachrome/sim.h>

/* A strip, a matrix and a character display on one supply of 2 A: what the two displays take is set
 * aside, and the strip gets what is left. */
int main(void)
{
    static struct dia_sim sim; /* on a controller: a port of its own */
    static struct dia_rgb pixels[72];
    static uint8_t strip_memory[DIA_STRIP_BYTES(3, 72)], cells[32], display_memory[32];
    static uint8_t rows[DIA_MATRIX_ROWS(2)], board_memory[DIA_MATRIX_BYTES(2)];
    const struct dia_characters_setup keeper = {.part = &dia_hd44780,
                                                .bus = DIA_BUS_4_LINES,
                                                .rs_pin = 23,
                                                .rw_pin = DIA_NO_PIN,
                                                .e_pin = 24,
                                                .data_pin = {25, 26, 27, 28},
                                                .columns = 16,
                                                .rows = 2};
    struct dia_strip strip;
    struct dia_matrix board;
    struct dia_characters display;
    struct dia_set_supply supply = {.given_ua = 1900000}; /* 100 mA are the controller's */
    struct dia_set_member members[] = {{.driver = &strip.driver},
                                       {.driver = &board.driver, .lamp_ua = 20000},
                                       {.driver = &display.driver, .lamp_ua = 20000}};
    struct dia_set set;

    dia_sim_init(&sim, 48000000);
    if (dia_sim_spi_pins(&sim, 0, 18, 19) != DIA_OK ||
        dia_strip_init(&strip, &sim.port, 17, &dia_ws2812b, pixels, strip_memory, 72) != DIA_OK ||
        dia_matrix_init(&board, &sim.port, &dia_max7219, 0, 22, 1000000, rows, board_memory, 2) !=
            DIA_OK ||
        dia_characters_init(&display, &sim.port, &keeper, cells, display_memory) != DIA_OK ||
        dia_set_init(&set, &supply, 1, members, 3) != DIA_OK)
        return 1;
    memset(pixels, 255, sizeof pixels); /* white */
    memset(rows, 255, sizeof rows);     /* all 128 dots */
    if (dia_characters_text(&display, 0, 0, "Petrel Quay", 11) != DIA_OK)
        return 1;
    enum dia_status status = dia_set_show_and_wait(&set);
    printf("%u mA asked for, the strip dimmed to %u %%; %s\n",
           (unsigned)dia_set_asked_ua(&set, 0) / 1000,
           dia_set_share(&set, 0) * 100u / DIA_SHARE_ONE, dia_status_text(status));
    return dia_set_dark(&set) != DIA_OK;
}
