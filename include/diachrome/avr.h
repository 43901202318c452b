/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_AVR_H
#define DIACHROME_AVR_H

#include "driver.h"
#include "linkage.h"
#include "port.h"

DIA_BEGIN

/*
 * The port for an ATmega328P (and its near relatives) at 8, 16 or 20 MHz. Compile src/port/avr/
 * with -mmcu=... -DF_CPU=16000000UL; examples/atmega328p/ is a whole project.
 *
 * Use:     1. dia_avr_port() or dia_avr_port_all()   once, at the start; interrupts go on
 *          2. dia_strip_init(&strip, port, ...)      and so on: see driver.h
 *          3. dia_avr_ticks_begin(...)               for drivers that want ticks
 *
 * Pins are counted by the chip's ports, not by what a board prints beside them:
 *
 *     pin      0 .. 7       8 .. 14      16 .. 23
 *     chip     PB0 .. PB7   PC0 .. PC6   PD0 .. PD7
 *
 *   so pin k is bit k % 8 of port B, C or D. DIA_AVR_PIN('D', 6) is 22. PB6 and PB7 are the
 *   crystal's where there is one, PC6 is reset, PD0 and PD1 are the serial line's.
 *
 * Timer 1: the clock and its overflow interrupt; with ticks also a compare interrupt or two. A
 *   count is 4 us at 16 MHz, 3.2 us at 20 MHz and 1 us at 8 MHz: ticks are that exact, and do not
 *   drift.
 * Interrupts: pins are written so that an interrupt cannot undo a write of the main loop on the
 *   same port of the chip, nor the other way round. Pulses are sent with interrupts off, 30 us a
 *   pixel: ticks, a serial line and all else wait for so long.
 * Cost: a call of the port takes some microseconds. Pulses and planes keep the processor for as
 * long as they are on the wire; SPI and I2C go on by themselves. Context: dia_avr_tick from the
 * interrupt of its unit; all others from the main loop. Memory: 8 bytes of RAM (12 at 20 MHz), 11
 * more with all.
 */
#define DIA_AVR_PIN(letter, bit) ((uint8_t)(((letter) - 'B') * 8 + (bit)))

/* What strips of one-wire pixels need, and no more: pins are written, pulses sent. */
struct dia_port *dia_avr_port(void);

/*
 * All there is; take one of the two ports. What this one adds is 1.7 KB of flash.
 *   Pins are read and let go, short waits.
 *   SPI bus 0: data PB3 (pin 3), clock PB5 (pin 5), and PB2 (pin 2) is an output; 62.5 kHz to
 *     half the clock of the chip. Sends before the call returns.
 *   I2C bus 0: data PC4 (pin 12), clock PC5 (pin 13), 100 kHz. Goes on with each poll. A bus that
 *     does not move for 25 ms is given up: DIA_PORT_FAILED.
 *   Lanes sent at once: up to 8 pins of one port of the chip, up to 4095 bytes each; not at 8 MHz.
 * WS2811 in its fast mode is DIA_UNSUPPORTED at 8 MHz: 250 ns are 2 cycles there.
 */
struct dia_port *dia_avr_port_all(void);

/*
 * Ticks for a driver, from a compare interrupt of Timer 1: unit 'A' or 'B', so two drivers may have
 * them. The interrupt is yours to write, so that a program without ticks has none:
 *
 *   static struct dia_avr_ticks ticks;
 *   ISR(TIMER1_COMPA_vect)
 *   {
 *       dia_avr_tick(&ticks);
 *   }
 *   ...
 *   dia_avr_ticks_begin(&ticks, 'A', &digits.driver);
 */
struct dia_avr_ticks {
    struct dia_driver *driver; /* private, as all */
    uint8_t unit;
    uint8_t left_fifths; /* of us: the next tick makes up for it */
};

/* The first tick comes in 100 us; none ends. After dia_avr_port or dia_avr_port_all, from the main
 * loop. DIA_BAD_VALUE: the driver wants no ticks, or there is no such unit. */
enum dia_status dia_avr_ticks_begin(struct dia_avr_ticks *ticks, char unit,
                                    struct dia_driver *driver);

/* From the unit's interrupt. Takes what the driver's tick takes, and a division. */
void dia_avr_tick(struct dia_avr_ticks *ticks);

DIA_END

#endif
