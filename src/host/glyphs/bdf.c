/* SPDX-License-Identifier: MIT */
#include <ctype.h>
#include <stdlib.h>
#include <string.h>

#include "glyphs_private.h"
#include "host_private.h"

/* Glyph Bitmap Distribution Format, version 2.2 (Adobe, 1993): fonts of dots as text. */

#define MOST_LINE 400

struct reader {
    struct dia_drawings *to;
    const char *name, *at, *end;
    char line[MOST_LINE]; /* without its end */
    uint32_t number;
    struct dia_diagnostic *wrong;
    int counting;      /* 1: only heights are looked at */
    int above, below;  /* rows over and under the baseline that anything takes */
    int code, advance; /* of the glyph that is read; code -1: none that is kept */
    int box[4];        /* its width, height, left and bottom */
    uint32_t row, column;
};

static enum dia_status wrong_here(const struct reader *r, const char *what)
{
    return dia_host_wrong(r->wrong, "%s:%u:1: %s; found '%.40s'", r->name, r->number, what,
                          r->line);
}

static int next_line(struct reader *r)
{
    size_t n = 0;
    if (r->at >= r->end)
        return 0;
    for (; r->at < r->end && *r->at != '\n'; r->at++) {
        if (n < MOST_LINE - 1 && *r->at != '\r')
            r->line[n++] = *r->at ? *r->at : '?';
    }
    r->at++;
    r->line[n] = 0;
    r->number++;
    return 1;
}

/* What is behind a keyword, or NULL: the line has another one. */
static const char *behind(const struct reader *r, const char *keyword)
{
    size_t n = strlen(keyword);
    if (strncmp(r->line, keyword, n) != 0 || (r->line[n] && r->line[n] != ' '))
        return NULL;
    return r->line + n + strspn(r->line + n, " ");
}

/* Whole numbers of -9999 to 65535, n of them: 1, or 0 when they are not there. */
static int numbers(const char *text, int n, int *out)
{
    for (int k = 0; k < n; k++) {
        char *end;
        long value = strtol(text, &end, 10);
        if (end == text || value < -9999 || value > 1114111)
            return 0;
        out[k] = (int)value;
        text = end;
    }
    return 1;
}

static int hex(char c)
{
    return isdigit((unsigned char)c) ? c - '0' : tolower((unsigned char)c) - 'a' + 10;
}

/* A row of the glyph: two hexadecimal digits for eight dots. */
static enum dia_status take_row(struct reader *r, struct dia_dots *glyph, int row)
{
    int left = r->box[2] < 0 ? 0 : r->box[2];
    size_t digits = strspn(r->line, "0123456789abcdefABCDEF");
    if (digits * 4 < (size_t)r->box[0] || r->line[digits + strspn(r->line + digits, " ")])
        return wrong_here(r, "a row of the bitmap has two hexadecimal digits for each 8 dots");
    for (int x = 0; glyph && x < r->box[0]; x++)
        glyph->cells[row * glyph->columns + left + x] =
            (uint8_t)(hex(r->line[x / 4]) >> (3 - x % 4) & 1);
    return DIA_OK;
}

static enum dia_status begin_glyph(struct reader *r, struct dia_dots **glyph)
{
    int left = r->box[2] < 0 ? 0 : r->box[2], columns = left + r->box[0];
    columns = columns > r->advance ? columns : r->advance;
    struct dia_dots like = {
        .code = (uint16_t)r->code, .rows = r->to->rows, .frames = 1, .line = r->number};
    if (columns > DIA_DRAWING_SIDE)
        return wrong_here(r, "a glyph is at most 255 dots wide");
    like.columns = (uint8_t)(columns < 1 ? 1 : columns);
    enum dia_status status = dia_drawings_add(r->to, r->name, like, r->wrong);
    if (status == DIA_OK)
        *glyph = &r->to->items[r->to->count - 1];
    return status;
}

static enum dia_status take_bitmap(struct reader *r)
{
    struct dia_dots *glyph = NULL;
    enum dia_status status = DIA_OK;
    int top = r->box[3] + r->box[1], kept = r->code > 0 && r->code <= 0xffff;
    if (kept && r->counting) {
        r->above = top > r->above ? top : r->above;
        r->below = -r->box[3] > r->below ? -r->box[3] : r->below;
    } else if (kept) {
        status = begin_glyph(r, &glyph);
    }
    for (int row = 0; status == DIA_OK && row < r->box[1]; row++) {
        if (!next_line(r) || behind(r, "ENDCHAR"))
            return wrong_here(r, "the bitmap has fewer rows than its box is high");
        status = take_row(r, glyph, r->above - top + row);
    }
    return status;
}

static void take_name(struct reader *r, const char *font)
{
    size_t n = 0;
    for (; *font && n < DIA_DRAWING_NAME - 1; font++) {
        if (isalnum((unsigned char)*font))
            r->to->face[n++] = *font;
        else if (n && r->to->face[n - 1] != '_')
            r->to->face[n++] = '_';
    }
    while (n && r->to->face[n - 1] == '_')
        n--;
    r->to->face[n] = 0;
    if (!isalpha((unsigned char)r->to->face[0]))
        strcpy(r->to->face, "face");
}

static void begin_character(struct reader *r)
{
    r->code = -1;
    r->advance = 0;
    memset(r->box, 0, sizeof r->box);
}

static enum dia_status take_line(struct reader *r)
{
    const char *rest;
    int value[4];
    if ((rest = behind(r, "FONT")) != NULL)
        take_name(r, rest);
    else if ((rest = behind(r, "FONT_ASCENT")) != NULL && numbers(rest, 1, value))
        r->above = value[0] > r->above ? value[0] : r->above;
    else if ((rest = behind(r, "FONT_DESCENT")) != NULL && numbers(rest, 1, value))
        r->below = value[0] > r->below ? value[0] : r->below;
    else if (behind(r, "STARTCHAR"))
        begin_character(r);
    else if ((rest = behind(r, "ENCODING")) != NULL && !numbers(rest, 1, &r->code))
        return wrong_here(r, "ENCODING needs the number of a code point");
    else if ((rest = behind(r, "DWIDTH")) != NULL && !numbers(rest, 1, &r->advance))
        return wrong_here(r, "DWIDTH needs a whole number");
    else if ((rest = behind(r, "BBX")) != NULL) {
        if (!numbers(rest, 4, r->box) || r->box[0] < 0 || r->box[1] < 0 || r->box[0] > 255 ||
            r->box[1] > 255 || r->box[2] > 255 || abs(r->box[3]) > 255)
            return wrong_here(r, "BBX needs width, height, left and bottom, 255 at most");
    } else if (behind(r, "BITMAP"))
        return take_bitmap(r);
    return DIA_OK;
}

static enum dia_status pass(struct reader *r, const char *text)
{
    enum dia_status status = DIA_OK;
    r->at = text;
    r->number = 0;
    begin_character(r);
    if (!next_line(r) || !behind(r, "STARTFONT"))
        return wrong_here(r, "a .bdf begins with 'STARTFONT 2.1' or 2.2");
    while (status == DIA_OK && next_line(r))
        status = take_line(r);
    return status;
}

enum dia_status dia_bdf_read(struct dia_drawings *drawings, const char *name, const char *text,
                             size_t size, struct dia_diagnostic *wrong)
{
    struct reader r = {
        .to = drawings, .name = name, .end = text + size, .wrong = wrong, .counting = 1};
    dia_drawings_init(drawings);
    enum dia_status status = pass(&r, text);
    if (status == DIA_OK && (r.above + r.below < 1 || r.above + r.below > DIA_FACE_ROWS))
        status = dia_host_wrong(wrong, "%s: a face is 1 to %d dots high; this one is %d", name,
                                DIA_FACE_ROWS, r.above + r.below);
    if (status == DIA_OK) {
        drawings->rows = (uint8_t)(r.above + r.below);
        drawings->baseline = (uint8_t)(r.above < 1 ? 1 : r.above);
        r.counting = 0;
        status = pass(&r, text);
    }
    if (status == DIA_OK && drawings->count == 0)
        status = dia_host_wrong(wrong, "%s: there is no glyph with a code point in it", name);
    if (status == DIA_OK)
        status = dia_drawings_sort(drawings, name, wrong);
    if (status != DIA_OK)
        dia_drawings_free(drawings);
    else if (!drawings->face[0])
        strcpy(drawings->face, "face");
    return status;
}

void dia_bdf_write(const struct dia_drawings *drawings, FILE *out)
{
    int below = drawings->rows - drawings->baseline, glyphs = 0, widest = 0;
    for (uint32_t k = 0; k < drawings->count; k++) {
        const struct dia_dots *item = &drawings->items[k];
        glyphs += item->code != 0;
        widest = item->code && item->columns > widest ? item->columns : widest;
    }
    fprintf(out,
            "STARTFONT 2.2\nFONT %s\nSIZE %u 75 75\nFONTBOUNDINGBOX %d %u 0 %d\n"
            "STARTPROPERTIES 2\nFONT_ASCENT %u\nFONT_DESCENT %d\nENDPROPERTIES\nCHARS %d\n",
            drawings->face, drawings->rows, widest, drawings->rows, -below, drawings->baseline,
            below, glyphs);
    for (uint32_t k = 0; k < drawings->count; k++) {
        const struct dia_dots *item = &drawings->items[k];
        if (!item->code)
            continue;
        uint32_t advance = (uint32_t)item->columns + drawings->spacing;
        fprintf(out,
                "STARTCHAR U+%04X\nENCODING %u\nSWIDTH %u 0\nDWIDTH %u 0\nBBX %u %u 0 %d\nBITMAP\n",
                item->code, item->code, advance * 1000u / drawings->rows, advance, item->columns,
                item->rows, -below);
        for (uint32_t row = 0; row < item->rows; row++) {
            for (uint32_t x = 0; x < item->columns; x += 8) {
                unsigned bits = 0;
                for (uint32_t i = x; i < x + 8 && i < item->columns; i++)
                    bits |= (item->cells[row * item->columns + i] != 0) * (128u >> (i - x));
                fprintf(out, "%02X", bits);
            }
            fputc('\n', out);
        }
        fputs("ENDCHAR\n", out);
    }
    fputs("ENDFONT\n", out);
}
