/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_TEXT_H
#define DIACHROME_TEXT_H

#include <stdint.h>

#include "face.h"
#include "linkage.h"

DIA_BEGIN

/*
 * Texts on anything made of dots, of digits or of character cells, at rest or moving. What shows is
 * a pure function of (text, screen, time), as with looks.
 *
 *   static const struct dia_text_form scroll = {.motion = DIA_TEXT_LEFT, .speed_um_s = 20000};
 *   struct dia_text text = {.says = "Ferry to Skua 14:05", .face = &dia_face_plain, .form =
 * scroll}; struct dia_screen screen = {.columns = 64, .rows = 8, .pitch_um = 1000}; uint8_t
 * dots[64]; dia_text_columns(&text, &screen, ms, 0, 64, 0, dots);    on a matrix:
 * dia_matrix_columns
 *
 * As a layer on pixels it is the look `text` (see look.h).
 *
 * A field that is 0 means the usual: size 1, at the left and at the top, at rest, for ever.
 *
 * Cost: on an ATmega328P 17,800 cycles for 64 columns of a text of 24 letters that scrolls. It
 * grows with the letters of the text and with what shows of them.
 * Context: any; threads may work at once on objects of their own.
 */
enum dia_text_motion {
    DIA_TEXT_RESTS,
    DIA_TEXT_LEFT,   /* it comes in at the right, goes out at the left, and comes again */
    DIA_TEXT_RIGHT,  /* the other way */
    DIA_TEXT_UP,     /* it comes in below, goes out above, and comes again */
    DIA_TEXT_DOWN,   /* the other way */
    DIA_TEXT_SWAYS,  /* what is wider than the screen goes there and back, else it rests */
    DIA_TEXT_PAGES,  /* as many lines as there is room for, then the next */
    DIA_TEXT_LETTERS /* one letter after the other appears */
};
enum dia_text_align { DIA_TEXT_AT_LEFT, DIA_TEXT_CENTRED, DIA_TEXT_AT_RIGHT };
enum dia_text_place { DIA_TEXT_AT_TOP, DIA_TEXT_IN_MIDDLE, DIA_TEXT_AT_BOTTOM };

struct dia_text_form {
    int32_t size;       /* each dot of the face is so many wide and high: 1..16 */
    int32_t spacing;    /* dots more between two letters, -8..32; letters never go back */
    int32_t align;      /* enum dia_text_align, of each line */
    int32_t place;      /* enum dia_text_place, of all lines together */
    int32_t wrap;       /* 1: a line that is too long goes on below, at a space if there is one */
    int32_t motion;     /* enum dia_text_motion */
    int32_t speed_um_s; /* of what moves, 0..10000000; 0: it rests */
    int32_t gap;        /* dots from its end to where it begins again, 0..1000; 0: as many as the
                           screen has, so that it has gone before it comes again */
    int32_t hold_ms;    /* how long a page shows, a swaying text rests at either end, and all
                           letters stay: 0..3600000 */
    int32_t every_ms;   /* from letter to letter, 0..60000 */
    int32_t blink_ms;   /* it goes out for the second half of such a period, 0..3600000; 0: it
                           stays lit */
    int32_t outline;    /* 1: only the dots around the letters */
    int32_t inverted;   /* 1: everything but the letters */
};

struct dia_text {
    const char *says;                    /* UTF-8, a new line at each \n; NULL: nothing */
    const DIA_ROM struct dia_face *face; /* on digits and cells it does not count */
    struct dia_text_form form;
};

/* Where a text shows, in dots (or in digits, or cells). */
struct dia_screen {
    uint16_t columns, rows; /* 1 or more */
    int32_t pitch_um;       /* of a dot. 1000 makes speeds thousandths of a dot a second */
};

/* Dots of columns first .. first + n - 1 into out (n bytes): rows top .. top + 7, the uppermost in
 * the lowest bit. Rows below the screen are 0. Without a face: all dark. */
void dia_text_columns(const struct dia_text *text, const struct dia_screen *screen, uint32_t ms,
                      uint16_t first, uint16_t n, uint16_t top, uint8_t *out);

/* The code points of a row of cells, screen->columns of them; a space where there is nothing. */
void dia_text_cells(const struct dia_text *text, const struct dia_screen *screen, uint32_t ms,
                    uint16_t row, uint16_t *out);

/* The same of digits: a point or colon takes no place, and is DIA_CELL_POINT beside the sign before
 * it. A sign from U+8000 on is a space: no segments show it. */
#define DIA_CELL_POINT 0x8000u
void dia_text_digits(const struct dia_text *text, const struct dia_screen *screen, uint32_t ms,
                     uint16_t row, uint16_t *out);

/* The segments of these digits, as dia_segments_of has them. */
void dia_text_segments(const struct dia_text *text, const struct dia_screen *screen, uint32_t ms,
                       uint16_t row, uint8_t *out);

/* How many dots the widest line takes, and all lines one below the other. */
struct dia_text_extent {
    uint32_t columns, rows;
};
struct dia_text_extent dia_text_extent_of(const struct dia_text *text,
                                          const struct dia_screen *screen);

DIA_END

#endif
