/* SPDX-License-Identifier: MIT */
#ifndef DIA_PORT_AVR_PULSES_H
#define DIA_PORT_AVR_PULSES_H

#include <diachrome/port.h>

/* Sends bits as pulses by writing high and low to a port register. Interrupts are off. */
typedef void avr_pulses(volatile uint8_t *out, uint8_t high, uint8_t low, const uint8_t *bytes,
                        uint16_t bits);

/* A sender whose pulses all lie inside the ranges, or NULL. */
avr_pulses *avr_pulses_for(const DIA_ROM struct dia_pulse_timing *timing);

#endif
