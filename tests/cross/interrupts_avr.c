/* SPDX-License-Identifier: MIT */
#include <avr/interrupt.h>
#include <avr/io.h>

#include <diachrome/avr.h>
#include <diachrome/diachrome.h>

#include "board.h"

/*
 * What happens when interrupts come in the middle of everything. Three parts, each ends with a
 * line on the serial port:
 *
 *   pins   the main loop and an interrupt write pins of one port of the chip, some 300 cycles
 *          apart; each looks whether what it wrote last is still there
 *   bus    I2C to a device that is there (0x27), one that is not (0x20), and the first again
 *   show   digits lit by ticks while a strip is sent: the test listens to the pins
 */
#define MAIN_PIN 18 /* PD2 */
#define FREE_PIN 19 /* PD3: let go and driven by turns */
#define TICK_PIN 20 /* PD4 */
#define WRITES   4000

static struct dia_port *port;

static volatile uint8_t asked, lost_by_tick;
static volatile uint16_t ticks_done;

ISR(TIMER0_COMPA_vect)
{
    static uint8_t level;
    if (asked && (PORTD >> (TICK_PIN % 8) & 1u) != level)
        lost_by_tick++;
    level ^= 1u;
    port->ops->pin_write(port, TICK_PIN, level);
    ticks_done++;
    asked = 1;
}

static void number(uint32_t value)
{
    char digits[10];
    uint8_t n = 0;
    do {
        digits[n++] = (char)('0' + value % 10);
        value /= 10;
    } while (value != 0);
    while (n != 0)
        board_put(digits[--n]);
}

static void say(const char *text, uint32_t value)
{
    while (*text)
        board_put(*text++);
    number(value);
    board_put('\n');
}

static void pins(void)
{
    uint16_t lost = 0;
    uint32_t last_us = 0;
    TCCR0A = _BV(WGM01);
    OCR0A = 36;
    TCCR0B = _BV(CS01);
    TIMSK0 = _BV(OCIE0A);
    for (uint16_t i = 0; i < WRITES; i++) {
        uint8_t level = i & 1u, there;
        port->ops->pin_write(port, MAIN_PIN, level);
        if ((PORTD >> (MAIN_PIN % 8) & 1u) != level)
            lost++;
        port->ops->pin_release(port, FREE_PIN);
        if (port->ops->pin_read(port, FREE_PIN, &there) != DIA_OK || DDRD & _BV(FREE_PIN % 8))
            lost++;
        port->ops->pin_write(port, FREE_PIN, 0);
        uint32_t now_us = port->ops->now_us(port);
        if (now_us < last_us)
            lost++;
        last_us = now_us;
    }
    TIMSK0 = 0;
    cli(); /* the clock's own interrupt is late: it goes on all the same */
    uint32_t before_us = port->ops->now_us(port);
    while (!(TIFR1 & _BV(TOV1)))
        before_us = port->ops->now_us(port);
    uint32_t over_us = port->ops->now_us(port);
    sei();
    uint32_t after_us = port->ops->now_us(port);
    say("clock steps ", over_us - before_us);
    say("and steps ", after_us - over_us);
    say("lost by the main loop ", lost);
    say("lost by the interrupt ", lost_by_tick);
    say("interrupts ", ticks_done);
}

/* What a transmission comes to; one that is begun meanwhile must find the bus busy. */
static uint8_t outcome(uint8_t address, const uint8_t *bytes, uint8_t n)
{
    if (port->ops->i2c_start(port, 0, address, bytes, n) != DIA_OK)
        return 99;
    if (port->ops->i2c_start(port, 0, address, bytes, n) != DIA_BUSY)
        return 98;
    for (;;) {
        enum dia_status status = port->ops->i2c_poll(port, 0);
        if (status != DIA_BUSY)
            return (uint8_t)status;
    }
}

static void bus(void)
{
    static const uint8_t bytes[] = {0x5a, 0x00, 0xff};
    say("there ", outcome(0x27, bytes, 3));
    say("not there ", outcome(0x20, bytes, 3));
    say("there again ", outcome(0x27, bytes + 1, 1));
}

static struct dia_digits digits;
static struct dia_avr_ticks ticks;
ISR(TIMER1_COMPA_vect)
{
    dia_avr_tick(&ticks);
}

static void show(void)
{
    static uint8_t segments[4];
    static struct dia_rgb pixels[24];
    static uint8_t memory[DIA_STRIP_BYTES(3, 24)];
    static struct dia_strip strip;
    struct dia_digits_setup setup = {.segment_pin = {0, 1, 2, 3, 4, 8, 9, 10},
                                     .common_pin = {11, 16, 17, 23},
                                     .digits = 4,
                                     .turn_us = 1250};
    if (dia_digits_init(&digits, port, &setup, segments) != DIA_OK ||
        dia_strip_init(&strip, port, 22, &dia_ws2812b, pixels, memory, 24) != DIA_OK ||
        dia_avr_ticks_begin(&ticks, 'C', &digits.driver) != DIA_BAD_VALUE ||
        dia_avr_ticks_begin(&ticks, 'A', &strip.driver) != DIA_BAD_VALUE ||
        dia_avr_ticks_begin(&ticks, 'A', &digits.driver) != DIA_OK)
        say("init ", 1);
    strip.develop.curve = dia_curve_straight;
    for (uint8_t k = 0; k < 4; k++)
        segments[k] = (uint8_t)(0x11u << k);
    dia_driver_show(&digits.driver);
    for (uint8_t k = 0; k < 30; k++) {
        pixels[k % 24] = (struct dia_rgb){k, (uint8_t)(k * 7u), 255};
        if (dia_driver_show_and_wait(&strip.driver) != DIA_OK)
            say("show ", k);
    }
    say("now ", port->ops->now_us(port));
}

int main(void)
{
    port = dia_avr_port_all();
    board_begin();
    pins();
    bus();
    show();
    board_end();
    return 0;
}
