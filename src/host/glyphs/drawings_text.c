/* SPDX-License-Identifier: MIT */
#include <ctype.h>
#include <stdarg.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/colour_text.h>
#include <diachrome/nearest.h>
#include <diachrome/quantity.h>

#include "glyphs_private.h"
#include "host_private.h"

/* Our own format: docs/drawings.md. */

#define MOST_WORDS 4
#define MOST_LINES 4000000u

struct reader {
    struct dia_drawings *to;
    const char *name;
    char *copy;   /* of all of it; lines end with a zero, without spaces at their ends */
    char **lines; /* where each begins */
    uint32_t count;
    uint32_t at; /* the line that is read next */
    char *words[MOST_WORDS];
    int word_count;
    struct dia_diagnostic *wrong;
};

/* Says what is wrong in the line that was read last. */
static enum dia_status say(const struct reader *r, size_t column, const char *format, ...)
    __attribute__((format(printf, 3, 4)));

static enum dia_status say(const struct reader *r, size_t column, const char *format, ...)
{
    char what[300];
    va_list args;
    va_start(args, format);
    vsnprintf(what, sizeof what, format, args);
    va_end(args);
    return dia_host_wrong(r->wrong, "%s:%u:%u: %s", r->name, (unsigned)r->at, (unsigned)column + 1,
                          what);
}

/* In characters, from 0. */
static size_t column_of(const struct reader *r, const char *at)
{
    size_t n = 0;
    for (const char *c = r->lines[r->at - 1]; c < at; c++)
        n += ((uint8_t)*c & 0xc0) != 0x80;
    return n;
}

static char *next_line(struct reader *r)
{
    return r->at < r->count ? r->lines[r->at++] : NULL;
}

static enum dia_status take_apart(struct reader *r, const char *text, size_t size)
{
    if (size >= 3 && memcmp(text, "\xef\xbb\xbf", 3) == 0) { /* some editors begin so */
        text += 3;
        size -= 3;
    }
    if (size && memchr(text, 0, size))
        return dia_host_wrong(r->wrong, "%s: is no text; it has bytes that are 0", r->name);
    size_t lines = 1;
    for (size_t k = 0; k < size; k++)
        lines += text[k] == '\n';
    if (lines > MOST_LINES)
        return dia_host_wrong(r->wrong, "%s: a file of drawings has at most %u lines", r->name,
                              MOST_LINES);
    r->copy = malloc(size + 1);
    r->lines = malloc(lines * sizeof *r->lines);
    if (!r->copy || !r->lines) {
        dia_host_wrong(r->wrong, "%s: out of memory", r->name);
        return DIA_PORT_FAILED;
    }
    memcpy(r->copy, text, size);
    r->copy[size] = 0;
    for (char *at = r->copy, *end = r->copy + size; at <= end;) {
        char *newline = memchr(at, '\n', (size_t)(end - at)), *stop = newline ? newline : end;
        r->lines[r->count++] = at;
        at = stop + 1;
        while (stop > r->lines[r->count - 1] &&
               (stop[-1] == ' ' || stop[-1] == '\t' || stop[-1] == '\r'))
            stop--;
        *stop = 0;
    }
    return DIA_OK;
}

/* ---- rows of dots ---------------------------------------------------------------------------- */

/* Dots of a row; each is a key, or dark. */
static enum dia_status read_row(struct reader *r, const char *at, int is_glyph, uint8_t *cells,
                                size_t *columns)
{
    for (*columns = 0; *at; (*columns)++) {
        uint16_t sign = dia_utf8_next(&at);
        uint32_t k = 0;
        char text[8];
        while (k < r->to->colour_count && r->to->keys[k] != sign)
            k++;
        if (is_glyph && sign != '#' && sign != '.')
            return say(r, *columns, "'%s' is no dot of a glyph; write '#' for lit and '.' for dark",
                       dia_sign_text(sign, text));
        if (sign != '.' && k == r->to->colour_count)
            return say(r, *columns,
                       "'%s' stands for no colour; write 'key %s COLOUR' before the drawing",
                       dia_sign_text(sign, text), text);
        if (*columns == DIA_DRAWING_SIDE)
            return say(r, *columns, "a drawing is at most %d dots wide", DIA_DRAWING_SIDE);
        if (cells)
            cells[*columns] = (uint8_t)(sign == '.' ? 0 : k + 1);
    }
    return DIA_OK;
}

/* The rows of one frame, up to an empty line or the end: into cells, or only counted. */
static enum dia_status read_frame(struct reader *r, struct dia_dots *like, uint8_t *cells)
{
    size_t columns = 0, rows = 0;
    for (; r->at < r->count && r->lines[r->at][0]; rows++) {
        const char *line = next_line(r);
        enum dia_status status = read_row(r, line, like->code != 0,
                                          cells ? cells + rows * like->columns : NULL, &columns);
        if (status != DIA_OK)
            return status;
        if (rows == DIA_DRAWING_SIDE)
            return say(r, 0, "a drawing is at most %d dots high", DIA_DRAWING_SIDE);
        if (like->columns && columns != like->columns)
            return say(r, columns < like->columns ? columns : like->columns,
                       "this row has %u dots; those above have %u", (unsigned)columns,
                       like->columns);
        like->columns = (uint8_t)columns;
    }
    if (rows == 0 || (like->rows && rows != like->rows)) {
        r->at += r->at < r->count;
        return rows == 0 ? say(r, 0, "the rows of the drawing are missing here")
                         : say(r, 0, "this drawing has %u rows; it should have %u", (unsigned)rows,
                               like->rows);
    }
    like->rows = (uint8_t)rows;
    return DIA_OK;
}

/* Goes to the next frame: 1, or 0 where there is none. */
static int another_frame(struct reader *r)
{
    uint32_t at = r->at;
    while (at < r->count && !r->lines[at][0])
        at++;
    if (at == r->count || strcmp(r->lines[at], "frame") != 0)
        return 0;
    r->at = at + 1;
    return 1;
}

/* All frames: first they are counted, then read. */
static enum dia_status read_frames(struct reader *r, struct dia_dots like)
{
    uint32_t begin = r->at;
    do {
        enum dia_status status = read_frame(r, &like, NULL);
        if (status != DIA_OK)
            return status;
        if (++like.frames > 255)
            return say(r, 0, "a drawing has at most 255 frames");
        if (like.code && like.frames > 1)
            return say(r, 0, "a glyph has one frame");
    } while (another_frame(r));
    enum dia_status status = dia_drawings_add(r->to, r->name, like, r->wrong);
    if (status != DIA_OK)
        return status;
    uint8_t *cells = r->to->items[r->to->count - 1].cells;
    r->at = begin;
    for (uint32_t k = 0; k < like.frames && status == DIA_OK; k++) {
        status = read_frame(r, &like, cells + k * like.rows * like.columns);
        r->to->items[r->to->count - 1].lines = r->at - like.line + 1;
        another_frame(r);
    }
    return status;
}

/* ---- all other lines ------------------------------------------------------------------------- */

static enum dia_status split(struct reader *r, char *at)
{
    r->word_count = 0;
    for (at += strspn(at, " \t"); *at; at += strspn(at, " \t")) {
        if (r->word_count == MOST_WORDS)
            return say(r, 0, "there are too many words in this line");
        r->words[r->word_count++] = at;
        at += strcspn(at, " \t");
        if (*at)
            *at++ = 0;
    }
    return DIA_OK;
}

static enum dia_status take_name(struct reader *r, char name[DIA_DRAWING_NAME])
{
    const char *word = r->words[1];
    size_t n = strlen(word), column = column_of(r, word);
    if (isdigit((unsigned char)word[0]))
        return say(r, column, "a name begins with a letter; found '%.40s'", word);
    for (size_t k = 0; k < n; k++) {
        if (!isalnum((unsigned char)word[k]) && word[k] != '_')
            return say(r, column, "a name has letters, digits and '_'; found '%.40s'", word);
    }
    if (n >= DIA_DRAWING_NAME)
        return say(r, column, "a name has at most %d letters", DIA_DRAWING_NAME - 1);
    memcpy(name, word, n + 1);
    return DIA_OK;
}

/* A whole number of the face. */
static enum dia_status take_number(struct reader *r, int32_t min, int32_t max, uint8_t *to)
{
    struct dia_diagnostic why = {""};
    char what[24];
    int64_t value;
    snprintf(what, sizeof what, "'%s'", r->words[0]);
    if (dia_quantity_read(r->words[1], DIA_NUMBER, min, max, what, &value, &why) != DIA_OK)
        return say(r, column_of(r, r->words[1]), "%s", why.text);
    *to = (uint8_t)value;
    return DIA_OK;
}

static enum dia_status take_key(struct reader *r)
{
    struct dia_diagnostic why = {""};
    struct dia_drawings *to = r->to;
    const char *sign = r->words[1];
    uint32_t k = 0;
    if (r->word_count != 3)
        return say(r, 0, "write a key like this: key r red");
    uint16_t code = dia_sign_read(sign);
    char shown[8];
    /* one that is written as U+0000 could not stand for a dot in a row */
    if (code == 0 || code == '.' || strlen(dia_sign_text(code, shown)) >= 6)
        return say(r, column_of(r, sign), "a key is one character, and not '.'; found '%.40s'",
                   sign);
    while (k < to->colour_count && to->keys[k] != code)
        k++;
    if (k == to->colour_count && to->colour_count == 255)
        return say(r, 0, "drawings have at most 255 colours");
    if (k == to->colour_count)
        to->colour_count++;
    else if (code != '#' || to->count)
        return say(r, column_of(r, sign), "the key '%s' has a colour already", sign);
    to->keys[k] = code;
    to->key_lines[k] = r->at;
    if (dia_colour_read(r->words[2], &to->colours[k], &why) != DIA_OK)
        return say(r, column_of(r, r->words[2]), "%s", why.text);
    return DIA_OK;
}

static enum dia_status take_glyph(struct reader *r)
{
    struct dia_dots like = {.line = r->at, .code = dia_sign_read(r->words[1])};
    if (!r->to->face[0])
        return say(r, 0, "a glyph belongs to a face; begin with 'face NAME'");
    if (!r->to->rows)
        return say(r, 0, "say how high the glyphs are, such as 'rows 8', before the first of them");
    if (like.code == 0)
        return say(r, column_of(r, r->words[1]),
                   "a glyph is one sign, such as A or U+0041; found '%.40s'", r->words[1]);
    like.rows = r->to->rows;
    return read_frames(r, like);
}

static enum dia_status take_drawing(struct reader *r)
{
    struct dia_dots like = {.line = r->at, .each_ms = 200};
    struct dia_diagnostic why = {""};
    int64_t each;
    enum dia_status status = take_name(r, like.name);
    if (status != DIA_OK)
        return status;
    if (r->word_count > 2) {
        if (dia_quantity_read(r->words[2], DIA_TIME, 1, 60000, "the time of a frame", &each,
                              &why) != DIA_OK)
            return say(r, column_of(r, r->words[2]), "%s", why.text);
        like.each_ms = (uint16_t)each;
    }
    return read_frames(r, like);
}

enum { FACE, ROWS, BASELINE, SPACING, LEADING, CAPITALS, KEY, GLYPH, DRAWING, FRAME };
static const char *const words[] = {"face", "rows",  "baseline", "spacing", "leading", "capitals",
                                    "key",  "glyph", "drawing",  "frame",   NULL};

static enum dia_status take_line(struct reader *r)
{
    struct dia_drawings *to = r->to;
    int which = 0;
    while (words[which] && strcmp(words[which], r->words[0]) != 0)
        which++;
    if (!words[which]) {
        const char *near = dia_nearest(r->words[0], words);
        return near
                   ? say(r, 0, "'%.40s' has no meaning here; did you mean '%s'?", r->words[0], near)
                   : say(r, 0,
                         "'%.40s' has no meaning here; rows of dots come behind 'drawing NAME' or "
                         "'glyph SIGN'",
                         r->words[0]);
    }
    if (which == FRAME)
        return say(r, 0, "a frame goes on with a drawing; there is none before it");
    if (which != CAPITALS && r->word_count < 2)
        return say(r, 0, "'%s' needs something behind it", words[which]);
    if (r->word_count > (which == CAPITALS ? 1 : which == DRAWING || which == KEY ? 3 : 2))
        return say(r, column_of(r, r->words[r->word_count - 1]), "'%.40s' has no meaning here",
                   r->words[r->word_count - 1]);
    if (which < KEY && which != FACE && to->count)
        return say(r, 0, "'%s' comes before the first glyph", words[which]);
    switch (which) {
    case FACE:
        return to->face[0] ? say(r, 0, "a file has one face; this one has %s already", to->face)
                           : take_name(r, to->face);
    case ROWS:
        return take_number(r, 1, DIA_FACE_ROWS, &to->rows);
    case BASELINE:
        return take_number(r, 1, DIA_FACE_ROWS, &to->baseline);
    case SPACING:
        return take_number(r, 0, 32, &to->spacing);
    case LEADING:
        return take_number(r, 0, 32, &to->leading);
    case CAPITALS:
        to->capitals = 1;
        return DIA_OK;
    case KEY:
        return take_key(r);
    case GLYPH:
        return take_glyph(r);
    default:
        return take_drawing(r);
    }
}

static enum dia_status take_lines(struct reader *r)
{
    enum dia_status status = DIA_OK;
    for (char *line; status == DIA_OK && (line = next_line(r)) != NULL;) {
        if (line[0] == '#')
            continue;
        status = split(r, line);
        if (status == DIA_OK && r->word_count)
            status = take_line(r);
    }
    if (status != DIA_OK)
        return status;
    if (r->to->face[0] && r->to->baseline > r->to->rows)
        return dia_host_wrong(r->wrong, "%s: baseline %u is below the %u rows of the face", r->name,
                              r->to->baseline, r->to->rows);
    if (r->to->count == 0)
        return dia_host_wrong(r->wrong,
                              "%s: there is no drawing; one begins with 'drawing NAME' or, in a "
                              "face, 'glyph SIGN'",
                              r->name);
    enum dia_status sorted = dia_drawings_sort(r->to, r->name, r->wrong);
    if (sorted == DIA_OK && r->to->face[0] && !r->to->items[r->to->count - 1].code)
        return dia_host_wrong(r->wrong,
                              "%s: the face %s has no glyph; one begins with 'glyph SIGN'", r->name,
                              r->to->face);
    return sorted;
}

enum dia_status dia_drawings_read(struct dia_drawings *drawings, const char *name, const char *text,
                                  size_t size, struct dia_diagnostic *wrong)
{
    struct reader r = {.to = drawings, .name = name, .wrong = wrong};
    dia_drawings_init(drawings);
    enum dia_status status = take_apart(&r, text, size);
    if (status == DIA_OK)
        status = take_lines(&r);
    if (status == DIA_OK && !drawings->baseline)
        drawings->baseline = drawings->rows;
    free(r.copy);
    free(r.lines);
    if (status != DIA_OK)
        dia_drawings_free(drawings);
    return status;
}
