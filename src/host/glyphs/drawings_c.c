/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include "glyphs_private.h"

/* Drawings as tables in C: each with its dots as a comment above it. */

/* Glyphs that follow each other, from one on. */
/* How many glyphs follow each other from there on, as far as they are one run of a face. */
static uint32_t run_of(const struct dia_drawings *drawings, uint32_t first)
{
    uint32_t k = first + 1, bytes = (drawings->rows + 7u) / 8u;
    uint32_t size = drawings->items[first].columns * bytes;
    for (; k < drawings->count && drawings->items[k].code == drawings->items[k - 1].code + 1; k++) {
        size += drawings->items[k].columns * bytes;
        if (size > UINT16_MAX)
            break;
    }
    return k - first;
}

static uint32_t first_glyph(const struct dia_drawings *drawings)
{
    uint32_t k = 0;
    while (k < drawings->count && drawings->items[k].code == 0)
        k++;
    return k;
}

static uint32_t column_bits(const struct dia_dots *glyph, uint32_t column)
{
    uint32_t bits = 0;
    for (uint32_t row = 0; row < glyph->rows; row++)
        bits |= (uint32_t)(glyph->cells[row * glyph->columns + column] != 0) << row;
    return bits;
}

/* ---- a face in memory -------------------------------------------------------------------------
 */

struct dia_face *dia_drawings_face(const struct dia_drawings *drawings)
{
    uint32_t begin = first_glyph(drawings), runs = 0, columns = 0, glyphs = drawings->count - begin;
    uint32_t bytes = (drawings->rows + 7u) / 8u;
    for (uint32_t k = begin; k < drawings->count; k += run_of(drawings, k))
        runs++;
    for (uint32_t k = begin; k < drawings->count; k++)
        columns += drawings->items[k].columns;
    struct memory {
        struct dia_face face;
        struct dia_glyphs of[];
    } * memory;
    size_t tables = sizeof *memory + runs * sizeof *memory->of;
    memory = malloc(tables + (glyphs + runs) * sizeof(uint16_t) + columns * bytes);
    if (!memory)
        return NULL;
    uint16_t *starts = (uint16_t *)((char *)memory + tables);
    uint8_t *bits = (uint8_t *)(starts + glyphs + runs);
    memory->face = (struct dia_face){drawings->rows,    drawings->baseline, drawings->spacing,
                                     drawings->leading, drawings->capitals, (uint16_t)runs,
                                     memory->of};
    struct dia_glyphs *of = memory->of;
    for (uint32_t k = begin, n; k < drawings->count; k += n, of++) {
        uint16_t at = 0;
        n = run_of(drawings, k);
        *of = (struct dia_glyphs){drawings->items[k].code, (uint16_t)n, starts, bits};
        for (uint32_t i = k; i < k + n; i++) {
            const struct dia_dots *glyph = &drawings->items[i];
            *starts++ = at;
            at = (uint16_t)(at + glyph->columns);
            for (uint32_t column = 0; column < glyph->columns; column++) {
                for (uint32_t b = 0; b < bytes; b++)
                    *bits++ = (uint8_t)(column_bits(glyph, column) >> (8 * b));
            }
        }
        *starts++ = at;
    }
    return &memory->face;
}

void dia_drawings_face_free(struct dia_face *face)
{
    free(face);
}

/* ---- a face in C ------------------------------------------------------------------------------
 */

#define WIDE 92 /* of a line of the file */

/* Numbers with commas, in lines. */
struct list {
    FILE *out;
    int used;
};

static void list_add(struct list *list, const char *format, unsigned value)
{
    char text[16];
    int n = snprintf(text, sizeof text, format, value);
    if (list->used == 0 || list->used + n + 2 > WIDE)
        list->used = fprintf(list->out, "%s   ", list->used ? "\n" : "") - (list->used != 0);
    list->used += fprintf(list->out, " %s,", text);
}

/* How many glyphs lie side by side in a comment. */
static uint32_t beside(const struct dia_drawings *drawings, uint32_t first, uint32_t end)
{
    uint32_t k = first, wide = 8;
    for (; k < end; k++) {
        uint32_t columns = drawings->items[k].columns;
        wide += (columns > 6 ? columns : 6) + 1u;
        if (wide > WIDE && k != first)
            break;
    }
    return k - first;
}

static void pad(FILE *out, uint32_t from, uint32_t to)
{
    for (; from < to; from++)
        fputc(' ', out);
}

/* Nothing ends a comment but its end. */
static const char *harmless(uint16_t code, char sign[8])
{
    if (code == '*' || code == '/' || code == '\\')
        snprintf(sign, 8, "U+%04X", code);
    else
        dia_sign_text(code, sign);
    return sign;
}

static void write_comment(const struct dia_drawings *drawings, uint32_t first, uint32_t n,
                          FILE *out)
{
    char sign[8];
    fputs("    /*", out);
    for (uint32_t k = first; k < first + n; k++) {
        uint32_t columns = drawings->items[k].columns, wide = columns > 6 ? columns : 6;
        const char *name = harmless(drawings->items[k].code, sign);
        fprintf(out, " %s", name);
        if (k + 1 < first + n)
            pad(out, strlen(name) > 3 ? (uint32_t)strlen(name) : 1, wide);
    }
    for (uint32_t row = 0; row < drawings->rows; row++) {
        fputs("\n      ", out);
        for (uint32_t k = first; k < first + n; k++) {
            const struct dia_dots *glyph = &drawings->items[k];
            fputc(' ', out);
            for (uint32_t column = 0; column < glyph->columns; column++)
                fputc(glyph->cells[row * glyph->columns + column] ? '#' : '.', out);
            if (k + 1 < first + n)
                pad(out, glyph->columns, glyph->columns > 6 ? glyph->columns : 6);
        }
    }
    fputs(" */\n", out);
}

static void write_columns(const struct dia_drawings *drawings, uint32_t first, uint32_t n,
                          FILE *out)
{
    struct list list = {out, 0};
    uint32_t bytes = (drawings->rows + 7u) / 8u;
    for (uint32_t k = first; k < first + n; k++) {
        for (uint32_t column = 0; column < drawings->items[k].columns; column++) {
            for (uint32_t b = 0; b < bytes; b++)
                list_add(&list, "0x%02x",
                         column_bits(&drawings->items[k], column) >> (8 * b) & 0xff);
        }
    }
    if (list.used)
        fputc('\n', out);
}

static void write_run(const struct dia_drawings *drawings, uint32_t first, uint32_t n, FILE *out)
{
    struct list list = {out, 0};
    const char *name = drawings->face;
    unsigned code = drawings->items[first].code, at = 0;
    fprintf(out, "static const DIA_ROM uint8_t %s_columns_%04x[] = {\n", name, code);
    for (uint32_t k = first, some; k < first + n; k += some) {
        some = beside(drawings, k, first + n);
        write_comment(drawings, k, some, out);
        write_columns(drawings, k, some, out);
    }
    fprintf(out, "};\nstatic const DIA_ROM uint16_t %s_starts_%04x[] = {\n", name, code);
    for (uint32_t k = first; k < first + n; k++) {
        list_add(&list, "%u", at);
        at += drawings->items[k].columns;
    }
    list_add(&list, "%u", at);
    fputs("\n};\n\n", out);
}

static void write_face(const struct dia_drawings *drawings, const char *kept, FILE *out)
{
    uint32_t begin = first_glyph(drawings), runs = 0;
    const char *name = drawings->face;
    for (uint32_t k = begin, n; k < drawings->count; k += n, runs++) {
        n = run_of(drawings, k);
        write_run(drawings, k, n, out);
    }
    fprintf(out, "static const DIA_ROM struct dia_glyphs %s_glyphs[] = {\n", name);
    for (uint32_t k = begin, n; k < drawings->count; k += n) {
        unsigned code = drawings->items[k].code;
        n = run_of(drawings, k);
        fprintf(out, "    {0x%04x, %u, %s_starts_%04x, %s_columns_%04x},\n", code, n, name, code,
                name, code);
    }
    fprintf(out,
            "};\n%sconst DIA_ROM struct dia_face %s = {\n"
            "    .rows = %u,\n    .baseline = %u,\n    .spacing = %u,\n    .leading = %u,\n"
            "    .capitals = %u,\n    .count = %u,\n    .glyphs = %s_glyphs,\n};\n",
            kept, name, drawings->rows, drawings->baseline, drawings->spacing, drawings->leading,
            drawings->capitals, runs, name);
}

/* ---- drawings in C ----------------------------------------------------------------------------
 */

/* On a character display: eight rows of five dots, bit 4 at the left. */
static void write_cell(const struct dia_dots *item, const char *kept, FILE *out)
{
    fprintf(out, "%sconst uint8_t %s_cell[8] = {", kept, item->name);
    for (uint32_t row = 0; row < 8; row++) {
        unsigned bits = 0;
        for (uint32_t column = 0; row < item->rows && column < item->columns; column++)
            bits |= (item->cells[row * item->columns + column] != 0) * (16u >> column);
        fprintf(out, "%s0x%02x", row ? ", " : "", bits);
    }
    fputs("};\n", out);
}

static void write_sprite(const struct dia_drawings *drawings, const struct dia_dots *item,
                         const char *kept, FILE *out)
{
    struct list list = {out, 0};
    uint32_t dots = (uint32_t)item->columns * item->rows;
    fprintf(out, "/* %s\n", item->name);
    for (uint32_t k = 0; k < dots * item->frames; k++) {
        char sign[8];
        if (k && k % dots == 0)
            fputs(" *\n", out);
        if (k % item->columns == 0)
            fputs(" * ", out);
        uint16_t key = item->cells[k] ? (uint16_t)drawings->keys[item->cells[k] - 1] : '.';
        fputs(key == '*' || key == '/' || key == '\\' ? "@" : dia_sign_text(key, sign), out);
        if ((k + 1) % item->columns == 0)
            fputc('\n', out);
    }
    fprintf(out, " */\nstatic const DIA_ROM uint8_t %s_dots[] = {\n", item->name);
    for (uint32_t k = 0; k < dots * item->frames; k++)
        list_add(&list, "%u", item->cells[k]);
    fprintf(out, "\n};\n%sconst struct dia_sprite %s = {%u, %u, %u, %u, %s_dots, %s_colours};\n",
            kept, item->name, item->columns, item->rows, item->frames, item->each_ms, item->name,
            drawings->items[0].name);
    if (item->columns <= 5 && item->rows <= 8)
        write_cell(item, kept, out);
    fputc('\n', out);
}

void dia_drawings_c_write(const struct dia_drawings *drawings, int in_header, FILE *out)
{
    const char *kept = in_header ? "static " : "";
    uint32_t drawn = first_glyph(drawings);
    fputs("/* Made of drawings by 'diachrome glyphs'. Change the drawings, not this file. */\n",
          out);
    fputs(in_header ? "#pragma once\n" : "", out);
    if (drawn)
        fputs("#include <diachrome/draw.h>\n", out);
    fputs("#include <diachrome/text.h>\n\n/* clang-format off */\n", out);
    if (drawn) {
        fprintf(out, "static const DIA_ROM struct dia_rgb %s_colours[] = {",
                drawings->items[0].name);
        for (uint32_t k = 0; k < drawings->colour_count; k++)
            fprintf(out, "%s{%u, %u, %u}", k ? ", " : "", drawings->colours[k].r,
                    drawings->colours[k].g, drawings->colours[k].b);
        fputs("};\n\n", out);
    }
    for (uint32_t k = 0; k < drawn; k++)
        write_sprite(drawings, &drawings->items[k], kept, out);
    if (drawn < drawings->count)
        write_face(drawings, kept, out);
}
