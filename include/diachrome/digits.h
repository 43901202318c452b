/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_DIGITS_H
#define DIACHROME_DIGITS_H

#include <stdint.h>

#include "driver.h"
#include "linkage.h"
#include "port.h"
#include "status.h"

DIA_BEGIN

/*
 * The driver for 1 to 8 digits of seven segments straight from pins, lit in turns.
 *
 *   static uint8_t segments[4];
 *   dia_digits_init(&tide, port, &setup, segments);
 *   dia_segments_text("2.37", segments, 4);
 *   dia_driver_show(&tide.driver);                    from the main loop
 *   next_us = dia_driver_tick(&tide.driver);          from a timer interrupt
 *
 * Drawing: a byte a digit from the left: segment a in bit 0, then b to g, the point in bit 7.
 * Shown:   a frame shows from the next round on; poll says DIA_BUSY until it does.
 * Turns:   with a resistor for each segment, one digit is lit at a time. With a resistor for each
 *          common, one segment of all digits is lit at a time, so that each resistor carries one
 *          segment and the brightness is the same whatever is shown.
 * Master:  below full, every turn is shorter and a dark rest makes the round whole.
 * Cost:    a tick writes two commons and those lines that change: 1,100 to 1,300 cycles on an
 *          ATmega328P and the time of its pins; show copies the drawing.
 * Against ghosts all is dark for a moment (DIA_DIGITS_BLANK_NS) between two turns.
 * See driver.h for show, poll, tick, dark, refresh, clear.
 *
 * Context: as driver.h says.
 */
#define DIA_DIGITS_MOST     8
#define DIA_DIGITS_BLANK_NS 2000u /* choice: longer than a small transistor takes to let go */

struct dia_digits_setup {
    uint8_t segment_pin[8]; /* a b c d e f g and the point; DIA_NO_PIN: there is none */
    uint8_t common_pin[DIA_DIGITS_MOST]; /* of each digit from the left */
    uint8_t digits;                      /* 1..8 */
    uint8_t common_anode;                /* 1: commons are anodes; else cathodes */
    uint8_t inverted;   /* 1: commons are driven inverted, as by a transistor at each */
    uint8_t by_segment; /* 1: lit segment by segment, with a resistor at each common; else digit by
                           digit, with one at each segment */
    uint16_t turn_us;   /* of a digit (or segment), 20..8000 */
};

struct dia_digits {
    struct dia_driver driver; /* its drawing is the segments */
    struct dia_digits_setup setup;
    volatile uint8_t rounds; /* begun so far; wraps */
    uint8_t wanted[8];       /* private, as all below: what shows next; a bit a line in each turn */
    uint8_t shown[8];        /* what shows in this round */
    uint16_t wanted_us;      /* lit part of a turn, of the next round and of this one */
    uint16_t lit_us;
    uint8_t lines;           /* as they are now */
    uint8_t known;           /* 0: nobody knows how they are; all are written */
    uint8_t turn;            /* the one now, or turns for the dark rest of a round */
    volatile uint8_t waits;  /* a frame waits for its round */
    volatile uint8_t dark;   /* ticks do nothing */
    volatile uint8_t failed; /* the port refused, and nobody has been told */
};

/* Length of a turn for a refresh of the whole display in thousandths a second; 0 when it cannot
 * be. by_segment as in the setup. */
uint16_t dia_digits_turn_us(uint32_t refresh_mhz, uint8_t digits, uint8_t by_segment);

/* All dark, full master. segments has a byte for each digit and is cleared. DIA_BAD_VALUE: digits,
 * turn_us or a pin out of range, or a pin twice. DIA_UNSUPPORTED: the port cannot wait. Nothing is
 * changed then. */
enum dia_status dia_digits_init(struct dia_digits *digits, struct dia_port *port,
                                const struct dia_digits_setup *setup, uint8_t *segments);

DIA_END

#endif
