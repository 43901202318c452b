/* SPDX-License-Identifier: MIT */
#ifndef DIA_PORT_AVR_PRIVATE_H
#define DIA_PORT_AVR_PRIVATE_H

#include <avr/io.h>

#include <diachrome/port.h>

/* What both ports are made of; see diachrome/avr.h. */
uint32_t dia_avr_now_us(struct dia_port *port);
enum dia_status dia_avr_pin_write(struct dia_port *port, uint8_t pin, uint8_t level);
enum dia_status dia_avr_pulse_start(struct dia_port *port, uint8_t pin, const uint8_t *bytes,
                                    uint32_t n, const DIA_ROM struct dia_pulse_timing *timing);
enum dia_status dia_avr_pulse_poll(struct dia_port *port, uint8_t pin);

/* What only the larger one has. */
enum dia_status dia_avr_planes_start(struct dia_port *port, uint8_t first_pin, uint8_t width,
                                     const uint8_t *planes, const uint32_t *lengths,
                                     const DIA_ROM struct dia_pulse_timing *timing);
enum dia_status dia_avr_lines_shift(struct dia_port *port, uint8_t first_pin, uint8_t width,
                                    uint8_t clock_pin, const uint8_t *bytes, uint16_t n);
enum dia_status dia_avr_spi_start(struct dia_port *port, uint8_t bus, uint32_t clock_hz,
                                  const uint8_t *bytes, uint32_t n);
enum dia_status dia_avr_spi_poll(struct dia_port *port, uint8_t bus);
enum dia_status dia_avr_i2c_start(struct dia_port *port, uint8_t bus, uint8_t address,
                                  const uint8_t *bytes, uint32_t n);
enum dia_status dia_avr_i2c_poll(struct dia_port *port, uint8_t bus);

/* Starts the clock. */
struct dia_port *dia_avr_port_with(struct dia_port *port, const DIA_ROM struct dia_port_ops *with);

/* PINB DDRB PORTB, PINC ..., PIND ... lie in a row: the first of them for a pin. */
static inline volatile uint8_t *dia_avr_pin_register(uint8_t pin)
{
    return &PINB + 3 * (pin >> 3);
}

#endif
