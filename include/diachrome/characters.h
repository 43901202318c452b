/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_CHARACTERS_H
#define DIACHROME_CHARACTERS_H

#include <stdint.h>

#include "driver.h"
#include "linkage.h"
#include "port.h"
#include "config.h"
#include "status.h"

DIA_BEGIN

/*
 * The driver for character displays: HD44780 and its relatives, 8x1 to 40x2 and 20x4, on 8 or 4
 * data lines with or without R/W, or through an 8-bit I2C expander (PCF8574).
 *
 *   static uint8_t cells[DIA_CHARACTERS_CELLS(16, 2)], memory[DIA_CHARACTERS_BYTES(16, 2)];
 *   dia_characters_init(&keeper, port, &setup, cells, memory);
 *   dia_characters_text(&keeper, 0, 0, "Petrel Quay", 11);
 *   dia_driver_show_and_wait(&keeper.driver);
 *
 * Drawing: a character code for each cell, row after row. Only cells that change are sent.
 * Polling: each poll sends one character or instruction, and says after how many us the display
 *          takes the next.
 * Master:  0 switches the display off and keeps what it holds; all else is on.
 * Bus:     I2C is claimed for each transmission and released after it.
 * Errors:  DIA_PORT_FAILED from poll: the expander did not acknowledge, the port refused, or the
 *          busy flag never went. The next show starts the display anew and sends everything.
 * Cost:    show compares every cell, and each that has changed is a poll: 40 us of the display's
 *          time, by I2C 1.2 ms of the bus's.
 * See driver.h for show, poll, dark, refresh, clear. A refresh goes through the start-up without
 * its clear, and writes every cell, so nothing is seen of it.
 *
 * Context: as driver.h says.
 */

/* Limits of such a chip; their sources are in src/wire/characters_parts.c. */
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

enum dia_characters_bus {
    DIA_BUS_8_LINES, /* data_pin[0..7] are D0..D7 */
    DIA_BUS_4_LINES, /* data_pin[0..3] are D4..D7 */
    DIA_BUS_EXPANDER /* I2C: RS R/W E and light on bits 0..3, D4..D7 on bits 4..7 */
};

struct dia_characters_setup {
    const DIA_ROM struct dia_characters_part *part;
    uint8_t bus;                   /* enum dia_characters_bus */
    uint8_t rs_pin, rw_pin, e_pin; /* rw_pin: DIA_NO_PIN: it is on ground */
    uint8_t data_pin[8];
    uint8_t i2c_bus, address; /* of the expander; 7 bits */
    uint8_t columns, rows;    /* 8 to 40, 1 to 4; at most 80 places */
    uint8_t split;            /* 1: one row of two halves (some 16x1 are 8 + 8) */
    uint16_t oscillator_khz;  /* slowest that waits reckon with; 0: the sheet's 190 kHz */
};

#define DIA_CHARACTERS_CELLS(columns, rows) ((columns) * (rows)) /* bytes of the drawing */
#define DIA_CHARACTERS_BYTES(columns, rows) ((columns) * (rows)) /* and of the driver's memory */

struct dia_characters {
    struct dia_driver driver; /* its drawing is the cells */
    struct dia_characters_setup setup;
    uint8_t light;        /* of an expander: 1 on; from the next show on */
    uint8_t cursor_style; /* private, as all below */
    uint8_t cursor_column, cursor_row;
    uint8_t pen_column, pen_row;
    uint8_t *taken;            /* the cells that show, or are on their way */
    uint8_t unsent[10];        /* a bit for each of them that is not sent yet */
    uint8_t blank[10];         /* and for each that becomes a space before its glyphs change */
    uint8_t glyph[8][8];       /* as they were drawn */
    uint8_t glyph_taken[8][8]; /* and as they show, or are on their way */
    uint8_t glyphs;            /* a bit for each that was drawn since the last show */
    uint8_t glyphs_defined;    /* and that was ever taken */
    uint8_t glyphs_unsent;     /* and for each still to send */
    uint8_t glyph_row;         /* 0: its address comes next; else row - 1 */
    uint8_t control;           /* display, cursor and block, wanted */
    uint8_t control_sent;      /* and sent; 0xff: not known */
    uint8_t light_wanted, light_sent;
    uint8_t start;       /* steps of the start-up that are done */
    uint8_t anew;        /* 1: the next show begins with the start-up */
    uint8_t started;     /* 1: it has been through it once, clear included */
    uint8_t active;      /* a frame is on its way */
    uint8_t state;       /* of the bus */
    uint8_t what, which; /* is on the bus: a step, a glyph, a cell ... */
    uint8_t at;          /* address in the text; 0xff: not known */
    uint8_t last_rs;     /* of the expander's outputs */
    uint8_t bytes[6];    /* on their way to the expander */
    uint16_t wait_us;    /* how long the last instruction takes */
    uint32_t since_us;   /* when the wait began */
};

/*
 * A blank display, the cursor hidden, the light on; nothing is sent yet. The first frame begins
 * with the start-up: the three function sets that bring the chip to a known state even from the
 * middle of a 4-bit pair, then clear, entry to the right, display on. cells has
 * DIA_CHARACTERS_CELLS and is filled with spaces; memory has DIA_CHARACTERS_BYTES.
 * DIA_BAD_VALUE: a size, pin or address out of range; DIA_UNSUPPORTED: the port lacks what is
 * needed. Nothing is changed then.
 */
enum dia_status dia_characters_init(struct dia_characters *characters, struct dia_port *port,
                                    const struct dia_characters_setup *setup, uint8_t *cells,
                                    uint8_t *memory);

/* Each of these draws; it shows with the next show. DIA_BAD_VALUE, and nothing drawn: a place,
 * code or length out of range. */

/* n character codes from a place on; they must fit their row. */
enum dia_status dia_characters_text(struct dia_characters *characters, uint8_t column, uint8_t row,
                                    const char *text, uint8_t n);

/* Where the next dia_characters_put goes; 0, 0 after init. */
enum dia_status dia_characters_place(struct dia_characters *characters, uint8_t column,
                                     uint8_t row);

/* A code where the last one ended: on to the right, then to the next row, then to the first. */
enum dia_status dia_characters_put(struct dia_characters *characters, uint8_t code);

/* A glyph of 5 x 8 dots, code 0..7 (and 8..15, which are the same): a byte a row from the top,
 * bit 4 at the left. The rows are copied. Cells that show it change with the next show; one that
 * shows something else from then on never shows the new dots before. */
enum dia_status dia_characters_glyph(struct dia_characters *characters, uint8_t code,
                                     const uint8_t rows[8]);

/* The code, 8..15, of a glyph of such dots: one that is drawn so already, else one of those that
 * `busy` (a bit each) leaves free. DIA_UNSUPPORTED: there is none. letters.h has texts that hand
 * out the eight glyphs by themselves. */
enum dia_status dia_characters_own(struct dia_characters *characters, const uint8_t rows[8],
                                   uint8_t busy, uint8_t *code);

/* The cursor at a place; style: enum dia_cursor, added. */
enum dia_cursor { DIA_CURSOR_NONE = 0, DIA_CURSOR_BLOCK = 1, DIA_CURSOR_UNDERLINE = 2 };
enum dia_status dia_characters_cursor(struct dia_characters *characters, uint8_t column,
                                      uint8_t row, uint8_t style);

DIA_END

#endif
