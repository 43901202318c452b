/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_FACE_H
#define DIACHROME_FACE_H

#include <stdint.h>

#include "config.h"
#include "linkage.h"

DIA_BEGIN

/*
 * Faces: letters made of dots, for text.h. A face is a constant table, and a program holds only the
 * faces that it names.
 *
 * A face of your own is drawn in a text file (docs/drawings.md) and made into C by
 *
 *   diachrome glyphs my.drawings --out my_face.c
 *
 * With --signs "0123456789:" the table holds those signs alone. All of dia_face_small is less than
 * 400 bytes of flash, dia_face_plain 2.9 KB.
 *
 * Cost: on an ATmega328P finding a sign takes 200 cycles, and more for each run of glyphs before
 * it. Context: any; threads may work at once on objects of their own.
 */
#define DIA_FACE_ROWS 32 /* at most */

/* Glyphs whose code points follow each other, of 65,535 bytes at most. */
struct dia_glyphs {
    uint16_t first, count;          /* Unicode code points, all below 65536 */
    const DIA_ROM uint16_t *starts; /* count + 1: the column with which each begins */
    const DIA_ROM uint8_t *columns; /* of (rows + 7) / 8 bytes each, the upper rows first; the
                                       lowest bit is the uppermost dot */
};

struct dia_face {
    uint8_t rows;                            /* how high it is, 1..DIA_FACE_ROWS */
    uint8_t baseline;                        /* rows above the line that letters stand on */
    uint8_t spacing;                         /* dark columns between two letters */
    uint8_t leading;                         /* dark rows between two lines */
    uint8_t capitals;                        /* 1: it has no a to z, and shows A to Z for them */
    uint16_t count;                          /* of the runs below */
    const DIA_ROM struct dia_glyphs *glyphs; /* in rising order of code points */
};

/* 8 rows: ASCII, Latin-1 and Latin Extended-A, arrows, units, bars, weather and transport. */
extern const DIA_ROM struct dia_face dia_face_plain;
/* 16 rows, with strokes two dots wide: the same signs, for two rows of modules. */
extern const DIA_ROM struct dia_face dia_face_bold;
/* 5 columns and 8 rows: ASCII, Latin-1, and what else the ROMs of character displays have. */
extern const DIA_ROM struct dia_face dia_face_cell;
/* 5 rows: the capitals, digits and punctuation of ASCII. */
extern const DIA_ROM struct dia_face dia_face_small;

/* 1: the face has a glyph for a code point. */
uint8_t dia_face_has(const DIA_ROM struct dia_face *face, uint16_t code);

/* How many columns a sign takes, without the spacing behind it. One that the face lacks is a box.
 */
uint8_t dia_face_width(const DIA_ROM struct dia_face *face, uint16_t code);

/*
 * The next code point of a text in UTF-8; `at` moves on behind it. What is no UTF-8, and what is
 * above 65535, is U+FFFD. `at` may not be at the zero at the end.
 */
uint16_t dia_utf8_next(const char **at);

/* A code point in UTF-8: 1 to 3 bytes, and a zero. Returns text. */
char *dia_utf8_of(uint16_t code, char text[4]);

DIA_END

#endif
