/* SPDX-License-Identifier: MIT */
#ifndef DIA_PORT_AVR_CLOCK_H
#define DIA_PORT_AVR_CLOCK_H

#include <avr/io.h>

/* What depends on the clock of the chip. A count of Timer 1 is CLOCK_US_FIFTHS / 5 us. */
#if F_CPU == 16000000
#define CLOCK_SELECT    (_BV(CS11) | _BV(CS10)) /* clock / 64 */
#define CLOCK_US_FIFTHS 20
#elif F_CPU == 20000000
#define CLOCK_SELECT    (_BV(CS11) | _BV(CS10))
#define CLOCK_US_FIFTHS 16
#elif F_CPU == 8000000
#define CLOCK_SELECT    _BV(CS11) /* clock / 8 */
#define CLOCK_US_FIFTHS 5
#else
#error "the port has pulses for F_CPU of 8000000, 16000000 and 20000000"
#endif

/* Cycles to be waited for at 16 and at 20 MHz; 8 MHz has senders of its own. */
#if F_CPU == 20000000
#define CYCLES(at_16, at_20) at_20
#else
#define CYCLES(at_16, at_20) at_16
#endif

/* Nanoseconds of some cycles, rounded down. */
#define CYCLES_NS(cycles) ((uint16_t)((cycles)*1000ul / (F_CPU / 1000000ul)))

#endif
