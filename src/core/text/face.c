/* SPDX-License-Identifier: MIT */
#include "glyph.h"

uint16_t dia_utf8_next(const char **at)
{
    const uint8_t *from = (const uint8_t *)*at;
    uint8_t first = *from;
    if (first < 0x80) {
        *at += 1;
        return first;
    }
    /* the first byte says how many follow; the smallest code that needs so many is not overlong */
    uint8_t more = first >= 0xf0 ? 3 : first >= 0xe0 ? 2 : 1;
    uint32_t code = first & (more == 3 ? 7u : more == 2 ? 15u : 31u);
    uint8_t k = 1;
    if (first < 0xc2 || first > 0xf4)
        more = 0;
    for (; k <= more && (from[k] & 0xc0) == 0x80; k++)
        code = code << 6 | (from[k] & 0x3fu);
    *at += k;
    if (more == 0 || k <= more || (more == 2 && code < 0x800) || code > 0xffff ||
        (code & 0xf800) == 0xd800)
        return 0xfffd;
    return (uint16_t)code;
}

char *dia_utf8_of(uint16_t code, char text[4])
{
    char *at = text;
    if (code >= 0x800) {
        *at++ = (char)(0xe0u | code >> 12);
        *at++ = (char)(0x80u | (code >> 6 & 63u));
    } else if (code >= 0x80) {
        *at++ = (char)(0xc0u | code >> 6);
    }
    *at++ = (char)(code < 0x80 ? code : 0x80u | (code & 63u));
    *at = 0;
    return text;
}

static uint8_t find(const DIA_ROM struct dia_face *face, uint16_t code, struct glyph *glyph)
{
    uint8_t bytes = (uint8_t)((face->rows + 7u) / 8u);
    const DIA_ROM struct dia_glyphs *of = face->glyphs;
    if (face->capitals && code >= 'a' && code <= 'z')
        code = (uint16_t)(code - 'a' + 'A');
    for (uint16_t k = face->count; k != 0; k--, of++) {
        uint16_t number = (uint16_t)(code - of->first);
        if (number >= of->count)
            continue;
        uint16_t start = of->starts[number];
        glyph->columns = of->columns + (uint16_t)((unsigned)start * bytes);
        glyph->width = (uint8_t)(of->starts[number + 1u] - start);
        glyph->bytes = bytes;
        return 1;
    }
    return 0;
}

void dia_glyph_find(const DIA_ROM struct dia_face *face, uint16_t code, struct glyph *glyph)
{
    glyph->columns = 0; /* unless there is one: a box */
    glyph->width = (uint8_t)(face->baseline / 2u + 1u);
    glyph->bytes = face->baseline;
    find(face, code, glyph);
}

uint32_t dia_glyph_column(const struct glyph *glyph, uint8_t column)
{
    if (glyph->columns == 0) { /* a box as high as the letters */
        uint32_t foot = (uint32_t)1 << (glyph->bytes - 1u);
        return column == 0 || column + 1u == glyph->width ? foot * 2u - 1u : foot | 1u;
    }
    const DIA_ROM uint8_t *at = glyph->columns + column * glyph->bytes;
    uint32_t bits = at[0];
    for (uint8_t k = 1; k < glyph->bytes; k++)
        bits |= (uint32_t)at[k] << (8u * k);
    return bits;
}

uint8_t dia_face_has(const DIA_ROM struct dia_face *face, uint16_t code)
{
    struct glyph glyph;
    return find(face, code, &glyph);
}

uint8_t dia_face_width(const DIA_ROM struct dia_face *face, uint16_t code)
{
    struct glyph glyph;
    dia_glyph_find(face, code, &glyph);
    return glyph.width;
}
