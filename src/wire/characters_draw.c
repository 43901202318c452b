/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/characters.h>

#include "characters_next.h"

static uint8_t is_place(const struct dia_characters *c, uint8_t column, uint8_t row)
{
    return column < c->setup.columns && row < c->setup.rows;
}

enum dia_status dia_characters_text(struct dia_characters *c, uint8_t column, uint8_t row,
                                    const char *text, uint8_t n)
{
    if (!is_place(c, column, row) || n > c->setup.columns - column)
        return DIA_BAD_VALUE;
    memcpy(c->driver.drawing + row * c->setup.columns + column, text, n);
    return DIA_OK;
}

enum dia_status dia_characters_place(struct dia_characters *c, uint8_t column, uint8_t row)
{
    if (!is_place(c, column, row))
        return DIA_BAD_VALUE;
    c->pen_column = column;
    c->pen_row = row;
    return DIA_OK;
}

enum dia_status dia_characters_put(struct dia_characters *c, uint8_t code)
{
    c->driver.drawing[c->pen_row * c->setup.columns + c->pen_column] = code;
    if (++c->pen_column == c->setup.columns) {
        c->pen_column = 0;
        if (++c->pen_row == c->setup.rows)
            c->pen_row = 0;
    }
    return DIA_OK;
}

enum dia_status dia_characters_glyph(struct dia_characters *c, uint8_t code, const uint8_t rows[8])
{
    if (code > 15)
        return DIA_BAD_VALUE;
    memcpy(c->glyph[code & 7u], rows, 8);
    c->glyphs = (uint8_t)(c->glyphs | 1u << (code & 7u));
    return DIA_OK;
}

uint8_t dia_characters_shown(const struct dia_characters *c, const uint8_t *cells)
{
    uint8_t shown = 0;
    for (uint8_t k = 0; k < c->setup.columns * c->setup.rows; k++) {
        if (cells[k] < 16)
            shown = (uint8_t)(shown | 1u << (cells[k] & 7u));
    }
    return shown;
}

enum dia_status dia_characters_own(struct dia_characters *c, const uint8_t rows[8], uint8_t busy,
                                   uint8_t *code)
{
    uint8_t drawn = c->glyphs | c->glyphs_defined, show = dia_characters_shown(c, c->taken),
            place = 8;
    for (uint8_t k = 0; k < 8; k++) {
        if (drawn >> k & 1 && memcmp(c->glyph[k], rows, 8) == 0) {
            *code = (uint8_t)(8 + k);
            return DIA_OK;
        }
        /* one that no cell shows yet is changed first: that takes no time of the display */
        if (!(busy >> k & 1) && (place == 8 || (show >> place & 1 && !(show >> k & 1))))
            place = k;
    }
    if (place == 8)
        return DIA_UNSUPPORTED;
    *code = (uint8_t)(8 + place);
    return dia_characters_glyph(c, place, rows);
}

enum dia_status dia_characters_cursor(struct dia_characters *c, uint8_t column, uint8_t row,
                                      uint8_t style)
{
    if (!is_place(c, column, row) || style > (DIA_CURSOR_BLOCK | DIA_CURSOR_UNDERLINE))
        return DIA_BAD_VALUE;
    c->cursor_column = column;
    c->cursor_row = row;
    c->cursor_style = style;
    return DIA_OK;
}
