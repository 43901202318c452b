/* SPDX-License-Identifier: MIT */
#include <avr/interrupt.h>
#include <avr/io.h>
#include <avr/sleep.h>

#include <diachrome/diachrome.h>

/* Frames of a text that scrolls over 64 columns, which look_cycles.c times: PD6 is high while the
 * columns are worked out, and again while they are put on the modules. */
#define FRAMES 16

int main(void)
{
    static uint8_t columns[64], rows[DIA_MATRIX_ROWS(8)];
    static struct dia_matrix matrix;
    static const struct dia_matrix_wiring wiring = {0, 0, 0};
    static const struct dia_text text = {.says = "Ferry to Skua, 14:05 now",
                                         .face = &dia_face_plain,
                                         .form = {.motion = DIA_TEXT_LEFT, .speed_um_s = 20000}};
    static const struct dia_screen screen = {64, 8, 1000};
    DDRD |= _BV(PD6);
    cli();
    matrix.driver.drawing = rows;
    matrix.chips = 8;
    for (uint16_t k = 0; k < FRAMES; k++) {
        PORTD |= _BV(PD6);
        dia_text_columns(&text, &screen, 3000 + k * 330u, 0, 64, 0, columns);
        PORTD &= (uint8_t)~_BV(PD6);
        PORTD |= _BV(PD6);
        dia_matrix_columns(&matrix, &wiring, columns);
        PORTD &= (uint8_t)~_BV(PD6);
    }
    sleep_mode();
    return 0;
}
