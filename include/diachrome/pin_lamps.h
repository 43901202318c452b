/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_PIN_LAMPS_H
#define DIACHROME_PIN_LAMPS_H

#include <stdint.h>

#include "driver.h"
#include "linkage.h"
#include "port.h"
#include "slices.h"
#include "status.h"

DIA_BEGIN

/*
 * The driver for 1 to 16 single lamps, each on a pin of its own, with a level by time.
 *
 *   static uint8_t levels[2];
 *   struct dia_pin_lamps_setup setup = {.pins = {20, 21}, .lamps = 2, .depth = 5,
 *       .unit_us = dia_slices_unit_us(120000, 5)};
 *   dia_pin_lamps_init(&beacon, port, &setup, levels);
 *   levels[0] = 128;                                       half as bright as 255
 *   dia_driver_show(&beacon.driver);                       from the main loop
 *   next_us = dia_driver_tick(&beacon.driver);             from a timer interrupt
 *
 * Drawing: a level 0..255 for each lamp.
 * Shown:   a frame shows from the next period on; poll says DIA_BUSY until it does. A period has
 *          `depth` slices of 1, 2, 4 ... units (slices.h).
 * Errors:  DIA_PORT_FAILED from poll: a pin was refused. It is written again with the next tick.
 * Cost:    a tick writes those pins that change: on an ATmega328P at most 360 cycles and 130 a
 *          lamp, its pins included; show works out the levels, 260 cycles a lamp, and their bits.
 * See driver.h for show, poll, tick, dark, refresh, clear.
 *
 * Context: as driver.h says.
 */
#define DIA_PIN_LAMPS_MOST 16

struct dia_pin_lamps_setup {
    uint8_t pins[DIA_PIN_LAMPS_MOST];
    uint8_t lamps;    /* 1..DIA_PIN_LAMPS_MOST */
    uint8_t sinks;    /* 1: lamps hang between the supply and the pins, and are lit while these are
                         low */
    uint8_t depth;    /* bits of a level, 1..8 */
    uint16_t unit_us; /* of the shortest slice, 20 or more; the longest is at most 65535 us */
};

struct dia_pin_lamps {
    struct dia_driver driver; /* its drawing is the levels */
    struct dia_pin_lamps_setup setup;
    volatile uint8_t periods; /* begun so far; wraps */
    uint16_t wanted[8]; /* private, as all below: a bit a lamp in each slice, what comes next */
    uint16_t shown[8];  /* what shows in this period */
    uint16_t lines;     /* as they are now */
    uint16_t unknown;   /* a bit for each pin of which nobody knows how it is */
    uint8_t slice;
    volatile uint8_t waits;  /* a frame waits for its period */
    volatile uint8_t again;  /* all pins are written with the next period */
    volatile uint8_t dark;   /* ticks do nothing */
    volatile uint8_t failed; /* the port refused, and nobody has been told */
};

/* All dark. levels has a byte for each lamp and is cleared. DIA_BAD_VALUE: lamps, depth or unit_us
 * out of range, or a pin twice. DIA_UNSUPPORTED: the port cannot write pins. Nothing is changed
 * then. */
enum dia_status dia_pin_lamps_init(struct dia_pin_lamps *lamps, struct dia_port *port,
                                   const struct dia_pin_lamps_setup *setup, uint8_t *levels);

DIA_END

#endif
