/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_PANEL_H
#define DIACHROME_PANEL_H

#include <stdint.h>

#include "driver.h"
#include "linkage.h"
#include "port.h"
#include "config.h"
#include "status.h"

DIA_BEGIN

/*
 * The driver for panel controllers: TM1638 (digits, single lamps, keys) and its two-wire relative
 * TM1637 (digits). DIO is an open-drain line: pulled low or let go, never driven high.
 *
 *   static uint8_t drawing[DIA_PANEL_DRAWING];
 *   dia_panel_init(&panel, port, &dia_tm1638, 14, 15, 16, drawing);
 *   dia_panel_digit(&panel, 0, dia_segments_of('7'));
 *   dia_driver_show_and_wait(&panel.driver);
 *   if (panel.keys & 1) ...
 *
 * Drawing: a byte for each address of the chip. TM1638: the segments of digit i at 2 i (a in bit 0,
 *          the point in bit 7), single lamp i in bit 0 of 2 i + 1. TM1637: digit i at i.
 * Keys:    read with each frame, so show now and then even if nothing has changed.
 * Master:  the nearest of the part's eight levels (duty 1 2 4 10 11 12 13 14 sixteenths, of which
 *          the last is full), or dark at 0.
 * Polling: each poll sends or reads one byte.
 * Errors:  DIA_PORT_FAILED from poll also when a TM1637 does not answer.
 * Cost:    a frame with keys is 24 polls, each 3,000 cycles on an ATmega328P.
 * See driver.h for show, poll, dark, refresh, clear.
 *
 * Context: as driver.h says.
 */

/* Limits of such a chip; their sources are in src/wire/panel_parts.c. */
struct dia_panel_part {
    char name[16];
    char source[96];
    uint16_t pulse_ns;  /* clock low and high at least so long */
    uint16_t period_ns; /* and a whole clock */
    uint16_t strobe_ns; /* strobe is high at least so long; 0: there is none (TM1637) */
    uint16_t read_ns;   /* from the command to read to the first bit */
    uint8_t digits, lamps, keys;
    uint16_t supply_min_mv, supply_max_mv;
    uint16_t input_high_permille; /* of the supply */
};
extern const DIA_ROM struct dia_panel_part dia_tm1638, dia_tm1637;
extern const DIA_ROM struct dia_panel_part *const dia_panel_parts[]; /* NULL after the last */

#define DIA_PANEL_DRAWING 16u /* bytes of the drawing, whatever the part */

struct dia_panel {
    struct dia_driver driver; /* its drawing is by address */
    uint8_t keys; /* held at the last reading: bit k for key k from the left, several at once */
    uint8_t strobe_pin, clock_pin, dio_pin; /* private, as all below */
    uint8_t taken[16];                      /* by address: what shows, or is on its way */
    uint8_t changed;                        /* 1: taken is not what the chip has */
    uint8_t level;                          /* 0 dark, 1..8 */
    uint8_t frame, byte;                    /* what is being sent */
    uint8_t read;                           /* keys as they come in */
    uint8_t refused;                        /* by the port, in this byte */
    const DIA_ROM struct dia_panel_part *part;
};

/* All dark, full master. strobe_pin: DIA_NO_PIN for a TM1637. drawing has DIA_PANEL_DRAWING bytes
 * and is cleared. DIA_BAD_VALUE: a pin there is not; DIA_UNSUPPORTED: the port cannot let pins go,
 * read them, or wait. */
enum dia_status dia_panel_init(struct dia_panel *panel, struct dia_port *port,
                               const DIA_ROM struct dia_panel_part *part, uint8_t strobe_pin,
                               uint8_t clock_pin, uint8_t dio_pin, uint8_t *drawing);

/* Draw the segments (see dia_segments_of) of a digit from the left; a single lamp on or off.
 * DIA_BAD_VALUE: the part has no such digit or lamp. */
enum dia_status dia_panel_digit(struct dia_panel *panel, uint8_t digit, uint8_t segments);
enum dia_status dia_panel_lamp(struct dia_panel *panel, uint8_t lamp, uint8_t on);

DIA_END

#endif
