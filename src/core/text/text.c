/* SPDX-License-Identifier: MIT */
#include <stddef.h>
#include <string.h>

#include <diachrome/lamp.h>
#include <diachrome/signal.h>
#include <diachrome/text.h>

#include "glyph.h"
#include "lines.h"
#include "motion.h"

/* Where signs go: dots, or the code points of cells. */
struct canvas {
    int32_t first, n; /* columns */
    int32_t top;      /* the uppermost row */
    uint8_t *dots;
    uint16_t *cells;
    uint8_t wider;  /* 1: the dots around the letters too */
    uint8_t clears; /* 1: dots are put out */
};

/* Eight rows of a column of a sign, of which row 0 is `down` below the uppermost. */
static uint8_t rows_of(uint32_t bits, int32_t down, const struct measure *m, uint8_t wider)
{
    uint16_t seen = 0; /* the row above them in the lowest bit, and the one below */
    int32_t at = down + 1;
    if (at >= 10 || at + m->rows <= 0)
        return 0;
    if (m->size == 1) {
        seen = (uint16_t)(at >= 0 ? bits << at : bits >> -at);
    } else {
        for (uint8_t row = 0; row < 10; row++) {
            int32_t of = row - at;
            if (of >= 0 && of < m->rows && bits >> of / m->size & 1u)
                seen = (uint16_t)(seen | 1u << row);
        }
    }
    seen &= 0x3ff;
    return (uint8_t)((wider ? seen | seen << 1 | seen >> 1 : seen) >> 1);
}

static void put(const struct canvas *canvas, int32_t column, uint8_t dots)
{
    uint8_t *at = canvas->dots + (column - canvas->first);
    if (column < canvas->first || column >= canvas->first + canvas->n)
        return;
    *at = (uint8_t)(canvas->clears ? *at & ~dots : *at | dots);
}

/* What most texts are: dots of one size, of a face of eight rows. From x columns behind the first
 * on, which may be before it. */
static void draw_plain(const struct canvas *canvas, const struct glyph *glyph, int16_t x,
                       int8_t down)
{
    int16_t n = canvas->n < 0x4000 ? (int16_t)canvas->n : 0x4000;
    uint8_t k = x < 0 ? (uint8_t)-x : 0;
    const DIA_ROM uint8_t *from = glyph->columns + k;
    uint8_t *to = canvas->dots + (x < 0 ? 0 : x);
    uint8_t end = n - x < glyph->width ? (uint8_t)(n - x) : glyph->width;
    for (; k < end; k++, from++, to++) {
        uint8_t bits = *from;
        *to = (uint8_t)(*to | (down < 0 ? bits >> -down : bits << down));
    }
}

static void draw_sign(const struct canvas *canvas, const struct measure *m,
                      const struct glyph *glyph, int32_t x, int32_t down)
{
    int32_t at = x - canvas->first;
    if (glyph->bytes == 1 && glyph->columns && m->size == 1 && !canvas->wider && !canvas->clears &&
        down > -8 && down < 8 && at > -256 && at < 0x4000) {
        if (at + glyph->width > 0 && at < canvas->n)
            draw_plain(canvas, glyph, (int16_t)at, (int8_t)down);
        return;
    }
    for (uint8_t k = 0; k < glyph->width; k++) {
        uint8_t dots = rows_of(dia_glyph_column(glyph, k), down, m, canvas->wider);
        for (uint8_t s = 0; s < m->size && dots; s++, x++) {
            put(canvas, x, dots);
            if (canvas->wider) {
                put(canvas, x - 1, dots);
                put(canvas, x + 1, dots);
            }
        }
        x += dots ? 0 : m->size;
    }
}

static void draw_cell(const struct canvas *canvas, uint16_t code, int32_t x, int32_t advance)
{
    int32_t column = x - canvas->first - (advance == 0);
    if (column < 0 || column >= canvas->n)
        return;
    if (advance == 0)
        canvas->cells[column] |= DIA_CELL_POINT;
    else
        canvas->cells[column] = code;
}

/* A line, with its first sign at x and its uppermost row so far below that of the canvas. */
static void draw_line(const struct canvas *canvas, const struct measure *m, const struct line *line,
                      const char *until, int32_t x, int32_t down)
{
    int32_t end = canvas->first + canvas->n + 1;
    uint16_t before = 0;
    for (const char *at = line->at; at < line->end && at < until && x <= end;) {
        uint16_t code = line_sign(&at);
        struct glyph glyph;
        uint16_t advance = dia_line_advance(m, code, &before, &glyph);
        if (!m->face)
            draw_cell(canvas, m->merged && code >= DIA_CELL_POINT ? ' ' : code, x, advance);
        else if (x + advance >= canvas->first)
            draw_sign(canvas, m, &glyph, x, down);
        x += line_step(m, advance);
    }
}

/* All of it once, with the upper left corner of its lines at x, y. */
static void draw_lines(const struct canvas *canvas, const struct measure *m,
                       const struct dia_text *text, const struct stand *stand, int32_t x, int32_t y)
{
    const char *at = stand->from;
    for (uint16_t k = 0; k < stand->lines && at; k++, y += m->line) {
        struct line line = stand->line;
        if (y > canvas->top + 8)
            return;
        if (at != line.at)
            dia_line_at(&line, m, at);
        if (y + m->rows >= canvas->top) {
            int32_t room = stand->width - line.width;
            int32_t left = text->form.align == DIA_TEXT_CENTRED    ? room / 2
                           : text->form.align == DIA_TEXT_AT_RIGHT ? room
                                                                   : 0;
            draw_line(canvas, m, &line, stand->until, x + left, y - canvas->top);
        }
        at = line.next;
    }
}

/* Of what comes again, the last copy that begins before the end of the canvas. */
static int32_t last_copy(int32_t at, int32_t again, int32_t end)
{
    return again && at > end ? at - (at - end + again - 1) / again * again : at;
}

/* Where letters are put closer than they are wide, one may end behind the last: at most so many
 * dots, of spacing and size. */
#define FURTHER (8 * 16)

/* With the copies of what comes again. */
static void draw(const struct canvas *canvas, const struct measure *m, const struct dia_text *text,
                 const struct stand *stand)
{
    int32_t x = last_copy(stand->x, stand->again_x, canvas->first + canvas->n);
    int32_t y = last_copy(stand->y, stand->again_y, canvas->top + 8);
    int32_t first = m->between < 0 ? canvas->first - FURTHER : canvas->first;
    draw_lines(canvas, m, text, stand, x, y);
    while (stand->again_x && (x -= stand->again_x) + stand->width >= first)
        draw_lines(canvas, m, text, stand, x, y);
    while (stand->again_y && (y -= stand->again_y) + stand->height >= canvas->top)
        draw_lines(canvas, m, text, stand, x, y);
}

/* 1: a text that blinks is out. */
static uint8_t is_out(const struct dia_text *text, uint32_t ms)
{
    return text->form.blink_ms != 0 && dia_phase_at(ms, (uint32_t)text->form.blink_ms) >> 31;
}

void dia_text_columns(const struct dia_text *text, const struct dia_screen *screen, uint32_t ms,
                      uint16_t first, uint16_t n, uint16_t top, uint8_t *out)
{
    struct canvas canvas = {first, n, top, out, NULL, text->form.outline != 0, 0};
    uint8_t rows = (uint8_t)(screen->rows <= top       ? 0
                             : screen->rows - top >= 8 ? 255
                                                       : (1u << (screen->rows - top)) - 1u);
    memset(out, 0, n);
    if (text->says && text->face && !is_out(text, ms)) {
        struct measure measure;
        struct stand stand;
        dia_measure_of(&measure, text, text->face, screen);
        dia_stand_of(&stand, &measure, text, screen, ms);
        draw(&canvas, &measure, text, &stand);
        if (text->form.outline) {
            canvas.wider = 0;
            canvas.clears = 1;
            draw(&canvas, &measure, text, &stand);
        }
    }
    for (uint16_t k = 0; k < n && (rows != 255 || text->form.inverted); k++)
        out[k] = (uint8_t)((text->form.inverted ? ~out[k] : out[k]) & rows);
}

static void cells(const struct dia_text *text, const struct dia_screen *screen, uint32_t ms,
                  uint16_t row, uint16_t first, uint16_t n, uint16_t *out, uint8_t merged)
{
    const struct canvas canvas = {first, n, row, NULL, out, 0, 0};
    for (uint16_t k = 0; k < n; k++)
        out[k] = ' ';
    if (!text->says || is_out(text, ms))
        return;
    struct measure measure;
    struct stand stand;
    dia_measure_of(&measure, text, NULL, screen);
    measure.merged = merged;
    dia_stand_of(&stand, &measure, text, screen, ms);
    /* one row of lines that are one row high */
    int32_t number = row - stand.y;
    if (stand.again_y && number < 0)
        number += stand.again_y;
    struct line line = {NULL, NULL, stand.from, 0};
    if (number < 0 || number >= stand.lines)
        return;
    for (int32_t k = 0; k <= number; k++)
        dia_line_at(&line, &measure, line.next);
    stand.from = line.at;
    stand.lines = 1;
    stand.y = row;
    stand.again_y = 0;
    draw(&canvas, &measure, text, &stand);
}

void dia_text_cells(const struct dia_text *text, const struct dia_screen *screen, uint32_t ms,
                    uint16_t row, uint16_t *out)
{
    cells(text, screen, ms, row, 0, screen->columns, out, 0);
}

void dia_text_digits(const struct dia_text *text, const struct dia_screen *screen, uint32_t ms,
                     uint16_t row, uint16_t *out)
{
    cells(text, screen, ms, row, 0, screen->columns, out, 1);
}

void dia_text_segments(const struct dia_text *text, const struct dia_screen *screen, uint32_t ms,
                       uint16_t row, uint8_t *out)
{
    uint16_t codes[DIA_RUN];
    for (uint16_t first = 0, n; first < screen->columns; first = (uint16_t)(first + n)) {
        n = (uint16_t)(screen->columns - first);
        n = n < DIA_RUN ? n : DIA_RUN;
        cells(text, screen, ms, row, first, n, codes, 1);
        for (uint16_t k = 0; k < n; k++) {
            uint16_t code = codes[k] & (uint16_t)~DIA_CELL_POINT;
            uint8_t segments = code < 128 ? dia_segments_of((char)code) : 0;
            *out++ = (uint8_t)(segments | (codes[k] & DIA_CELL_POINT ? 128u : 0u));
        }
    }
}

struct dia_text_extent dia_text_extent_of(const struct dia_text *text,
                                          const struct dia_screen *screen)
{
    struct dia_text_extent extent = {0, 0};
    struct measure measure;
    struct stand stand;
    if (!text->says)
        return extent;
    dia_measure_of(&measure, text, text->face, screen);
    dia_stand_all(&stand, &measure, text);
    extent.columns = (uint32_t)stand.width;
    extent.rows = (uint32_t)stand.height;
    return extent;
}
