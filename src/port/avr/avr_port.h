/* SPDX-License-Identifier: MIT */
#ifndef DIA_PORT_AVR_H
#define DIA_PORT_AVR_H

#include <diachrome/port.h>

/*
 * The port for an ATmega328P at 16 MHz (and its near relatives): bit-banged pulses, Timer 1 for
 * the clock.
 *
 * Pins: 0..7 are PB0..PB7, 8..15 PC0..PC7, 16..23 PD0..PD7.
 * pulse_start sends before it returns, with interrupts off: 30 us a pixel.
 * Uses Timer 1 and its overflow interrupt. 2 bytes of RAM.
 */
struct dia_port *dia_avr_port(void);

/*
 * The same with all there is: pins read and let go, short waits, and SPI bus 0, which is the
 * hardware's: data pin 3, clock pin 5; pin 2 is an output then. It sends before it returns. No I2C,
 * no planes. Take one of the two ports: what this one adds is 400 bytes of flash.
 */
struct dia_port *dia_avr_port_all(void);

#endif
