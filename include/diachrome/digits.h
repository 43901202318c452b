/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_DIGITS_H
#define DIACHROME_DIGITS_H

#include <stdint.h>

#include "fixed.h"
#include "port.h"
#include "status.h"

/*
 * The encoder for 1 to 8 digits of seven segments straight from pins, lit in turns.
 *
 *   dia_digits_init(&tide, port, &setup);
 *   dia_segments_text("2.37", segments, 4);
 *   dia_digits_show(&tide, segments);         from the main loop
 *   next_us = dia_digits_tick(&tide);         from a timer interrupt, again after next_us
 *
 * With a resistor for each segment, one digit is lit at a time. With a resistor for each common,
 * one segment of all digits is lit at a time, so that each resistor carries one segment and the
 * brightness is the same whatever is shown.
 *
 * Against ghosts all is dark for a moment (DIA_DIGITS_BLANK_NS) between two turns.
 */
#define DIA_DIGITS_MOST     8
#define DIA_DIGITS_BLANK_NS 2000u /* choice: longer than a small transistor takes to let go */
#define DIA_NO_SEGMENT      255   /* instead of a pin: the digit has no such segment */

struct dia_digits_setup {
    uint8_t segment_pin[8];              /* a b c d e f g and the point */
    uint8_t common_pin[DIA_DIGITS_MOST]; /* of each digit from the left */
    uint8_t digits;                      /* 1..8 */
    uint8_t common_anode;                /* 1: commons are anodes; else cathodes */
    uint8_t transistors;                 /* 1: a transistor at each common inverts it */
    uint8_t resistors_on_commons;        /* 1; else on the segments */
    uint16_t turn_us;                    /* of a digit (or segment), 20..8000 */
};

struct dia_digits {
    struct dia_port *port;
    struct dia_digits_setup setup;
    dia_share master;        /* 0: dark; may be set at any time */
    uint8_t wanted[8];       /* private: what shows next; a bit a line in each turn */
    uint8_t shown[8];        /* private: what shows in this round */
    uint8_t lines;           /* private: as they are now */
    uint8_t turn;            /* private: the one now, or turns for the dark rest of a round */
    volatile uint8_t swap;   /* private */
    volatile uint8_t rounds; /* begun so far; wraps */
};

/* Length of a turn for a refresh of the whole display in thousandths a second; 0 when it cannot
 * be. resistors_on_commons as in the setup. */
uint16_t dia_digits_turn_us(uint32_t refresh_mhz, uint8_t digits, uint8_t resistors_on_commons);

/* All dark, full master. DIA_BAD_VALUE: digits, turn_us or a pin out of range, or a pin twice. */
enum dia_status dia_digits_init(struct dia_digits *digits, struct dia_port *port,
                                const struct dia_digits_setup *setup);

/* Takes the segments of each digit (see dia_segments_of); they show from the next round on.
 * DIA_BUSY while those before wait for their round. */
enum dia_status dia_digits_show(struct dia_digits *digits, const uint8_t *segments);
enum dia_status dia_digits_poll(const struct dia_digits *digits);

/* Goes on to the next turn. Returns after how many us it is due again. A tick that comes late
 * makes its turn longer, no more. */
uint16_t dia_digits_tick(struct dia_digits *digits);

/* Dark at once; from the main loop, when no tick comes any more. */
void dia_digits_dark(struct dia_digits *digits);

#endif
