/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_MATRIX_H
#define DIACHROME_MATRIX_H

#include <stdint.h>

#include "driver.h"
#include "linkage.h"
#include "port.h"
#include "config.h"
#include "status.h"

DIA_BEGIN

/*
 * The driver for matrix and digit drivers: MAX7219 and MAX7221 in a chain, on an SPI bus with a
 * select pin (LOAD or CS). Each has 64 outputs, on or off, as 8 digits (rows) of 8 segments.
 *
 *   static uint8_t rows[DIA_MATRIX_ROWS(4)], memory[DIA_MATRIX_BYTES(4)];
 *   struct dia_matrix board;
 *   dia_matrix_init(&board, port, &dia_max7219, 0, 10, 1000000, rows, memory, 4);
 *   dia_matrix_set(&board, dia_matrix_dot(&wiring, 4, column, row), 1);
 *   dia_driver_show_and_wait(&board.driver);
 *
 * Drawing: 8 bytes a chip, digit 0 first, segment DP in bit 7, A to G in bits 6 to 0.
 * Bus:     claimed for each word and released after it, so other drivers can send in between.
 * Cost:    a changed row is one word (16 bits) for each chip of the chain.
 * Polling: each poll starts one word; 14 at most after a refresh, 8 for a new picture.
 * See driver.h for show, poll, dark, refresh, clear.
 *
 * Context: as driver.h says.
 */

/* Limits of such a chip; their sources are in src/wire/matrix_parts.c. */
struct dia_matrix_part {
    char name[16];
    char source[96];
    uint32_t max_hz;     /* of the clock */
    uint16_t select_ns;  /* select is high at least so long */
    uint16_t scan_hz[3]; /* all digits are lit in turn so often: least, typical, most */
    uint16_t segment_ma; /* highest peak current of a segment */
    uint16_t supply_min_mv, supply_max_mv, input_high_mv;
    uint8_t duty[2]; /* duty at intensity n is (duty[0] + 2 n) / 32, at most duty[1] / 32 */
};
extern const DIA_ROM struct dia_matrix_part dia_max7219, dia_max7221;
extern const DIA_ROM struct dia_matrix_part *const dia_matrix_parts[]; /* NULL after the last */

#define DIA_MATRIX_ROWS(chips)  (8u * (chips))  /* bytes of the drawing */
#define DIA_MATRIX_BYTES(chips) (10u * (chips)) /* and of the driver's memory */
#define DIA_MATRIX_MOST         1024            /* chips in a chain */

struct dia_matrix {
    struct dia_driver driver; /* its drawing is the rows */
    uint8_t digits;           /* that are scanned, 1..8; 8 after init; set before the first show */
    uint8_t state;            /* private, as all below */
    uint8_t bus, select_pin;
    uint8_t intensity; /* 0..15 */
    uint8_t lit;       /* 0: shut down */
    uint8_t what;      /* the word that is on the wire */
    uint16_t chips;
    uint16_t pending; /* a bit for each word still to send */
    uint32_t clock_hz;
    const DIA_ROM struct dia_matrix_part *part;
    uint8_t *taken; /* as the rows; what shows, or is on its way */
    uint8_t *words; /* 2 bytes a chip, those on the wire */
};

/*
 * All outputs off, full intensity; nothing is sent yet. The first frame begins with the whole
 * set-up: shut down, display test off, scan limit, no decoding, intensity; then all rows; then out
 * of shut-down. So nothing shows that was not drawn. rows has DIA_MATRIX_ROWS(chips) and is
 * cleared; memory has DIA_MATRIX_BYTES(chips).
 * The master sets the nearest of 16 intensities; at 0 the chips are shut down.
 * DIA_BAD_VALUE: chips is not 1..DIA_MATRIX_MOST, there is no such pin, or the clock is not 1 Hz
 * to the part's highest. DIA_UNSUPPORTED: the port has no SPI. Nothing is changed then.
 */
enum dia_status dia_matrix_init(struct dia_matrix *matrix, struct dia_port *port,
                                const DIA_ROM struct dia_matrix_part *part, uint8_t bus,
                                uint8_t select_pin, uint32_t clock_hz, uint8_t *rows,
                                uint8_t *memory, uint16_t chips);

/* Draws output number chip * 64 + digit * 8 + bit, chip 0 next to the controller: on or off.
 * Outputs beyond the chain are left alone. */
void dia_matrix_set(struct dia_matrix *matrix, uint32_t output, uint8_t on);

/* How modules of 8 x 8 dots are wired and mounted; all 0: chip 0 at the left, digit 0 the top
 * row, segment DP (bit 7) the left column. */
struct dia_matrix_wiring {
    uint8_t turn;       /* quarter turns clockwise that each module is mounted at, 0..3 */
    uint8_t mirrored;   /* 1: columns of a module run from right to left */
    uint8_t from_right; /* 1: chip 0 is at the right end */
};

/* Output of the dot in a column (0 at the left, 8 a chip) and a row (0 at the top). */
uint32_t dia_matrix_dot(const struct dia_matrix_wiring *wiring, uint16_t chips, uint16_t column,
                        uint8_t row);

/* Draws all modules of 8 x 8 dots: 8 bytes a chip, a column each from the left, the uppermost dot
 * in the lowest bit, as dia_text_columns makes them. 1,600 cycles a chip on an ATmega328P. */
void dia_matrix_columns(struct dia_matrix *matrix, const struct dia_matrix_wiring *wiring,
                        const uint8_t *columns);

/* Output of a segment (0..6 a..g, 7 the point) of a digit from the left: from_right is the one
 * field of the wiring that counts, and tells whether digit 0 of chip 0 is at the right end. */
uint32_t dia_matrix_segment(const struct dia_matrix_wiring *wiring, uint16_t chips, uint8_t digits,
                            uint16_t digit, uint8_t segment);

DIA_END

#endif
