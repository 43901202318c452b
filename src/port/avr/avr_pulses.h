/* SPDX-License-Identifier: MIT */
#ifndef DIA_PORT_AVR_PULSES_H
#define DIA_PORT_AVR_PULSES_H

#include <diachrome/port.h>

/* Sends bits as pulses by writing high and low to a port register. Interrupts are off. */
typedef void avr_pulses(volatile uint8_t *out, uint8_t high, uint8_t low, const uint8_t *bytes,
                        uint16_t bits);

/* Senders by counted cycles; see avr_pulses.c and, for 8 MHz, avr_pulses_8mhz.c. */
struct dia_avr_sender {
    avr_pulses *send;
    uint8_t cycles[4]; /* high 0, low 0, high 1, low 1 */
};
extern const DIA_ROM struct dia_avr_sender dia_avr_senders[3];

/* Whether all pulses of a sender lie inside the ranges. */
uint8_t dia_avr_keeps(const DIA_ROM uint8_t *cycles, const DIA_ROM struct dia_pulse_range *range);

/* A sender whose pulses all lie inside the ranges, or NULL. */
avr_pulses *dia_avr_pulses_for(const DIA_ROM struct dia_pulse_timing *timing);

#endif
