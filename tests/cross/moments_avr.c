/* SPDX-License-Identifier: MIT */
#include <avr/interrupt.h>
#include <avr/io.h>
#include <stddef.h>

#include <diachrome/avr.h>
#include <diachrome/diachrome.h>

#include "board.h"

/*
 * Ticks of a shift-register chain at random moments, for 10 million cycles, while the main loop
 * draws, shows, polls, sends a strip and asks for the time. The bytes of each drawing belong
 * together, so the test sees whether any part of it ever came from another.
 */
#define CHIPS  4
#define PIXELS 5
#define CYCLES 10000000UL

static struct dia_shift shift;
static uint32_t seed = 1;

static uint16_t chance(uint32_t *of)
{
    *of = *of * 1664525u + 1013904223u;
    return (uint16_t)(*of >> 16);
}

/* 3,900 to 16,400 cycles after this one: a tick takes some 3,300, so sometimes little else is done.
 */
ISR(TIMER0_COMPA_vect)
{
    OCR0A = (uint8_t)(60u + chance(&seed) % 196u);
    dia_driver_tick(&shift.driver);
}

static void draw(uint8_t *levels, uint8_t k)
{
    const uint8_t bytes[CHIPS] = {k, (uint8_t)~k, (uint8_t)(k * 7u), (uint8_t)(k ^ 0x5au)};
    for (uint8_t i = 0; i < CHIPS * 8; i++)
        levels[i] = bytes[i / 8] >> i % 8 & 1 ? 255 : 0;
}

int main(void)
{
    static uint8_t memory[DIA_SHIFT_BYTES(CHIPS, 1)], levels[DIA_SHIFT_LEVELS(CHIPS)];
    static struct dia_rgb pixels[PIXELS];
    static uint8_t strip_memory[DIA_STRIP_BYTES(3, PIXELS)];
    static struct dia_strip strip;
    struct dia_port *port = dia_avr_port_all();
    struct dia_shift_setup setup = {.part = &dia_74hc595,
                                    .data_pin = 8,
                                    .clock_pin = 9,
                                    .latch_pin = 10,
                                    .enable_pin = DIA_NO_PIN,
                                    .bus = DIA_SHIFT_BY_PINS,
                                    .depth = 1,
                                    .chips = CHIPS,
                                    .unit_us = 4000};
    uint32_t of_main = 99, last_us = 0, backwards = 0, refused = 0;
    uint8_t drawn = 0;
    board_begin();
    if (dia_shift_init(&shift, port, &setup, levels, memory) != DIA_OK ||
        dia_strip_init(&strip, port, 22, &dia_ws2812b, pixels, strip_memory, PIXELS) != DIA_OK)
        board_put('!');
    strip.develop.curve = dia_curve_straight;
    TCCR0A = _BV(WGM01);
    OCR0A = 50;
    TCCR0B = _BV(CS01) | _BV(CS00);
    TIMSK0 = _BV(OCIE0A);
    for (uint32_t now_us = 0; now_us < CYCLES / (F_CPU / 1000000UL);) {
        now_us = port->ops->now_us(port);
        backwards += now_us < last_us;
        last_us = now_us;
        switch (chance(&of_main) % 4) {
        case 0:
            draw(levels, (uint8_t)(drawn + 1u));
            if (dia_driver_show(&shift.driver) == DIA_OK)
                drawn++;
            break;
        case 1:
            pixels[drawn % PIXELS] = (struct dia_rgb){drawn, (uint8_t)~drawn, 1};
            if (dia_driver_show_and_wait(&strip.driver) != DIA_OK)
                refused++;
            break;
        default:
            dia_driver_poll(&shift.driver, NULL);
            for (uint8_t wait = chance(&of_main) % 16; wait != 0; wait--)
                port->ops->wait_ns(port, 1000);
        }
    }
    while (dia_driver_poll(&shift.driver, NULL) == DIA_BUSY) {
    }
    TIMSK0 = 0;
    board_put(backwards || refused ? '-' : '+');
    board_put((char)('A' + drawn / 16));
    board_put((char)('A' + drawn % 16));
    board_put('\n');
    board_end();
    return 0;
}
