/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_RGB_PANEL_H
#define DIACHROME_RGB_PANEL_H

#include <stdint.h>

#include "colour.h"
#include "driver.h"
#include "linkage.h"
#include "pin.h"
#include "port.h"
#include "slices.h"
#include "status.h"

DIA_BEGIN

/*
 * The driver for row-scanned colour panels of 16, 32 or 64 rows (1/8, 1/16, 1/32 scan), one or
 * several side by side: two rows are lit at a time, one of each half, and all have their turn.
 *
 *   static struct dia_rgb pixels[64 * 32];
 *   static uint8_t memory[DIA_RGB_PANEL_BYTES(64, 32, 5)];
 *   static struct dia_rgb_panel wall;
 *   struct dia_rgb_panel_setup setup = {
 *       .pins = {2, 3, 4, 5, 6, 7, 8, 9, 10, 11, DIA_NO_PIN, 12, 13, 14},
 *       .columns = 64, .rows = 32, .depth = 5, .blank_ns = 1000, .tick_us = 35,
 *       .unit_us = dia_slices_row_unit_us(120000, 16, 35, 5)};   120 Hz, 16 pairs of rows
 *   dia_rgb_panel_init(&wall, port, &setup, pixels, memory);
 *   pixels[3 * 64 + 10].g = 255;                     column 10 of row 3, from the top left
 *   dia_driver_show(&wall.driver);                   from the main loop
 *   next_us = dia_driver_tick(&wall.driver);         from a timer interrupt
 *
 * Drawing: a struct dia_rgb for each pixel, row after row from the top left. Its channels
 *          are lamps: r, g and b of pixel i are lamps 3 * i, 3 * i + 1 and 3 * i + 2.
 * Shown:   levels become `depth` planes, of which plane k is lit for 2^k units. A tick ends the
 *          light of a plane, latches the next and shifts the one after that while it is lit. A
 *          plane whose light is shorter than a tick is lit while the tick waits, then dark while it
 *          shifts. A frame shows from the next period on; poll says DIA_BUSY until it does.
 * Errors:  DIA_PORT_FAILED from poll: a pin was refused, and a row may have shown wrongly. Every
 *          period sends all rows again.
 * Cost:    a tick on an ATmega328P at most 2720 cycles, and 20 a column where R1 to B2 are on
 *          neighbouring pins in this order, else 1720; and what it waits. show works out the levels
 *          of all pixels, 260 cycles a channel, and their bits.
 * See driver.h for show, poll, tick, dark, refresh, clear.
 *
 * Context: as driver.h says.
 */

/* Its pins, by their names on panels. Panels of 32 rows have no E, those of 16 no D and no E:
 * DIA_NO_PIN. */
struct dia_rgb_panel_pins {
    uint8_t r1, g1, b1;    /* data of the upper half, */
    uint8_t r2, g2, b2;    /* and of the lower half */
    uint8_t a, b, c, d, e; /* which row of both halves, lowest bit first */
    uint8_t clk, lat;
    uint8_t oe; /* low: lit */
};

#define DIA_RGB_PANEL_COLUMNS 256 /* most, of all panels side by side */

/* Memory of the driver: two frames, a byte a column of both halves in each plane. */
#define DIA_RGB_PANEL_BYTES(columns, rows, depth)                                                  \
    ((uint32_t)(columns) * (uint32_t)(rows) * (uint32_t)(depth))

struct dia_rgb_panel_setup {
    struct dia_rgb_panel_pins pins;
    uint16_t columns;  /* 8..DIA_RGB_PANEL_COLUMNS */
    uint8_t rows;      /* 16, 32 or 64 */
    uint8_t depth;     /* bits of a level, 1..8 */
    uint16_t unit_us;  /* light of the first plane, 1 or more */
    uint16_t tick_us;  /* what a tick takes on this controller, 1 or more: `diachrome
                          refresh` reckons it, or measure a tick */
    uint16_t blank_ns; /* dark before and after the address changes, 0..20000: until the row before
                          is off; less, and the next one ghosts */
};

struct dia_rgb_panel {
    struct dia_driver driver; /* its drawing is the pixels */
    struct dia_rgb_panel_setup setup;
    volatile uint8_t periods; /* begun so far; wraps */
    uint8_t *planes[2];       /* private, as all below: plane after plane, row after row */
    uint16_t lines;           /* as the pins are now, a bit a role */
    uint16_t unknown;         /* pins of which nobody knows how they are */
    uint8_t shown;            /* which of the two */
    uint8_t row, plane;       /* in the shift registers, latched with the next tick */
    uint8_t shifted;          /* 0: nothing is */
    uint8_t together;         /* 1: data goes out of neighbouring pins at once */
    uint8_t taken;            /* the frame that waits is in there */
    volatile uint8_t waits;   /* a frame waits for its period */
    volatile uint8_t dark;    /* ticks do nothing */
    volatile uint8_t failed;  /* the port refused, and nobody has been told */
};

/* All dark. pixels has columns * rows of them and is cleared, memory has DIA_RGB_PANEL_BYTES.
 * DIA_BAD_VALUE: a size or time out of range, a pin missing or twice, or slices that are not
 * 65535 us at most. DIA_UNSUPPORTED: the port cannot write pins or wait. Nothing is changed then.
 */
enum dia_status dia_rgb_panel_init(struct dia_rgb_panel *panel, struct dia_port *port,
                                   const struct dia_rgb_panel_setup *setup, struct dia_rgb *pixels,
                                   uint8_t *memory);

DIA_END

#endif
