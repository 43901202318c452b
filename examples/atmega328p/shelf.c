/* SPDX-License-Identifier: MIT */
#include <avr/interrupt.h>
#include <stdlib.h>

#include <diachrome/avr.h>
#include <diachrome/diachrome.h>

/*
 * A shelf: 72 pixels that breathe on one supply with four digits that count seconds.
 *
 *   strip    data PD5 (pin 21)
 *   digits   segments a to g and the point on PB0 to PB5, PC0, PC1; commons on PC2 to PC5
 *   supply   5 V, 2 A, of which 150 mA are kept for the controller
 */
#define PIXELS 72

static struct dia_rgb pixels[PIXELS];
static uint8_t memory[DIA_STRIP_BYTES(3, PIXELS)], segments[4];
static struct dia_strip strip;
static struct dia_digits digits;
static struct dia_avr_ticks ticks;

ISR(TIMER1_COMPA_vect)
{
    dia_avr_tick(&ticks);
}

static enum dia_status begin(struct dia_port *port)
{
    struct dia_digits_setup setup = {
        .digits = 4,
        .turn_us = 1250, /* all four 200 times a second */
        .segment_pin = {0, 1, 2, 3, 4, 5, DIA_AVR_PIN('C', 0), DIA_AVR_PIN('C', 1)},
        .common_pin = {DIA_AVR_PIN('C', 2), DIA_AVR_PIN('C', 3), DIA_AVR_PIN('C', 4),
                       DIA_AVR_PIN('C', 5)}};
    enum dia_status status =
        dia_strip_init(&strip, port, DIA_AVR_PIN('D', 5), &dia_ws2812b, pixels, memory, PIXELS);
    if (status == DIA_OK)
        status = dia_digits_init(&digits, port, &setup, segments);
    if (status == DIA_OK)
        status = dia_avr_ticks_begin(&ticks, 'A', &digits.driver);
    return status;
}

static void draw(uint32_t ms)
{
    struct dia_breathe breathe;
    struct dia_surface line;
    char text[8];
    dia_surface_line(&line, PIXELS, 0, 16667);
    dia_breathe_defaults(&breathe);
    dia_breathe_render(&breathe, &line, ms, 0, PIXELS, pixels);
    ultoa(ms / 1000u % 10000u, text, 10);
    dia_segments_text(text, segments, 4);
}

int main(void)
{
    struct dia_port *port = dia_avr_port_all();
    struct dia_set_supply supply = {.given_ua = 1850000};
    struct dia_set_member members[] = {{.driver = &strip.driver},
                                       {.driver = &digits.driver, .lamp_ua = 5000}};
    struct dia_set set;
    if (begin(port) != DIA_OK || dia_set_init(&set, &supply, 1, members, 2) != DIA_OK)
        return 1;
    for (;;) {
        draw(port->ops->now_us(port) / 1000u); /* counts to 71 minutes, and begins again */
        if (dia_set_show_and_wait(&set) != DIA_OK)
            dia_set_dark(&set);
    }
}
