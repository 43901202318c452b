/* SPDX-License-Identifier: MIT */
#ifndef DIA_PORT_AVR_PRIVATE_H
#define DIA_PORT_AVR_PRIVATE_H

#include <diachrome/port.h>

/* What both ports are made of; see avr_port.h. */
uint32_t avr_now_us(struct dia_port *port);
enum dia_status avr_pin_write(struct dia_port *port, uint8_t pin, uint8_t level);
enum dia_status avr_pulse_start(struct dia_port *port, uint8_t pin, const uint8_t *bytes,
                                uint32_t n, const DIA_ROM struct dia_pulse_timing *timing);
enum dia_status avr_pulse_poll(struct dia_port *port, uint8_t pin);

/* Starts the clock. */
struct dia_port *avr_port_with(struct dia_port *port, const DIA_ROM struct dia_port_ops *with);

#endif
