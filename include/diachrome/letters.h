/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_LETTERS_H
#define DIACHROME_LETTERS_H

#include <stdint.h>

#include "characters.h"
#include "config.h"
#include "face.h"
#include "fixed.h"
#include "linkage.h"
#include "status.h"

DIA_BEGIN

/*
 * Texts in UTF-8 on a character display, its glyphs, bars and tall numbers.
 *
 *   static const struct dia_letters letters = {.rom = &dia_rom_a00, .face = &dia_face_cell};
 *   dia_characters_write(&keeper, &letters, 0, 1, 10, "12.6 V \342\234\223");
 *   dia_characters_bar(&keeper, &letters, 10, 1, 10, DIA_SHARE_ONE / 2);
 *   dia_driver_show_and_wait(&keeper.driver);
 *
 * Signs that the ROM lacks are drawn into the eight glyphs of the display. Nobody keeps a list: a
 * glyph is free when no cell of the drawing shows it, and a sign that shows already keeps its own.
 * So a ninth at once has no room, which is told.
 *
 * Drawing: as dia_characters_text; it shows with the next show, and only what changes is sent.
 * Errors:  DIA_BAD_VALUE    the place or the width is outside of the display; nothing is drawn
 *          DIA_UNSUPPORTED  a sign has no shape, or all eight glyphs are in use: it shows as a full
 *                           block (a question mark where the ROM has no block); all else is drawn
 * Cost:    on an ATmega328P about 400 cycles a sign of the ROM, 12,000 for one that is drawn.
 * Context: main loop only, between two shows of the display.
 */

/* What a ROM has: runs of signs that follow each other in Unicode and in the ROM. */
struct dia_rom_run {
    uint16_t sign; /* the first */
    uint8_t code;  /* of it */
    uint8_t count;
};
struct dia_rom {
    char name[4];
    uint8_t count;                          /* of the runs */
    const DIA_ROM struct dia_rom_run *runs; /* in rising order of signs */
};
/* Of the HD44780U (its sheet, table 4): A00 with katakana, and A02 with the letters of Western
 * Europe. */
extern const DIA_ROM struct dia_rom dia_rom_a00, dia_rom_a02;

/* The code of a sign, or -1; the sign of a code, or 0: a glyph, or a sign that Unicode lacks. */
int16_t dia_rom_code(const DIA_ROM struct dia_rom *rom, uint16_t sign);
uint16_t dia_rom_sign(const DIA_ROM struct dia_rom *rom, uint8_t code);

/* A glyph of one's own for a sign: rows as dia_characters_glyph has them. */
struct dia_cell_glyph {
    uint16_t sign;
    uint8_t rows[8];
};

/* Where signs come from: the ROM, then glyphs of one's own, then a face. */
struct dia_letters {
    const DIA_ROM struct dia_rom *rom;
    const DIA_ROM struct dia_face *face; /* of at most 5 columns a sign; NULL: none */
    const struct dia_cell_glyph *glyphs;
    uint8_t count; /* of the glyphs */
};

/* The rows of a sign in a face, in the middle of a cell. 0: the face lacks it, or it is wider than
 * 5 columns. */
uint8_t dia_letters_rows(const DIA_ROM struct dia_face *face, uint16_t sign, uint8_t rows[8]);

/* A text in a field of so many cells: what is shorter is followed by spaces, what is longer is cut
 * off. */
enum dia_status dia_characters_write(struct dia_characters *characters,
                                     const struct dia_letters *letters, uint8_t column, uint8_t row,
                                     uint8_t width, const char *text);

/* A glyph of such dots on a cell. */
enum dia_status dia_characters_draw(struct dia_characters *characters,
                                    const struct dia_letters *letters, uint8_t column, uint8_t row,
                                    const uint8_t rows[8]);

/* A bar from the left, of so much of its width; a cell has five steps. Takes one glyph at most, and
 * with a ROM without a block two. */
enum dia_status dia_characters_bar(struct dia_characters *characters,
                                   const struct dia_letters *letters, uint8_t column, uint8_t row,
                                   uint8_t width, dia_share share);

/*
 * Numbers two rows high: digits and '-' three cells wide, ':', '.' and ' ' one, with one between.
 * Cells of the field that are left over are spaces; what does not fit whole is left out. Takes
 * three glyphs, four with ':' or '.', and one more with a ROM without a block. Other signs are
 * spaces.
 */
enum dia_status dia_characters_tall(struct dia_characters *characters,
                                    const struct dia_letters *letters, uint8_t column, uint8_t row,
                                    uint8_t width, const char *text);

/* What stands in the cells of a tall number, each of 5 by 8 dots. */
enum dia_tall_piece {
    DIA_TALL_BLANK,
    DIA_TALL_FULL,
    DIA_TALL_TOP,    /* a bar at the top */
    DIA_TALL_BOTTOM, /* at the bottom */
    DIA_TALL_BOTH,   /* at both */
    DIA_TALL_POINT
};

/* The pieces (enum dia_tall_piece) of the upper and of the lower row of a sign that is two rows
 * high: 3 cells for a digit and '-', else one. Returns how many. */
uint8_t dia_tall_sign(uint16_t sign, uint8_t pieces[2][3]);

/* The dots of a piece, as dia_characters_glyph has them. */
void dia_tall_rows(uint8_t piece, uint8_t rows[8]);

DIA_END

#endif
