/* SPDX-License-Identifier: MIT */
/* proof: small: -eva-precision 1 */
#include "port.h"

/* Character displays of any size, by pins and by an expander, on a port that may refuse anything.
 */

static void display(uint8_t bus, uint8_t columns, uint8_t rows, uint8_t split)
{
    static uint8_t cells[DIA_CHARACTERS_BYTES(40, 2)], memory[DIA_CHARACTERS_BYTES(40, 2)];
    static const char text[] = "14:05";
    static const uint8_t glyph[8];
    struct dia_characters device;
    struct dia_characters_setup setup;
    ANY(setup);
    setup.part = &dia_hd44780;
    setup.bus = bus;
    setup.columns = columns;
    setup.rows = rows;
    setup.split = split;
    if (dia_characters_init(&device, &a_port, &setup, cells, memory) != DIA_OK)
        return;
    dia_characters_text(&device, (uint8_t)any(0, 255), (uint8_t)any(0, 255), text, 5);
    dia_characters_place(&device, (uint8_t)any(0, 255), (uint8_t)any(0, 255));
    dia_characters_put(&device, (uint8_t)any(0, 255));
    dia_characters_glyph(&device, (uint8_t)any(0, 255), glyph);
    dia_characters_cursor(&device, (uint8_t)any(0, 255), (uint8_t)any(0, 255),
                          (uint8_t)any(0, 255));
    struct dia_letters letters = {.rom = any(0, 1) ? &dia_rom_a00 : &dia_rom_a02};
    uint8_t code;
    dia_characters_own(&device, glyph, (uint8_t)any(0, 255), &code);
    dia_characters_draw(&device, &letters, (uint8_t)any(0, 255), (uint8_t)any(0, 255), glyph);
    dia_characters_bar(&device, &letters, (uint8_t)any(0, 255), (uint8_t)any(0, 255),
                       (uint8_t)any(0, 255), (dia_share)any(0, 65535));
    driven(&device.driver, NULL, 0);
}

int main(void)
{
    uint8_t pieces[2][3], rows[8];
    dia_tall_sign((uint16_t)any(0, 65535), pieces);
    dia_tall_rows((uint8_t)any(0, 255), rows);
    dia_rom_code(&dia_rom_a00, (uint16_t)any(0, 65535));
    dia_rom_sign(&dia_rom_a02, (uint8_t)any(0, 255));
    for (uint8_t bus = 0; bus <= 2; bus++) {
        display(bus, 16, 1, 1);
        display(bus, 20, 4, 0);
    }
    return 0;
}
