/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/letters.h>
#include <diachrome/text.h>

#include "characters_next.h"

#define BLOCK 0x2588u

/* ---- one cell -------------------------------------------------------------------------------- */

uint8_t dia_letters_rows(const DIA_ROM struct dia_face *face, uint16_t sign, uint8_t rows[8])
{
    struct dia_screen cell;
    struct dia_text text;
    uint8_t columns[5];
    char says[4];
    if (!dia_face_has(face, sign) || dia_face_width(face, sign) > 5)
        return 0;
    memset(&cell, 0, sizeof cell);
    memset(&text, 0, sizeof text);
    cell.columns = 5;
    cell.rows = 8;
    cell.pitch_um = 1000;
    text.says = dia_utf8_of(sign, says);
    text.face = face;
    text.form.align = DIA_TEXT_CENTRED;
    dia_text_columns(&text, &cell, 0, 0, 5, 0, columns);
    for (uint8_t row = 0; row < 8; row++) {
        rows[row] = 0;
        for (uint8_t k = 0; k < 5; k++)
            rows[row] = (uint8_t)(rows[row] << 1 | (columns[k] >> row & 1));
    }
    return 1;
}

static uint8_t is_place(const struct dia_characters *c, uint8_t column, uint8_t row)
{
    return column < c->setup.columns && row < c->setup.rows;
}

/* Where a sign goes, and from where it comes. */
struct pen {
    struct dia_characters *characters;
    const struct dia_letters *letters;
    uint8_t column, row;
};

static void put(const struct pen *at, uint8_t code)
{
    struct dia_characters *c = at->characters;
    if (is_place(c, at->column, at->row))
        c->driver.drawing[at->row * c->setup.columns + at->column] = code;
}

static enum dia_status put_block(const struct pen *at)
{
    int16_t code = dia_rom_code(at->letters->rom, BLOCK);
    put(at, (uint8_t)(code < 0 ? '?' : code));
    return DIA_UNSUPPORTED;
}

static enum dia_status put_rows(const struct pen *at, const uint8_t rows[8])
{
    struct dia_characters *c = at->characters;
    uint8_t code = 0;
    put(at, ' '); /* what stood there leaves its glyph */
    if (dia_characters_own(c, rows, dia_characters_shown(c, c->driver.drawing), &code) != DIA_OK)
        return put_block(at);
    put(at, code);
    return DIA_OK;
}

static enum dia_status put_sign(const struct pen *at, uint16_t sign)
{
    const struct dia_letters *letters = at->letters;
    int16_t code = dia_rom_code(letters->rom, sign);
    uint8_t rows[8];
    if (code >= 0) {
        put(at, (uint8_t)code);
        return DIA_OK;
    }
    for (uint8_t k = 0; k < letters->count; k++) {
        if (letters->glyphs[k].sign == sign)
            return put_rows(at, letters->glyphs[k].rows);
    }
    if (letters->face && dia_letters_rows(letters->face, sign, rows))
        return put_rows(at, rows);
    return put_block(at);
}

/* ---- fields ---------------------------------------------------------------------------------- */

/* So many rows of width cells become spaces, if they are on the display. */
static enum dia_status clear(struct pen at, uint8_t width, uint8_t rows)
{
    const struct dia_characters *c = at.characters;
    if (!is_place(c, at.column, at.row) || width > c->setup.columns - at.column || width == 0 ||
        rows > c->setup.rows - at.row)
        return DIA_BAD_VALUE;
    for (; rows; rows--, at.row++, at.column = (uint8_t)(at.column - width))
        for (uint8_t k = 0; k < width; k++, at.column++)
            put(&at, ' ');
    return DIA_OK;
}

static enum dia_status worse(enum dia_status a, enum dia_status b)
{
    return a != DIA_OK ? a : b;
}

enum dia_status dia_characters_write(struct dia_characters *c, const struct dia_letters *letters,
                                     uint8_t column, uint8_t row, uint8_t width, const char *text)
{
    struct pen at = {c, letters, column, row};
    enum dia_status status = clear(at, width, 1);
    if (status != DIA_OK)
        return status;
    for (; width && *text; width--, at.column++)
        status = worse(status, put_sign(&at, dia_utf8_next(&text)));
    return status;
}

enum dia_status dia_characters_draw(struct dia_characters *c, const struct dia_letters *letters,
                                    uint8_t column, uint8_t row, const uint8_t rows[8])
{
    const struct pen at = {c, letters, column, row};
    enum dia_status status = clear(at, 1, 1);
    return status == DIA_OK ? put_rows(&at, rows) : status;
}

/* ---- bars and tall numbers ------------------------------------------------------------------- */

/* Columns from the left, rows from first to last. */
static enum dia_status put_box(const struct pen *at, uint8_t columns, uint8_t first, uint8_t last)
{
    uint8_t rows[8], mask = (uint8_t)(31u << (5u - columns) & 31u);
    if (columns == 5 && first == 0 && last == 7 && dia_rom_code(at->letters->rom, BLOCK) >= 0)
        return put_sign(at, BLOCK);
    for (uint8_t k = 0; k < 8; k++)
        rows[k] = k >= first && k <= last ? mask : 0;
    return put_rows(at, rows);
}

enum dia_status dia_characters_bar(struct dia_characters *c, const struct dia_letters *letters,
                                   uint8_t column, uint8_t row, uint8_t width, dia_share share)
{
    struct pen at = {c, letters, column, row};
    enum dia_status status = share > DIA_SHARE_ONE ? DIA_BAD_VALUE : clear(at, width, 1);
    if (status != DIA_OK)
        return status;
    uint8_t lit = (uint8_t)(((uint32_t)share * width * 5u + DIA_SHARE_ONE / 2) / DIA_SHARE_ONE);
    for (; width && lit; width--, at.column++) {
        uint8_t columns = lit < 5 ? lit : 5;
        status = worse(status, put_box(&at, columns, 0, 7));
        lit = (uint8_t)(lit - columns);
    }
    return status;
}

/* What stands in the six cells of a tall digit, and of '-', upper row first. */
enum { O = DIA_TALL_BLANK, F = DIA_TALL_FULL, T = DIA_TALL_TOP, B = DIA_TALL_BOTTOM };
enum { D = DIA_TALL_BOTH };
static const DIA_ROM uint8_t digits[11][6] = {
    {F, T, F, F, B, F}, {T, F, O, B, F, B}, {D, D, F, F, B, B}, {D, D, F, B, B, F},
    {F, B, F, O, O, F}, {F, D, D, B, B, F}, {F, D, D, F, B, F}, {T, T, F, O, O, F},
    {F, D, F, F, B, F}, {F, D, F, B, B, F}, {B, B, B, O, O, O}};

uint8_t dia_tall_sign(uint16_t sign, uint8_t pieces[2][3])
{
    uint8_t digit = sign == '-' ? 10 : sign >= '0' && sign <= '9' ? (uint8_t)(sign - '0') : 11;
    for (uint8_t k = 0; k < 3; k++) {
        pieces[0][k] = digit < 11 ? digits[digit][k] : (uint8_t)DIA_TALL_BLANK;
        pieces[1][k] = digit < 11 ? digits[digit][k + 3] : (uint8_t)DIA_TALL_BLANK;
    }
    if (sign == ':')
        pieces[0][0] = DIA_TALL_POINT;
    if (sign == ':' || sign == '.')
        pieces[1][0] = DIA_TALL_POINT;
    return digit < 11 ? 3 : 1;
}

void dia_tall_rows(uint8_t piece, uint8_t rows[8])
{
    for (uint8_t k = 0; k < 8; k++) {
        uint8_t top = (k < 2), bottom = (k > 5);
        uint8_t lit = (uint8_t)(piece == DIA_TALL_FULL || (piece == DIA_TALL_TOP && top) ||
                                (piece == DIA_TALL_BOTTOM && bottom) ||
                                (piece == DIA_TALL_BOTH && (top || bottom)));
        rows[k] = piece == DIA_TALL_POINT && k > 2 && k < 6 ? 14 : lit ? 31 : 0;
    }
}

static enum dia_status put_piece(const struct pen *at, uint8_t piece)
{
    uint8_t rows[8];
    if (piece == DIA_TALL_BLANK)
        return DIA_OK;
    if (piece == DIA_TALL_FULL)
        return put_box(at, 5, 0, 7);
    dia_tall_rows(piece, rows);
    return put_rows(at, rows);
}

enum dia_status dia_characters_tall(struct dia_characters *c, const struct dia_letters *letters,
                                    uint8_t column, uint8_t row, uint8_t width, const char *text)
{
    struct pen at = {c, letters, column, row};
    enum dia_status status = clear(at, width, 2);
    uint16_t used = 0;
    if (status != DIA_OK)
        return status;
    while (*text) {
        uint8_t pieces[2][3], wide = dia_tall_sign(dia_utf8_next(&text), pieces);
        if (used + wide > width)
            break;
        for (uint8_t k = 0; k < 2 * wide; k++) {
            at.column = (uint8_t)(column + used + k % wide);
            at.row = (uint8_t)(row + k / wide);
            status = worse(status, put_piece(&at, pieces[k / wide][k % wide]));
        }
        used = (uint16_t)(used + wide + 1u);
    }
    return status;
}
