/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_SHIFT_H
#define DIACHROME_SHIFT_H

#include <stdint.h>

#include "port.h"
#include "rom.h"
#include "slices.h"
#include "status.h"

/*
 * The encoder for chains of shift registers: 74HC595 and 74HCT595, on three pins set one after
 * the other, or on an SPI bus and a latch pin. Each output is a lamp, with a level by time.
 *
 *   static uint8_t memory[DIA_SHIFT_BYTES(3, 4)];           3 chips, 4 bits
 *   struct dia_shift_setup setup = {.part = &dia_74hc595, .data_pin = 4, .clock_pin = 5,
 *       .latch_pin = 6, .enable_pin = 7, .bus = DIA_SHIFT_BY_PINS, .clock_hz = 1000000,
 *       .chips = 3, .depth = 4, .unit_us = dia_slices_unit_us(120000, 4)};
 *   dia_shift_init(&buoys, port, &setup, memory);
 *   dia_shift_show(&buoys, steps);            a step for each output, from the main loop
 *   next_us = dia_shift_tick(&buoys);         from a timer interrupt, again after next_us
 *
 * Nothing shows half-shifted: outputs change when the latch rises, which it does only after whole
 * frames of bits. All is dark until the first frame.
 */

/* What such a chip stands; sources in src/wire/shift_parts.c. */
struct dia_shift_part {
    char name[16];
    char source[96];
    uint32_t max_hz;        /* of the clock, at 4.5 V */
    uint16_t set_up_ns;     /* data before the rising clock */
    uint16_t pulse_ns;      /* clock and latch are high at least so long */
    uint16_t output_ua;     /* an output keeps its levels up to so much */
    uint16_t output_max_ma; /* and stands so much */
    uint16_t chip_max_ma;   /* all its outputs together */
    uint16_t supply_min_mv, supply_max_mv;
    uint16_t input_high_permille; /* of the supply, or */
    uint16_t input_high_mv;       /* where it does not depend on it */
};
extern const DIA_ROM struct dia_shift_part dia_74hc595, dia_74hct595;
extern const DIA_ROM struct dia_shift_part *const dia_shift_parts[]; /* NULL after the last */

#define DIA_SHIFT_MOST                1024 /* chips in a chain */
#define DIA_SHIFT_BY_PINS             255  /* instead of a bus: no SPI */
#define DIA_NO_ENABLE                 255  /* instead of a pin: output enable is wired to ground */
#define DIA_SHIFT_BYTES(chips, depth) (2u * (chips) * (depth))

struct dia_shift_setup {
    const DIA_ROM struct dia_shift_part *part;
    uint8_t data_pin, clock_pin; /* without SPI */
    uint8_t latch_pin;           /* rises to show */
    uint8_t enable_pin;          /* low to show, or DIA_NO_ENABLE */
    uint8_t bus;                 /* SPI bus, or DIA_SHIFT_BY_PINS */
    uint8_t depth;               /* bits of a level, 1..8 */
    uint8_t slices;              /* enum dia_slices */
    uint32_t clock_hz;           /* of the SPI bus */
    uint16_t chips;
    uint16_t unit_us; /* see slices.h */
};

struct dia_shift {
    struct dia_port *port;
    struct dia_shift_setup setup;
    uint8_t *planes[2];       /* private: the frame that shows, and the next */
    uint16_t slice;           /* private: the one that was shifted last */
    uint8_t front;            /* private */
    volatile uint8_t swap;    /* private: the next frame is ready */
    volatile uint8_t shifted; /* private: a slice waits for the latch */
    volatile uint8_t lit;     /* private: outputs are enabled */
    volatile uint16_t late;   /* ticks that came before their bits had been shifted */
    volatile uint8_t periods; /* begun so far; wraps */
};

/*
 * All dark. memory has DIA_SHIFT_BYTES and is the driver's. DIA_BAD_VALUE: chips is not
 * 1..DIA_SHIFT_MOST, depth not 1..8, unit_us is 0 or the longest
 * slice more than 65535 us, the clock is faster than the part stands, or a
 * weighted slice of one unit is shorter than the bits take by SPI. DIA_UNSUPPORTED: the port lacks
 * what is needed.
 */
enum dia_status dia_shift_init(struct dia_shift *shift, struct dia_port *port,
                               const struct dia_shift_setup *setup, uint8_t *memory);

/* Takes a step (0..2^depth - 1) for each output, chip 0 next to the controller, output 0 its QA;
 * they show from the next period on. DIA_BUSY while the frame before waits for its period. */
enum dia_status dia_shift_show(struct dia_shift *shift, const uint8_t *steps);

/* DIA_BUSY while a frame waits for its period. */
enum dia_status dia_shift_poll(const struct dia_shift *shift);

/*
 * Shows what was shifted and shifts what comes next. Returns after how many us it is due again.
 * A tick that comes late makes its slice longer, no more; one that comes while the bits are still
 * on the SPI bus counts as late and changes nothing.
 *
 * Worst length on an ATmega328P at 16 MHz with SPI at 8 MHz: see docs/architecture.md.
 */
uint16_t dia_shift_tick(struct dia_shift *shift);

/* Dark at once, by the enable pin or by zeros; from the main loop, when no tick comes any more. */
void dia_shift_dark(struct dia_shift *shift);

#endif
