/* SPDX-License-Identifier: MIT */
#include <avr/io.h>

#include "avr_port.h"
#include "avr_private.h"

static enum dia_status pin_release(struct dia_port *port, uint8_t pin)
{
    (void)port;
    if (pin > 23)
        return DIA_BAD_VALUE;
    volatile uint8_t *ddr = &DDRB + 3 * (pin >> 3), *out = ddr + 1;
    uint8_t mask = (uint8_t)(1u << (pin & 7u));
    *ddr = (uint8_t)(*ddr & ~mask);
    *out = (uint8_t)(*out | mask); /* the pull-up */
    return DIA_OK;
}

static enum dia_status pin_read(struct dia_port *port, uint8_t pin, uint8_t *level)
{
    (void)port;
    if (pin > 23)
        return DIA_BAD_VALUE;
    *level = (*(&PINB + 3 * (pin >> 3)) & 1u << (pin & 7u)) != 0;
    return DIA_OK;
}

/* The call and the return alone take 500 ns; a turn of the loop takes 3 cycles, 187 ns. */
static void wait_ns(struct dia_port *port, uint16_t ns)
{
    (void)port;
    if (ns <= 500)
        return;
    uint8_t turns = (uint8_t)((uint16_t)(ns - 500u) / 187u + 1u);
    __asm__ volatile("1: dec %0\n brne 1b" : "+r"(turns));
}

/*
 * Bus 0 is the hardware SPI: data PB3 (pin 3), clock PB5 (pin 5), and PB2 (pin 2) is an output.
 * A byte takes 16 cycles at 8 MHz, so it is sent before the call returns.
 */
static enum dia_status spi_start(struct dia_port *port, uint8_t bus, uint32_t clock_hz,
                                 const uint8_t *bytes, uint32_t n)
{
    (void)port;
    if (bus != 0 || n == 0 || n > UINT16_MAX || clock_hz == 0)
        return DIA_BAD_VALUE;
    if (clock_hz < F_CPU / 128)
        return DIA_UNSUPPORTED;
    DDRB |= _BV(PB2) | _BV(PB3) | _BV(PB5);
    uint8_t rate = 0; /* clock / 2, 4, 8 .. 128 */
    for (uint32_t hz = F_CPU / 2; hz > clock_hz; hz >>= 1)
        rate++;
    SPSR = rate % 2 == 0 && rate != 6 ? _BV(SPI2X) : 0;
    SPCR = (uint8_t)(_BV(SPE) | _BV(MSTR) | (rate == 6 ? 3 : rate >> 1));
    for (uint16_t left = (uint16_t)n; left != 0; left--) {
        SPDR = *bytes++;
        if (rate == 0)
            __builtin_avr_delay_cycles(14); /* a byte is 16 cycles: shorter than asking for it */
        else
            while (!(SPSR & _BV(SPIF)))
                ;
    }
    return DIA_OK;
}

static enum dia_status spi_poll(struct dia_port *port, uint8_t bus)
{
    (void)port;
    return bus == 0 ? DIA_OK : DIA_BAD_VALUE;
}

static const DIA_ROM struct dia_port_ops ops = {
    .now_us = avr_now_us,
    .pin_write = avr_pin_write,
    .pin_release = pin_release,
    .pin_read = pin_read,
    .wait_ns = wait_ns,
    .pulse_start = avr_pulse_start,
    .pulse_poll = avr_pulse_poll,
    .spi_start = spi_start,
    .spi_poll = spi_poll,
};
static struct dia_port the_port;

struct dia_port *dia_avr_port_all(void)
{
    return avr_port_with(&the_port, &ops);
}
