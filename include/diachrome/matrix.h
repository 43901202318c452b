/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_MATRIX_H
#define DIACHROME_MATRIX_H

#include <stdint.h>

#include "fixed.h"
#include "port.h"
#include "rom.h"
#include "status.h"

/*
 * The encoder for matrix and digit drivers: MAX7219 and MAX7221 in a chain, on an SPI bus with a
 * select pin (LOAD or CS). Each has 64 outputs, on or off, as 8 digits (rows) of 8 segments.
 *
 *   static uint8_t memory[DIA_MATRIX_BYTES(4)];
 *   dia_matrix_init(&board, port, &dia_max7219, 0, 10, 1000000, memory, 4);
 *   dia_matrix_set(&board, dia_matrix_dot(&wiring, 4, column, row), 1);
 *   while (dia_matrix_start(&board) == DIA_BUSY) ...    sends what has changed
 *   while (dia_matrix_poll(&board) == DIA_BUSY) ...     keeps it going: call it often
 */

/* What such a chip stands; sources in src/wire/matrix_parts.c. */
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

#define DIA_MATRIX_BYTES(chips) (18u * (chips))
#define DIA_MATRIX_MOST         1024 /* chips in a chain */

struct dia_matrix {
    struct dia_port *port;
    const DIA_ROM struct dia_matrix_part *part;
    uint8_t *wanted; /* 8 bytes a chip: digit 0 first, segment DP in bit 7, A..G in bits 6..0 */
    uint8_t *sent;   /* private, as wanted */
    uint8_t *words;  /* private: 2 bytes a chip, those on the wire */
    uint32_t clock_hz;
    uint16_t chips;
    uint16_t pending; /* private: a bit for each word still to send */
    uint8_t bus, select_pin;
    uint8_t intensity; /* 0..15, see dia_matrix_master */
    uint8_t lit;       /* 0: shut down */
    uint8_t digits;    /* that are scanned, 1..8; set before the first frame, 8 from the start */
    uint8_t state;     /* private */
};

/*
 * All outputs off, full intensity. The first frame begins with the whole set-up: shut down,
 * display test off, scan limit, no decoding, intensity; then all rows; then out of shut-down. So
 * nothing shows that was not sent. memory has DIA_MATRIX_BYTES(chips) and is the driver's.
 * DIA_BAD_VALUE: chips is not 1..DIA_MATRIX_MOST, or the clock not 1 Hz to the part's highest.
 * DIA_UNSUPPORTED: the port has no SPI.
 */
enum dia_status dia_matrix_init(struct dia_matrix *matrix, struct dia_port *port,
                                const DIA_ROM struct dia_matrix_part *part, uint8_t bus,
                                uint8_t select_pin, uint32_t clock_hz, uint8_t *memory,
                                uint16_t chips);

/* Intensity from the master, to the nearest of 16 steps; at 0 the chips are shut down. Takes
 * effect with the next frame. */
void dia_matrix_master(struct dia_matrix *matrix, dia_share master);

/* Output number chip * 64 + digit * 8 + bit of wanted, chip 0 next to the controller. Outputs
 * beyond the chain are left alone. */
void dia_matrix_set(struct dia_matrix *matrix, uint32_t output, uint8_t on);

/* Sends everything again with the next frame: the set-up too, which may have been disturbed. */
void dia_matrix_refresh(struct dia_matrix *matrix);

/*
 * Starts to send what has changed; a changed row costs one word for each chip of the chain,
 * those whose row is the same get a no-op. DIA_BUSY while the frame before lasts; wanted stays
 * untouched until dia_matrix_poll says DIA_OK. Other errors as port spi_start.
 */
enum dia_status dia_matrix_start(struct dia_matrix *matrix);
enum dia_status dia_matrix_poll(struct dia_matrix *matrix);

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

/* Output of a segment (0..6 a..g, 7 the point) of a digit from the left: from_right is the one
 * field of the wiring that counts, and tells whether digit 0 of chip 0 is at the right end. */
uint32_t dia_matrix_segment(const struct dia_matrix_wiring *wiring, uint16_t chips, uint8_t digits,
                            uint16_t digit, uint8_t segment);

#endif
