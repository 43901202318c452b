/* SPDX-License-Identifier: MIT */
#include <avr/interrupt.h>

#include <diachrome/avr.h>

#include "avr_clock.h"
#include "avr_private.h"

/* Both registers at once: no interrupt may come between reading and writing them. */
static enum dia_status pin_release(struct dia_port *port, uint8_t pin)
{
    (void)port;
    if (pin > 23)
        return DIA_BAD_VALUE;
    volatile uint8_t *in = dia_avr_pin_register(pin);
    uint8_t mask = (uint8_t)(1u << (pin & 7u)), sreg = SREG;
    cli();
    in[1] = (uint8_t)(in[1] & ~mask);
    in[2] = (uint8_t)(in[2] | mask); /* the pull-up */
    SREG = sreg;
    return DIA_OK;
}

static enum dia_status pin_read(struct dia_port *port, uint8_t pin, uint8_t *level)
{
    (void)port;
    if (pin > 23)
        return DIA_BAD_VALUE;
    *level = (*dia_avr_pin_register(pin) & 1u << (pin & 7u)) != 0;
    return DIA_OK;
}

/* The call and the return alone take 8 cycles; a turn of the loop takes 3. */
static void wait_ns(struct dia_port *port, uint16_t ns)
{
    (void)port;
    if (ns <= CYCLES_NS(8))
        return;
    uint8_t turns = (uint8_t)((uint16_t)(ns - CYCLES_NS(8)) / CYCLES_NS(3) + 1u);
    __asm__ volatile("1: dec %0\n brne 1b" : "+r"(turns));
}

static const DIA_ROM struct dia_port_ops ops = {
    .now_us = dia_avr_now_us,
    .pin_write = dia_avr_pin_write,
    .pin_release = pin_release,
    .pin_read = pin_read,
    .wait_ns = wait_ns,
    .pulse_start = dia_avr_pulse_start,
    .pulse_poll = dia_avr_pulse_poll,
    .planes_start = F_CPU == 8000000 ? 0 : dia_avr_planes_start,
    .spi_start = dia_avr_spi_start,
    .spi_poll = dia_avr_spi_poll,
    .i2c_start = dia_avr_i2c_start,
    .i2c_poll = dia_avr_i2c_poll,
    .lines_shift = dia_avr_lines_shift,
};
static struct dia_port the_port;

struct dia_port *dia_avr_port_all(void)
{
    return dia_avr_port_with(&the_port, &ops);
}
