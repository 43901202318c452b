/* SPDX-License-Identifier: MIT */
#include <avr/interrupt.h>

#include "avr_private.h"

/*
 * Bus 0 is the hardware SPI: data PB3, clock PB5, and PB2 is an output. A byte takes 16 cycles at
 * half the clock, so it is sent before the call returns. From an interrupt only on a bus that
 * nobody else has, or that was claimed: see diachrome/port.h.
 */
#define PINS (_BV(PB2) | _BV(PB3) | _BV(PB5))

enum dia_status dia_avr_spi_start(struct dia_port *port, uint8_t bus, uint32_t clock_hz,
                                  const uint8_t *bytes, uint32_t n)
{
    (void)port;
    if (bus != 0 || n == 0 || n > UINT16_MAX || clock_hz == 0)
        return DIA_BAD_VALUE;
    if (clock_hz < F_CPU / 128)
        return DIA_UNSUPPORTED;
    if ((DDRB & PINS) != PINS) {
        uint8_t sreg = SREG;
        cli();
        DDRB = (uint8_t)(DDRB | PINS);
        SREG = sreg;
    }
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

enum dia_status dia_avr_spi_poll(struct dia_port *port, uint8_t bus)
{
    (void)port;
    return bus == 0 ? DIA_OK : DIA_BAD_VALUE;
}
