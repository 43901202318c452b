/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_CHARACTERS_H
#define DIACHROME_CHARACTERS_H

#include <stdint.h>

#include "port.h"
#include "rom.h"
#include "status.h"

/*
 * The encoder for character displays: HD44780 and its relatives, 8x1 to 40x2 and 20x4, on 8 or 4
 * data lines with or without R/W, or through an 8-bit I2C expander (PCF8574).
 *
 * Nothing waits: what is asked for goes into a queue, and the pump sends the next of it and says
 * when it wants to be called again.
 *
 *   static uint16_t queue[64];
 *   dia_characters_init(&keeper, port, &setup, queue, 64);
 *   dia_characters_text(&keeper, 0, 0, "Petrel Quay", 11);
 *   next_us = dia_characters_pump(&keeper);   from the main loop, again after next_us; 0: all sent
 */

/* What such a chip stands; sources in src/wire/characters_parts.c. */
struct dia_characters_part {
    char name[16];
    char source[96];
    uint16_t address_ns; /* RS and R/W before E rises */
    uint16_t enable_ns;  /* E is high at least so long */
    uint16_t cycle_ns;   /* from one rise of E to the next */
    uint16_t data_ns;    /* data before E falls */
    uint16_t power_ms;   /* after power-up, before the first instruction */
    uint16_t short_us;   /* an instruction, at the slowest oscillator */
    uint16_t write_us;   /* a character, at the slowest oscillator */
    uint16_t long_us;    /* clear and home, at the slowest oscillator */
    uint16_t supply_min_mv, supply_max_mv;
    uint16_t input_high_mv;
};
extern const DIA_ROM struct dia_characters_part dia_hd44780;

#define DIA_NOT_WIRED 255 /* instead of a pin */

enum dia_characters_bus {
    DIA_BUS_8_LINES, /* data_pin[0..7] are D0..D7 */
    DIA_BUS_4_LINES, /* data_pin[0..3] are D4..D7 */
    DIA_BUS_EXPANDER /* I2C: RS R/W E and light on bits 0..3, D4..D7 on bits 4..7 */
};

struct dia_characters_setup {
    const DIA_ROM struct dia_characters_part *part;
    uint8_t bus;                   /* enum dia_characters_bus */
    uint8_t rs_pin, rw_pin, e_pin; /* rw_pin: DIA_NOT_WIRED where it is on ground */
    uint8_t data_pin[8];
    uint8_t i2c_bus, address; /* of the expander; 7 bits */
    uint8_t columns, rows;    /* 8 to 40, 1 to 4; at most 80 places */
    uint8_t split;            /* 1: one row of two halves (some 16x1 are 8 + 8) */
    uint16_t oscillator_khz;  /* slowest that waits reckon with; 0: the sheet's 190 kHz */
};

struct dia_characters {
    struct dia_port *port;
    struct dia_characters_setup setup;
    uint16_t *queue;           /* private */
    uint16_t room, head, used; /* private */
    uint32_t since_us;         /* private: when the wait began */
    uint16_t wait_us;          /* private: how long the last instruction takes */
    uint8_t state;             /* private */
    uint8_t failed;            /* transmissions that an expander did not acknowledge; wraps */
    uint8_t light;             /* of an expander: 1 on */
    uint8_t control;           /* private: display, cursor and block, as sent */
    uint8_t entry;             /* private */
    uint8_t at;                /* private: address in the text */
    uint8_t last_rs;           /* private: of the expander's outputs */
    uint8_t bytes[6];          /* private: on their way to the expander */
};

#define DIA_CHARACTERS_QUEUE                                                                       \
    16 /* the start-up takes so many entries; a queue has at least these                           \
        */

/*
 * Puts the start-up into the queue: the three function sets that bring the chip to a known state
 * even from the middle of a 4-bit pair, then clear, entry to the right, display on.
 * DIA_BAD_VALUE: a size, pin, address or queue out of range; DIA_UNSUPPORTED: the port lacks what
 * is needed.
 */
enum dia_status dia_characters_init(struct dia_characters *characters, struct dia_port *port,
                                    const struct dia_characters_setup *setup, uint16_t *queue,
                                    uint16_t room);

/*
 * Each of these puts all it needs into the queue or, when it is too full, nothing: DIA_BUSY.
 * DIA_BAD_VALUE: a place, code or length out of range.
 */

/* n character codes from a place on; they must fit their row. */
enum dia_status dia_characters_text(struct dia_characters *characters, uint8_t column, uint8_t row,
                                    const char *text, uint8_t n);
/* Where the cursor stands and the next dia_characters_write goes. */
enum dia_status dia_characters_place(struct dia_characters *characters, uint8_t column,
                                     uint8_t row);
/* A character where the cursor stands; the cursor or the text moves as dia_characters_entry says.
 */
enum dia_status dia_characters_write(struct dia_characters *characters, uint8_t code);
enum dia_status dia_characters_clear(struct dia_characters *characters);
enum dia_status dia_characters_home(struct dia_characters *characters);

/* Display on or off with the text kept; cursor as an underline; as a blinking block. */
enum dia_status dia_characters_show(struct dia_characters *characters, uint8_t on,
                                    uint8_t underline, uint8_t block);

/* A glyph of 5 x 8 dots, code 0..7 (and 8..15): a byte a row from the top, bit 4 at the left. The
 * place in the text is set back. */
enum dia_status dia_characters_glyph(struct dia_characters *characters, uint8_t code,
                                     const uint8_t rows[8]);

/* After a write the cursor goes right (else left), or with shift the text moves instead. */
enum dia_status dia_characters_entry(struct dia_characters *characters, uint8_t right,
                                     uint8_t shift);
/* Moves the whole text (else the cursor) by one place to the right (else left). */
enum dia_status dia_characters_shift(struct dia_characters *characters, uint8_t text,
                                     uint8_t right);

/* Entries of the queue that are free. */
uint16_t dia_characters_room(const struct dia_characters *characters);

/*
 * Sends the next entry if its time has come. Returns after how many us to call again, 0 when the
 * queue is empty and the last instruction is done. With R/W wired it asks the busy flag instead of
 * waiting for the slowest oscillator.
 */
uint32_t dia_characters_pump(struct dia_characters *characters);

#endif
