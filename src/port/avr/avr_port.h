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

#endif
