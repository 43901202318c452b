/* SPDX-License-Identifier: MIT */
#include <stddef.h>

#include "lines.h"

void dia_measure_of(struct measure *measure, const struct dia_text *text,
                    const DIA_ROM struct dia_face *face, const struct dia_screen *screen)
{
    uint8_t size = (uint8_t)(text->form.size > 1 && face ? text->form.size : 1);
    measure->face = face;
    measure->size = size;
    measure->merged = 0;
    measure->between = face ? (face->spacing + text->form.spacing) * size : 0;
    measure->rows = face ? face->rows * size : 1;
    measure->line = face ? measure->rows + face->leading * size : 1;
    measure->most = text->form.wrap ? screen->columns : 0;
}

int32_t dia_line_advance(const struct measure *measure, uint16_t code, uint16_t *before)
{
    if (measure->face)
        return dia_face_width(measure->face, code) * measure->size;
    uint8_t joins = measure->merged && code == '.' && *before != 0 && *before != '.';
    *before = code;
    return !joins;
}

void dia_line_at(struct line *line, const struct measure *measure, const char *at)
{
    int32_t width = 0, to_space = 0; /* to the last space where it could end */
    const char *space = NULL;
    uint16_t before = 0;
    line->at = at;
    while (*at && *at != '\n') {
        const char *sign = at;
        uint16_t code = dia_utf8_next(&at);
        int32_t gap = sign == line->at ? 0 : measure->between;
        int32_t wider = width + dia_line_advance(measure, code, &before);
        wider += wider == width && !measure->face ? 0 : gap;
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
