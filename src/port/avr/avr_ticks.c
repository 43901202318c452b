/* SPDX-License-Identifier: MIT */
#include <avr/interrupt.h>

#include <diachrome/avr.h>

#include "avr_clock.h"

/* One that is late comes at once, and those behind it are not moved. */
void dia_avr_tick(struct dia_avr_ticks *ticks)
{
    volatile uint16_t *compare = ticks->unit == 'A' ? &OCR1A : &OCR1B;
    uint16_t due = *compare;
    uint32_t fifths = dia_driver_tick(ticks->driver) * 5ul + ticks->left_fifths;
    uint16_t counts = (uint16_t)(fifths / CLOCK_US_FIFTHS), late = (uint16_t)(TCNT1 - due);
    ticks->left_fifths = (uint8_t)(fifths - (uint32_t)counts * CLOCK_US_FIFTHS);
    *compare = (uint16_t)(due + (late + 2u < counts ? counts : late + 2u));
}

enum dia_status dia_avr_ticks_begin(struct dia_avr_ticks *ticks, char unit,
                                    struct dia_driver *driver)
{
    const uint16_t soon = 100u * 5u / CLOCK_US_FIFTHS;
    uint8_t sreg = SREG, is_a = unit == 'A';
    if (!dia_driver_has_tick(driver) || (!is_a && unit != 'B'))
        return DIA_BAD_VALUE;
    cli();
    *ticks = (struct dia_avr_ticks){driver, (uint8_t)unit, 0};
    if (is_a)
        OCR1A = TCNT1 + soon;
    else
        OCR1B = TCNT1 + soon;
    TIFR1 = is_a ? _BV(OCF1A) : _BV(OCF1B);
    TIMSK1 = (uint8_t)(TIMSK1 | (is_a ? _BV(OCIE1A) : _BV(OCIE1B)));
    SREG = sreg;
    return DIA_OK;
}
