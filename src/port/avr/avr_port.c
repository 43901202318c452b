/* SPDX-License-Identifier: MIT */
#include <avr/interrupt.h>

#include <diachrome/avr.h>

#include "avr_clock.h"
#include "avr_private.h"
#include "avr_pulses.h"

/*
 * Timer 1 counts, and its overflows are counted here. At 8 and 16 MHz both together are 32 bits of
 * a count, and us are a shift of those, so that the clock wraps at 2^32 us as it must. At 20 MHz a
 * count is 3.2 us: an overflow adds 209715 us, and a fifth.
 */
static volatile uint16_t overflows;
static volatile uint32_t base_us;

ISR(TIMER1_OVF_vect)
{
    if (CLOCK_US_FIFTHS != 16) {
        overflows++;
        return;
    }
    overflows = (uint16_t)(overflows + 1u); /* fifths, here */
    base_us += 209715u;
    if (overflows == 5) {
        overflows = 0;
        base_us++;
    }
}

uint32_t dia_avr_now_us(struct dia_port *port)
{
    (void)port;
    uint8_t sreg = SREG;
    cli();
    uint16_t low = TCNT1, high = overflows;
    uint32_t base = CLOCK_US_FIFTHS == 16 ? base_us : 0;
    if ((TIFR1 & _BV(TOV1)) && low < 0x8000u) { /* it has overflowed, and the interrupt comes yet */
        high++;
        base += 209715u;
    }
    SREG = sreg;
    if (CLOCK_US_FIFTHS == 16) /* low * 16 / 5, or a little less: 13107 is 65536 / 5 */
        return base + ((low * (uint32_t)13107u) >> 12);
    uint32_t counts = (uint32_t)high << 16 | low;
    return CLOCK_US_FIFTHS == 20 ? counts << 2 : counts;
}

/* Both registers are read, changed and written: with interrupts off, so that one that writes
 * another pin of the same port loses nothing, and undoes nothing. */
enum dia_status dia_avr_pin_write(struct dia_port *port, uint8_t pin, uint8_t level)
{
    (void)port;
    if (pin > 23)
        return DIA_BAD_VALUE;
    volatile uint8_t *in = dia_avr_pin_register(pin);
    uint8_t mask = (uint8_t)(1u << (pin & 7u)), sreg = SREG;
    cli();
    if (level)
        in[2] = (uint8_t)(in[2] | mask);
    else
        in[2] = (uint8_t)(in[2] & ~mask);
    in[1] = (uint8_t)(in[1] | mask);
    SREG = sreg;
    return DIA_OK;
}

enum dia_status dia_avr_pulse_start(struct dia_port *port, uint8_t pin, const uint8_t *bytes,
                                    uint32_t n, const DIA_ROM struct dia_pulse_timing *timing)
{
    (void)port;
    if (pin > 23 || n == 0 || n > 8191)
        return DIA_BAD_VALUE;
    avr_pulses *send = dia_avr_pulses_for(timing);
    if (!send)
        return DIA_UNSUPPORTED;
    volatile uint8_t *out = dia_avr_pin_register(pin) + 2;
    uint8_t mask = (uint8_t)(1u << (pin & 7u)), sreg = SREG;
    cli();
    send(out, (uint8_t)(*out | mask), (uint8_t)(*out & ~mask), bytes, (uint16_t)(n * 8u));
    SREG = sreg;
    return DIA_OK;
}

enum dia_status dia_avr_pulse_poll(struct dia_port *port, uint8_t pin)
{
    (void)port;
    (void)pin;
    return DIA_OK;
}

static const DIA_ROM struct dia_port_ops ops = {
    .now_us = dia_avr_now_us,
    .pin_write = dia_avr_pin_write,
    .pulse_start = dia_avr_pulse_start,
    .pulse_poll = dia_avr_pulse_poll,
};
static struct dia_port the_port;

struct dia_port *dia_avr_port(void)
{
    return dia_avr_port_with(&the_port, &ops);
}

struct dia_port *dia_avr_port_with(struct dia_port *port, const DIA_ROM struct dia_port_ops *with)
{
    port->ops = with;
    TCCR1A = 0;
    TCCR1B = CLOCK_SELECT;
    TIMSK1 = _BV(TOIE1);
    sei();
    return port;
}
