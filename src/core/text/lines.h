/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_LINES_H
#define DIA_CORE_LINES_H

#include <diachrome/text.h>

#include "glyph.h"

/* How a text is measured: on dots by a face, else every sign is a cell. */
struct measure {
    const DIA_ROM struct dia_face *face; /* NULL: cells */
    struct dia_glyphs run;               /* its first, where most signs are; none where it has
                                            capitals only */
    uint8_t bytes;                       /* of a column */
    uint8_t size;                        /* of a dot of the face */
    uint8_t merged;     /* 1: of digits: a point or colon belongs to the sign before it */
    int32_t between;    /* dots between two letters, times size */
    int32_t rows, line; /* height of a line, and from one to the next */
    int32_t most;       /* a line is at most so wide; 0: as it is */
};

void dia_measure_of(struct measure *measure, const struct dia_text *text,
                    const DIA_ROM struct dia_face *face, const struct dia_screen *screen);

/* A line: from `at` up to `end`; the one after it begins at `next`, NULL for none. */
struct line {
    const char *at, *end, *next;
    int32_t width;
};

/* The line that begins at a place of the text. */
void dia_line_at(struct line *line, const struct measure *measure, const char *at);

/* How far it is from where a sign begins to where the next does, but for the space between two
 * letters. Of dots its glyph comes with it; of cells, 0 for a point that belongs to the sign before
 * it, which is `*before`. */
uint16_t dia_line_advance(const struct measure *measure, uint16_t code, uint16_t *before,
                          struct glyph *glyph);

/* As dia_utf8_next, the short way for ASCII. */
static inline uint16_t line_sign(const char **at)
{
    uint8_t first = (uint8_t)(*at)[0];
    if (first >= 0x80)
        return dia_utf8_next(at);
    ++*at;
    return first;
}

/* And with it: letters never go back. */
static inline int32_t line_step(const struct measure *measure, uint16_t advance)
{
    int32_t step = advance + measure->between;
    return measure->between < 0 && step < measure->size ? measure->size : step;
}

#endif
