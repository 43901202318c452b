/* SPDX-License-Identifier: MIT */
#include <avr/interrupt.h>

#include "avr_private.h"

/* Neighbours are set together where they are bits of one port. A bit written to a PIN register
 * turns the pin over. Interrupts are off meanwhile, some 20 cycles a byte. */
enum dia_status dia_avr_lines_shift(struct dia_port *port, uint8_t first_pin, uint8_t width,
                                    uint8_t clock_pin, const uint8_t *bytes, uint16_t n)
{
    uint8_t low = first_pin & 7u;
    (void)port;
    if (first_pin > 23 || clock_pin > 23 || width == 0 || width + low > 8)
        return DIA_BAD_VALUE;
    volatile uint8_t *out = dia_avr_pin_register(first_pin) + 2,
                     *turn = dia_avr_pin_register(clock_pin);
    uint8_t clock = (uint8_t)(1u << (clock_pin & 7u)), times = (uint8_t)(1u << low);
    uint8_t mask = (uint8_t)(((1u << width) - 1u) << low), sreg = SREG;
    cli();
    uint8_t rest = (uint8_t)(*out & ~mask);
    for (; n != 0; n--) {
        *out = (uint8_t)(rest | ((uint8_t)(*bytes++ * times) & mask));
        *turn = clock;
        *turn = clock;
    }
    SREG = sreg;
    return DIA_OK;
}
