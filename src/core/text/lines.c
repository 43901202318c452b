/* SPDX-License-Identifier: MIT */
#include <stddef.h>

#include "lines.h"

void dia_measure_of(struct measure *measure, const struct dia_text *text,
                    const DIA_ROM struct dia_face *face, const struct dia_screen *screen)
{
    uint8_t size = (uint8_t)(text->form.size > 1 && face ? text->form.size : 1);
    measure->face = face;
    measure->run.first = measure->run.count = 0; /* holds no sign */
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
    uint8_t is_point = code == '.' || code == ':';
    uint8_t joins = measure->merged && is_point && *before != 0 && *before != '.' && *before != ':';
    *before = code;
    return (uint16_t)!joins;
}

/* Up to the end of it, however long. */
static void as_it_is(struct line *line, const struct measure *measure, const char *at)
{
    int32_t start = 0, step = 0;
    uint16_t before = 0, advance = 0;
    struct glyph glyph;
    while (*at && *at != '\n') {
        uint16_t code = line_sign(&at);
        advance = dia_line_advance(measure, code, &before, &glyph);
        step = line_step(measure, advance);
        start += step;
    }
    line->end = at;
    line->width = start - step + advance;
}

/* As many words as there is room for; a word that is longer is cut. */
static void wrapped(struct line *line, const struct measure *measure, const char *at)
{
    int32_t start = 0, width = 0; /* where a sign begins, and what is before it */
    int32_t to_space = 0;         /* to the last space where it could end */
    const char *space = NULL;
    uint16_t before = 0;
    struct glyph glyph;
    while (*at && *at != '\n') {
        const char *sign = at;
        uint16_t code = line_sign(&at);
        uint16_t advance = dia_line_advance(measure, code, &before, &glyph);
        if (code == ' ') {
            space = sign;
            to_space = width;
        } else if (start + advance > measure->most && sign != line->at) {
            line->end = space ? space : sign;
            line->next = space ? space + 1 : sign;
            line->width = space ? to_space : width;
            return;
        }
        width = start + advance;
        start += line_step(measure, advance);
    }
    line->end = at;
    line->width = width;
}

void dia_line_at(struct line *line, const struct measure *measure, const char *at)
{
    line->at = at;
    line->next = NULL;
    if (measure->most)
        wrapped(line, measure, at);
    else
        as_it_is(line, measure, at);
    if (!line->next && *line->end)
        line->next = line->end + 1;
}
