/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_NOISE_H
#define DIA_CORE_NOISE_H

#include <stdint.h>

#include "mixture.h"
#include "product.h"

/*
 * Smooth value noise on a lattice of columns (in space) and rows (in time). Values are 0..65535,
 * eased between lattice points with 3f^2 - 2f^3.
 */

/* A 32-bit mixer: xor-shifts and odd multipliers, each step reversible, so no two inputs meet. */
#if defined(__AVR_HAVE_MUL__) && !defined(__OPTIMIZE_SIZE__)
#include "small/noise_mixed.h"
#else
static inline uint32_t noise_mixed(uint32_t x)
{
    x ^= x >> 16;
    x *= 0x7feb352du;
#if UINTPTR_MAX > 65535
    x ^= x >> 15;
#else
    x ^= x >> 16 << 1 | (uint16_t)x >> 15; /* the same, by whole bytes */
#endif
    x *= 0x846ca68bu;
    x ^= x >> 16;
    return x;
}
#endif

/* 3 f^2 - 2 f^3, rounded down, in products of 16 bits: of 15 bits of f, to 32768ths. */
static inline uint16_t noise_eased(uint16_t of_65536)
{
    uint16_t twice = of_65536 & 0xfffeu, square = product_high((uint16_t)(of_65536 >> 1), twice);
    return product_taken((uint16_t)(square * 3u), (uint16_t)(square * 2u), twice);
}

/* One moment between two rows. */
struct noise_row {
    uint32_t hash_now, hash_next; /* seeds of the two rows */
    uint16_t ease;                /* 0..32768 from now to next */
};

/*
 * The row at a time, with row_ms milliseconds (2 or more) from row to row. There are a whole
 * number of rows in 2^32 milliseconds, and the first follows on the last: time may wrap.
 */
void dia_noise_row_at(struct noise_row *row, uint32_t ms, uint32_t row_ms, uint32_t seed);

/* The value of a column by itself. Any number names a column: of a plane, x + 65536 y. */
uint16_t dia_noise_at(const struct noise_row *row, uint32_t column);

/* A column and the next, at one moment. */
struct noise_columns {
    uint16_t column;
    uint16_t here, next; /* values */
};
struct noise_columns dia_noise_columns_at(const struct noise_row *row, uint16_t column);

/* The value at part / 65536 of the way from the column to the next. */
uint16_t dia_noise_between(const struct noise_columns *pair, uint16_t part);

/*
 * n places in a plane, at one moment; x and y 16 bits below the point. Keep the cell from one run
 * to the next, known is 0 at the start: its corners are worked out only where they count, and those
 * that the next cell shares are kept; so is what depends on x alone while that stays.
 */
struct noise_cell {
    uint16_t column, line; /* of the first corner */
    uint16_t x;            /* below the point */
    uint16_t corner[4], upper, lower, across;
    uint8_t known; /* a bit for each corner, and BEGUN */
};
void dia_noise_plane_run(const struct noise_row *row, struct noise_cell *cell, const uint32_t *x,
                         const uint32_t *y, uint32_t n, uint16_t *values);

/*
 * The same of places one above the other at even distances, all at one x: from one to the next
 * there is only the ease down, and a line of the lattice is worked out once.
 */
struct noise_line {
    uint32_t left, right;          /* columns on the lower of two lines, on either side of x */
    uint16_t across, upper, lower; /* where x is between them; the values of both lines there */
    uint8_t begun;
};
void dia_noise_line_at(struct noise_line *line, uint32_t x);

void dia_noise_line_go(const struct noise_row *row, struct noise_line *line, uint16_t number);
void dia_noise_line_run(const struct noise_row *row, struct noise_line *line, uint32_t y,
                        uint32_t step, uint16_t n, uint16_t *values);

/* Numbers 0..65535 for the elements of a time slot: random, but always the same. */
uint32_t dia_noise_slot(uint32_t slot, uint32_t seed);
static inline uint16_t noise_random(uint32_t slot, uint32_t element)
{
    return (uint16_t)noise_mixed(slot ^ element);
}

#endif
