/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_SHIFT_H
#define DIACHROME_SHIFT_H

#include <stdint.h>

#include "driver.h"
#include "linkage.h"
#include "port.h"
#include "config.h"
#include "slices.h"
#include "status.h"

DIA_BEGIN

/*
 * The driver for chains of shift registers: 74HC595 and 74HCT595, on three pins set one after the
 * other, or on an SPI bus and a latch pin. Each output is a lamp, with a level by time.
 *
 *   static uint8_t levels[DIA_SHIFT_LEVELS(3)], memory[DIA_SHIFT_BYTES(3, 4)]; 3 chips, 4 bits
 *   struct dia_shift_setup setup = {.part = &dia_74hc595, .data_pin = 4, .clock_pin = 5,
 *       .latch_pin = 7, .enable_pin = 8, .bus = DIA_SHIFT_BY_PINS, .chips = 3, .depth = 4,
 *       .unit_us = dia_slices_unit_us(120000, 4)};
 *   dia_shift_init(&buoys, port, &setup, levels, memory);
 *   levels[2] = 128;                                       half as bright as 255
 *   dia_driver_show(&buoys.driver);                        from the main loop
 *   next_us = dia_driver_tick(&buoys.driver);              from a timer interrupt
 *
 * Drawing: a level 0..255 for each output, chip 0 next to the controller, output 0 its QA.
 * Shown:   a frame shows from the next period on; poll says DIA_BUSY until it does.
 * Bus:     an SPI bus that other drivers use too must be marked as shared: the chips have no
 *          select, so each tick then sends, waits (8 bits a chip) and latches in one go. A tick
 *          that finds the bus held counts as late; its slice lasts longer.
 * Cost:    a tick shifts 8 bits a chip, by pins in 240 cycles a bit on an ATmega328P and the time
 *          of its pins; show takes 370 cycles a lamp.
 * Nothing shows half-shifted: outputs change when the latch rises, which it does only after whole
 * rows of bits. All is dark until the first frame.
 * See driver.h for show, poll, tick, dark, refresh, clear.
 *
 * Context: as driver.h says.
 */

/* Limits of such a chip; their sources are in src/wire/shift_parts.c. */
struct dia_shift_part {
    char name[16];
    char source[96];
    uint32_t max_hz;        /* of the clock, at 4.5 V */
    uint16_t set_up_ns;     /* data before the rising clock */
    uint16_t pulse_ns;      /* clock and latch are high at least so long */
    uint16_t output_ua;     /* of an output, up to which its levels are right */
    uint16_t output_max_ma; /* of an output, above which it breaks */
    uint16_t chip_max_ma;   /* of all its outputs together, above which it breaks */
    uint16_t supply_min_mv, supply_max_mv;
    uint16_t input_high_permille; /* of the supply, or */
    uint16_t input_high_mv;       /* where it does not depend on it */
};
extern const DIA_ROM struct dia_shift_part dia_74hc595, dia_74hct595;
extern const DIA_ROM struct dia_shift_part *const dia_shift_parts[]; /* NULL after the last */

#define DIA_SHIFT_MOST                1024                     /* chips in a chain */
#define DIA_SHIFT_BY_PINS             255                      /* instead of a bus: no SPI */
#define DIA_SHIFT_LEVELS(chips)       (8u * (chips))           /* bytes of the drawing */
#define DIA_SHIFT_BYTES(chips, depth) (2u * (chips) * (depth)) /* and of the driver's memory */

struct dia_shift_setup {
    const DIA_ROM struct dia_shift_part *part;
    uint8_t data_pin, clock_pin; /* without SPI */
    uint8_t latch_pin;           /* rises to show */
    uint8_t enable_pin;          /* low to show, or DIA_NO_PIN: it is wired to ground */
    uint8_t bus;                 /* SPI bus, or DIA_SHIFT_BY_PINS */
    uint8_t shared;              /* 1: other drivers use the bus too */
    uint8_t sinks;               /* 1: lamps hang between the supply and the outputs (digits with a
                                    common anode), and are lit while these are low */
    uint8_t depth;               /* bits of a level, 1..8 */
    uint8_t slices;              /* enum dia_slices */
    uint32_t clock_hz;           /* of the SPI bus */
    uint16_t chips;
    uint16_t unit_us; /* see slices.h */
};

struct dia_shift_digits;

struct dia_shift {
    struct dia_driver driver; /* its drawing is the levels */
    struct dia_shift_setup setup;
    volatile uint16_t late;   /* ticks that came before their bits could be shifted; wraps */
    volatile uint8_t periods; /* begun so far; wraps */
    const struct dia_shift_digits *digits; /* private, as all below: lit in turns; NULL: none */
    void (*develop)(struct dia_shift *shift, uint8_t *plane); /* its rows */
    uint8_t *planes[2];                                       /* the frame that shows, the next */
    uint16_t lit_us[2];                                       /* of their turns */
    uint16_t slice;                                           /* the one that was shifted last */
    uint8_t front;
    volatile uint8_t waits;   /* 2: a frame waits for its period, 1: it is being shifted */
    volatile uint8_t shifted; /* a slice waits for the latch */
    volatile uint8_t lit;     /* outputs are enabled */
    volatile uint8_t dark;    /* ticks do nothing */
    volatile uint8_t failed;  /* the port refused, and nobody has been told */
};

/*
 * All dark. levels has DIA_SHIFT_LEVELS(chips) and is cleared; memory has DIA_SHIFT_BYTES.
 * DIA_BAD_VALUE: chips is not 1..DIA_SHIFT_MOST, depth not 1..8, unit_us is 0 or the longest
 * slice more than 65535 us, there is no such pin, the clock is 0 or faster than the part stands,
 * or a unit is less than 2 us longer than the bits take by SPI. DIA_UNSUPPORTED: the port lacks
 * what is needed. Nothing is changed then.
 */
enum dia_status dia_shift_init(struct dia_shift *shift, struct dia_port *port,
                               const struct dia_shift_setup *setup, uint8_t *levels,
                               uint8_t *memory);

/*
 * Digits of 7, 14 or 16 segments on such a chain, lit in turns: one digit at a time has its common
 * on, and the outputs of the segments say what it shows.
 *
 *   static uint8_t segments[4], memory[DIA_SHIFT_DIGITS_BYTES(2, 4)];     2 chips, 4 digits
 *   static const struct dia_shift_digits digits = {.digits = 4, .segment = {0, 1, 2, 3, 4, 5, 6,
 * 7}, .common = {8, 9, 10, 11}}; setup.unit_us = dia_digits_turn_us(200000, 4, 0);
 *   dia_shift_digits_init(&tide, port, &setup, &digits, segments, memory);
 *   dia_segments_text("2.37", segments, 4);
 *   dia_driver_show(&tide.driver);
 *
 * Drawing: a byte a digit from the left: segment a in bit 0, then b to g, the point in bit 7. Of 14
 *          and 16 segments three bytes a digit, the lowest first, with bits as in lamp.h.
 * Turns:   unit_us of the setup is the turn of a digit; depth, slices and sinks do not count.
 * Master:  below full, every turn is shorter and a dark rest makes the round whole; a turn stays
 *          long enough for the bits to be shifted.
 * Ghosts:  with an enable pin all is dark for a moment (DIA_SHIFT_BLANK_NS) around each latch.
 *          Without one, segments and common change together, as the latch rises.
 * Cost:    a tick takes 340 cycles more on an ATmega328P than that of a chain of lamps.
 * Else as above: it is the same driver, with another drawing.
 */
#define DIA_SHIFT_DRAWING(digits, segments)   ((digits) * ((segments) > 8 ? 3u : 1u)) /* bytes */
#define DIA_SHIFT_DIGITS_MOST                 16
#define DIA_SHIFT_DIGITS_CHIPS                32 /* in such a chain, at most */
#define DIA_SHIFT_NO_OUTPUT                   0xffffu
#define DIA_SHIFT_BLANK_NS                    2000u /* choice: longer than a small transistor takes */
#define DIA_SHIFT_DIGITS_BYTES(chips, digits) (2u * (chips) * ((digits) + 1u)) /* of the memory */

struct dia_shift_digits {
    uint8_t digits;       /* 1..DIA_SHIFT_DIGITS_MOST */
    uint8_t segments;     /* with the point: 8, 15 or 17; 0 is 8 */
    uint8_t common_anode; /* 1: commons are anodes; else cathodes */
    uint8_t inverted;     /* 1: commons are driven inverted, as by a transistor at each */
    uint16_t segment[17]; /* outputs, 8 a chip: a b c d e f g, the point; or DIA_SHIFT_NO_OUTPUT */
    uint16_t common[DIA_SHIFT_DIGITS_MOST]; /* of each digit from the left */
};

/* All dark. The digits belong to the caller and must stay; segments has DIA_SHIFT_DRAWING
 * bytes and is cleared; memory has DIA_SHIFT_DIGITS_BYTES. Errors as dia_shift_init; DIA_BAD_VALUE
 * also when an output is beyond the chain or there twice, a round is longer than 65535 us, or there
 * are more chips or digits than stated above. */
enum dia_status dia_shift_digits_init(struct dia_shift *shift, struct dia_port *port,
                                      const struct dia_shift_setup *setup,
                                      const struct dia_shift_digits *digits, uint8_t *segments,
                                      uint8_t *memory);

DIA_END

#endif
