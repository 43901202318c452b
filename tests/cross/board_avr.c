/* SPDX-License-Identifier: MIT */
#include <avr/interrupt.h>
#include <avr/io.h>
#include <avr/sleep.h>

#include "board.h"

/* The UART; asleep with interrupts off, the simulator ends. */
void board_begin(void)
{
    UBRR0 = 0;
    UCSR0B = _BV(TXEN0);
}

void board_put(char c)
{
    while (!(UCSR0A & _BV(UDRE0)))
        ;
    UDR0 = (uint8_t)c;
}

void board_end(void)
{
    while (!(UCSR0A & _BV(UDRE0)))
        ;
    cli();
    sleep_mode();
}
