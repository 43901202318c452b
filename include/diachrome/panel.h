/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_PANEL_H
#define DIACHROME_PANEL_H

#include <stdint.h>

#include "fixed.h"
#include "port.h"
#include "rom.h"
#include "status.h"

/*
 * The encoder for panel controllers: TM1638 (digits, single lamps, keys) and its two-wire
 * relative TM1637 (digits). DIO is an open-drain line: pulled low or let go, never driven high.
 *
 *   dia_panel_init(&panel, port, &dia_tm1638, 14, 15, 16);
 *   dia_panel_digit(&panel, 0, dia_segments_of('7'));
 *   dia_panel_start(&panel);                  then dia_panel_poll until it is not DIA_BUSY:
 *   if (panel.keys & 1) ...                   it sends or reads one byte a call, some 20 us
 */

/* What such a chip stands; sources in src/wire/panel_parts.c. */
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

#define DIA_NO_STROBE 255 /* the pin of a part that has none */

struct dia_panel {
    struct dia_port *port;
    const DIA_ROM struct dia_panel_part *part;
    uint8_t keys; /* held at the last reading: bit k for key k from the left, several at once */
    uint8_t wanted[16]; /* private: by address */
    uint8_t sent[16];   /* private */
    uint8_t level;      /* private: 0 dark, 1..8 */
    uint8_t strobe_pin, clock_pin, dio_pin;
    uint8_t frame, byte; /* private: what is being sent */
    uint8_t read;        /* private: keys as they come in */
};

/* All dark, full master. strobe_pin: DIA_NO_STROBE for a TM1637. DIA_BAD_VALUE: a pin there is
 * not; DIA_UNSUPPORTED: the port cannot let pins go, read them, or wait. */
enum dia_status dia_panel_init(struct dia_panel *panel, struct dia_port *port,
                               const DIA_ROM struct dia_panel_part *part, uint8_t strobe_pin,
                               uint8_t clock_pin, uint8_t dio_pin);

/* Segments (see dia_segments_of) of a digit from the left; a single lamp on or off. DIA_BAD_VALUE:
 * the part has no such digit or lamp. They show with the next frame. */
enum dia_status dia_panel_digit(struct dia_panel *panel, uint8_t digit, uint8_t segments);
enum dia_status dia_panel_lamp(struct dia_panel *panel, uint8_t lamp, uint8_t on);

/* The nearest of the part's eight levels (duty 1 2 4 10 11 12 13 14 sixteenths of which the last is
 * full), or dark at 0. */
void dia_panel_master(struct dia_panel *panel, dia_share master);

/* Sends everything again with the next frame. */
void dia_panel_refresh(struct dia_panel *panel);

/* Starts a frame: sends what has changed and the level, then reads the keys. DIA_BUSY while one is
 * under way. */
enum dia_status dia_panel_start(struct dia_panel *panel);

/* Goes on by one byte. DIA_BUSY until the frame is over. DIA_PORT_FAILED: a TM1637 did not
 * acknowledge; the frame is given up, and the next sends everything again. */
enum dia_status dia_panel_poll(struct dia_panel *panel);

#endif
