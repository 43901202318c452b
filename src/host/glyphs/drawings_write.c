/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include "glyphs_private.h"

/* Our own format, written: docs/drawings.md. */

void dia_drawings_dots_write(const struct dia_drawings *drawings, const struct dia_dots *item,
                             FILE *out)
{
    const uint8_t *cell = item->cells;
    for (uint32_t frame = 0; frame < item->frames; frame++) {
        fputs(frame ? "\nframe\n" : "", out);
        for (uint32_t row = 0; row < item->rows; row++) {
            for (uint32_t column = 0; column < item->columns; column++, cell++) {
                char sign[8];
                fputs(*cell ? dia_sign_text((uint16_t)drawings->keys[*cell - 1], sign) : ".", out);
            }
            fputc('\n', out);
        }
    }
}

void dia_drawings_item_write(const struct dia_drawings *drawings, const struct dia_dots *item,
                             FILE *out)
{
    char sign[8];
    if (item->code)
        fprintf(out, "glyph %s\n", dia_sign_text(item->code, sign));
    else if (item->frames > 1)
        fprintf(out, "drawing %s %ums\n", item->name, item->each_ms);
    else
        fprintf(out, "drawing %s\n", item->name);
    dia_drawings_dots_write(drawings, item, out);
}

void dia_drawings_key_write(const struct dia_drawings *drawings, uint32_t colour, FILE *out)
{
    char sign[8];
    struct dia_rgb c = drawings->colours[colour - 1];
    fprintf(out, "key %s #%02x%02x%02x\n",
            dia_sign_text((uint16_t)drawings->keys[colour - 1], sign), c.r, c.g, c.b);
}

void dia_drawings_text_write(const struct dia_drawings *drawings, FILE *out)
{
    const char *gap = "";
    for (uint32_t k = 0; k < drawings->colour_count; k++) {
        struct dia_rgb c = drawings->colours[k];
        if (k == 0 && c.r == 255 && c.g == 255 && c.b == 255)
            continue;
        dia_drawings_key_write(drawings, k + 1, out);
        gap = "\n";
    }
    if (drawings->face[0]) {
        fprintf(out, "%sface %s\nrows %u\nbaseline %u\nspacing %u\nleading %u\n%s", gap,
                drawings->face, drawings->rows, drawings->baseline, drawings->spacing,
                drawings->leading, drawings->capitals ? "capitals\n" : "");
        gap = "\n";
    }
    for (uint32_t k = 0; k < drawings->count; k++) {
        fputs(gap, out);
        dia_drawings_item_write(drawings, &drawings->items[k], out);
        gap = "\n";
    }
}
