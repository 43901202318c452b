/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include <diachrome/drawings.h>

/* Drawings as signs in texts: in Unicode's private use, which no face of ours has. */

#define LAST_SIGN 0xf8efu /* of Unicode's private use, and some are left for others */

uint16_t dia_drawing_files_sign(const struct dia_drawing_files *files, const char *name)
{
    uint32_t sign = DIA_DRAWING_SIGN;
    for (uint32_t k = 0; k < files->count; k++) {
        for (uint32_t i = 0; i < files->drawings[k]->count && sign <= LAST_SIGN; i++, sign++) {
            const struct dia_dots *item = &files->drawings[k]->items[i];
            if (!item->code && strcmp(item->name, name) == 0)
                return (uint16_t)sign;
        }
    }
    return 0;
}

const struct dia_dots *dia_drawing_files_of_sign(const struct dia_drawing_files *files,
                                                 uint16_t sign)
{
    uint32_t at = sign - DIA_DRAWING_SIGN;
    if (sign < DIA_DRAWING_SIGN || sign > LAST_SIGN)
        return NULL;
    for (uint32_t k = 0; k < files->count; k++) {
        if (at < files->drawings[k]->count)
            return &files->drawings[k]->items[at];
        at -= files->drawings[k]->count;
    }
    return NULL;
}

int dia_dots_cell(const struct dia_dots *item, uint32_t frame, uint8_t rows[8])
{
    memset(rows, 0, 8);
    if (item->columns > 5 || item->rows > 8)
        return 0;
    const uint8_t *cell = item->cells + (size_t)frame * item->columns * item->rows;
    for (uint32_t row = 0; row < item->rows; row++) {
        for (uint32_t column = 0; column < item->columns; column++)
            rows[row] |= (uint8_t)((*cell++ != 0) << (4 - column));
    }
    return 1;
}

/* ---- on dots: a face with all of them behind its own glyphs ------------------------------------
 */

static uint32_t count_of(const struct dia_drawing_files *files)
{
    uint32_t n = 0;
    for (uint32_t k = 0; k < files->count; k++)
        n += files->drawings[k]->count;
    return n < LAST_SIGN - DIA_DRAWING_SIGN + 1 ? n : LAST_SIGN - DIA_DRAWING_SIGN + 1;
}

/* Columns of a drawing in a face: none, where it is a glyph or too high. */
static uint32_t columns_of(const struct dia_dots *item, const struct dia_face *face)
{
    return item->code || item->rows > face->rows ? 0 : item->columns;
}

/* A column of its first frame. It stands on the line of the letters, if it is no higher. */
static uint32_t bits_of(const struct dia_dots *item, uint32_t column, const struct dia_face *face)
{
    uint32_t bits = 0,
             above = item->rows < face->baseline ? (uint32_t)(face->baseline - item->rows) : 0;
    for (uint32_t row = 0; row < item->rows; row++)
        bits |= (uint32_t)(item->cells[row * item->columns + column] != 0) << (row + above);
    return bits;
}

static struct dia_face *join(const struct dia_drawing_files *files, const struct dia_face *face)
{
    uint32_t n = count_of(files), runs = 0, columns = 0, bytes = (face->rows + 7u) / 8u;
    for (uint32_t k = 0; k < n; k++) {
        uint16_t sign = (uint16_t)(DIA_DRAWING_SIGN + k);
        uint32_t more = columns_of(dia_drawing_files_of_sign(files, sign), face);
        columns += more;
        runs += more > 0;
    }
    struct memory {
        struct dia_face face;
        struct dia_glyphs of[];
    } * memory;
    size_t tables = sizeof *memory + (face->count + runs) * sizeof *memory->of;
    memory = malloc(tables + 2 * runs * sizeof(uint16_t) + columns * bytes);
    if (!memory)
        return NULL;
    uint16_t *starts = (uint16_t *)((char *)memory + tables);
    uint8_t *out = (uint8_t *)(starts + 2 * runs);
    memory->face = *face;
    memory->face.glyphs = memory->of;
    memory->face.count = (uint16_t)(face->count + runs);
    memcpy(memory->of, face->glyphs, face->count * sizeof *memory->of);
    struct dia_glyphs *of = memory->of + face->count;
    for (uint32_t k = 0; k < n; k++) {
        uint16_t sign = (uint16_t)(DIA_DRAWING_SIGN + k);
        const struct dia_dots *item = dia_drawing_files_of_sign(files, sign);
        if (columns_of(item, face) == 0)
            continue;
        *of++ = (struct dia_glyphs){sign, 1, starts, out};
        starts[0] = 0;
        starts[1] = (uint16_t)columns_of(item, face);
        for (uint32_t column = 0; column < starts[1]; column++) {
            for (uint32_t b = 0; b < bytes; b++)
                *out++ = (uint8_t)(bits_of(item, column, face) >> (8 * b));
        }
        starts += 2;
    }
    return &memory->face;
}

const struct dia_face *dia_drawing_files_with(struct dia_drawing_files *files,
                                              const struct dia_face *face)
{
    for (uint32_t k = 0; k < files->joined_count; k++) {
        if (files->joined[k].of == face)
            return files->joined[k].with;
    }
    if (files->joined_count == DIA_DRAWING_JOINED)
        return NULL;
    struct dia_face *with = join(files, face);
    if (!with)
        return NULL;
    files->joined[files->joined_count].of = face;
    files->joined[files->joined_count++].with = with;
    return with;
}
