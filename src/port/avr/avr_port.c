/* SPDX-License-Identifier: MIT */
#include <avr/interrupt.h>
#include <avr/io.h>

#include "avr_port.h"
#include "avr_private.h"
#include "avr_pulses.h"

#if F_CPU != 16000000
#error "avr_pulses.c counts cycles of a 16 MHz clock"
#endif

/* Timer 1 counts 4 us; its overflows are counted here. Together 32 bits of 4 us, so that the
 * clock in us wraps at 2^32 as it must. */
static volatile uint16_t overflows;

ISR(TIMER1_OVF_vect)
{
    overflows++;
}

uint32_t avr_now_us(struct dia_port *port)
{
    (void)port;
    uint8_t sreg = SREG;
    cli();
    uint16_t low = TCNT1, high = overflows;
    if ((TIFR1 & _BV(TOV1)) && low < 0x8000u)
        high++; /* it has overflowed and the interrupt has yet to come */
    SREG = sreg;
    return ((uint32_t)high << 16 | low) << 2;
}

enum dia_status avr_pin_write(struct dia_port *port, uint8_t pin, uint8_t level)
{
    (void)port;
    if (pin > 23)
        return DIA_BAD_VALUE;
    /* PINB DDRB PORTB, PINC ..., PIND ... lie in a row */
    volatile uint8_t *ddr = &DDRB + 3 * (pin >> 3), *out = ddr + 1;
    uint8_t mask = (uint8_t)(1u << (pin & 7u));
    if (level)
        *out = (uint8_t)(*out | mask);
    else
        *out = (uint8_t)(*out & ~mask);
    *ddr = (uint8_t)(*ddr | mask);
    return DIA_OK;
}

enum dia_status avr_pulse_start(struct dia_port *port, uint8_t pin, const uint8_t *bytes,
                                uint32_t n, const DIA_ROM struct dia_pulse_timing *timing)
{
    (void)port;
    if (pin > 23 || n == 0 || n > 8191)
        return DIA_BAD_VALUE;
    avr_pulses *send = avr_pulses_for(timing);
    if (!send)
        return DIA_UNSUPPORTED;
    volatile uint8_t *out = &PORTB + 3 * (pin >> 3);
    uint8_t mask = (uint8_t)(1u << (pin & 7u)), sreg = SREG;
    cli();
    send(out, (uint8_t)(*out | mask), (uint8_t)(*out & ~mask), bytes, (uint16_t)(n * 8u));
    SREG = sreg;
    return DIA_OK;
}

enum dia_status avr_pulse_poll(struct dia_port *port, uint8_t pin)
{
    (void)port;
    (void)pin;
    return DIA_OK;
}

static const DIA_ROM struct dia_port_ops ops = {
    .now_us = avr_now_us,
    .pin_write = avr_pin_write,
    .pulse_start = avr_pulse_start,
    .pulse_poll = avr_pulse_poll,
};
static struct dia_port the_port;

struct dia_port *dia_avr_port(void)
{
    return avr_port_with(&the_port, &ops);
}

struct dia_port *avr_port_with(struct dia_port *port, const DIA_ROM struct dia_port_ops *with)
{
    port->ops = with;
    TCCR1A = 0;
    TCCR1B = _BV(CS11) | _BV(CS10); /* clock / 64 */
    TIMSK1 = _BV(TOIE1);
    sei();
    return port;
}
