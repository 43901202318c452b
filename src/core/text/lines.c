/* SPDX-License-Identifier: MIT */
#include <stddef.h>

#include "lines.h"

void dia_measure_of(struct measure *measure, const struct dia_text *text,
                    const DIA_ROM struct dia_face *face, const struct dia_screen *screen)
{
    uint8_t size = (uint8_t)(text->form.size > 1 && face ? text->form.size : 1);
    measure->face = face;
    measure->run.count = 0;
    if (face && !face->capitals && face->count) {
        measure->run = *face->glyphs;
        measure->bytes = (uint8_t)((face->rows + 7u) / 8u);
    }
    measure->size = size;
    measure->merged = 0;
    measure->between = face ? (face->spacing + text->form.spacing) * size : 0;
    measure->rows = face ? face->rows * size : 1;
    measure->line = face ? measure->rows + face->leading * size : 1;
    measure->most = text->form.wrap ? screen->columns : 0;
}

uint16_t dia_line_advance(const struct measure *measure, uint16_t code, uint16_t *before,
                          struct glyph *glyph)
{
    if (measure->face) {
        uint16_t number = (uint16_t)(code - measure->run.first);
        if (number < measure->run.count) {
            const DIA_ROM uint16_t *starts = measure->run.starts + number;
            uint16_t start = starts[0];
            glyph->width = (uint8_t)(starts[1] - start);
            glyph->bytes = measure->bytes;
            if (measure->bytes > 1)
                start = (uint16_t)(start * measure->bytes);
            glyph->columns = measure->run.columns + start;
        } else {
            dia_glyph_find(measure->face, code, glyph);
        }
        return measure->size == 1 ? glyph->width : (uint16_t)(glyph->width * measure->size);
    }
    uint8_t joins = measure->merged && code == '.' && *before != 0 && *before != '.';
    *before = code;
    return (uint16_t)!joins;
}

void dia_line_at(struct line *line, const struct measure *measure, const char *at)
{
    int32_t width = 0, to_space = 0; /* to the last space where it could end */
    const char *space = NULL;
    uint16_t before = 0;
    struct glyph glyph;
    line->at = at;
    while (*at && *at != '\n') {
        const char *sign = at;
        uint16_t code = (uint8_t)*at < 0x80 ? (uint8_t)*at++ : dia_utf8_next(&at);
        int32_t wider = width + dia_line_advance(measure, code, &before, &glyph);
        if (sign != line->at) /* of cells it is 0 */
            wider += measure->between;
        if (code == ' ') {
            space = sign;
            to_space = width;
        } else if (measure->most && wider > measure->most && sign != line->at) {
            line->end = space ? space : sign;
            line->next = space ? space + 1 : sign;
            line->width = space ? to_space : width;
            return;
        }
        width = wider;
    }
    line->end = at;
    line->next = *at ? at + 1 : NULL;
    line->width = width;
}
