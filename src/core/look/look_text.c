/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/layout.h>
#include <diachrome/look.h>

#include "../palette.h"
#include "../text/text_places.h"
#include "look_glue.h"

void dia_lettering_defaults(struct dia_lettering *p)
{
    memset(p, 0, sizeof *p);
    p->text.says = "Diachrome";
    p->text.face = &dia_face_plain;
    p->text.form.size = 1;
    p->text.form.motion = DIA_TEXT_SWAYS;
    p->text.form.speed_um_s = 100000;
    p->text.form.hold_ms = 2000;
    p->text.form.every_ms = 100;
    p->palette.count = 1;
    p->palette.colours[0] = (struct dia_rgb){255, 255, 255};
}

/* The colours of n elements from their places. */
static void colour(const struct dia_lettering *p, const struct text_places *places, uint32_t n,
                   struct dia_rgb *out)
{
    struct palette_light light;
    uint16_t values[DIA_RUN];
    uint32_t last = (p->gradient ? places->screen.rows : places->screen.columns) - 1u;
    uint32_t step = last ? ((uint32_t)65535 << 8) / last : 0;
    for (uint32_t i = 0; i < n; i++) {
        uint32_t at = p->gradient ? places->row[i] : places->column[i];
        values[i] = (uint16_t)((at < last ? at : last) * step >> 8);
    }
    dia_palette_make(&light, &p->palette);
    dia_palette_run(&light, values, n, out);
}

void dia_lettering_render(const struct dia_lettering *p, const struct dia_surface *surface,
                          uint32_t ms, uint32_t first, uint32_t n, struct dia_rgb *out)
{
    struct text_places places;
    struct dia_rgb colours[DIA_RUN];
    uint8_t lit[DIA_RUN];
    dia_text_places_begin(&places, surface);
    for (uint32_t run; n != 0; first += run, out += run, n -= run) {
        run = n < DIA_RUN ? n : DIA_RUN;
        dia_text_places_run(&places, first, run);
        dia_text_places_lit(&places, &p->text, ms, run, lit);
        if (p->palette.count > 1)
            colour(p, &places, run, colours);
        for (uint32_t i = 0; i < run; i++) {
            if (lit[i])
                out[i] = p->palette.count > 1 ? colours[i] : p->palette.colours[0];
        }
    }
}

static const DIA_ROM char aligns[] = "left centre right", places[] = "top middle bottom",
                          answers[] = "no yes", gradients[] = "across down",
                          motions[] = "rests left right up down sways pages letters";

#define NUMBER(field, word, says, what, low, high)                                                 \
    PARAM_NUMBER(dia_lettering, text.form.field, word, says, what, low, high)
#define CHOICE(field, word, says, list, n)                                                         \
    PARAM_CHOICE(dia_lettering, text.form.field, word, says, list, n)

static const DIA_ROM struct dia_param params[] = {
    {PARAM(dia_lettering, text.says, "says", "the text; a new line at each \\n", DIA_PARAM_TEXT, 0,
           0)},
    {PARAM(dia_lettering, text.face, "face", "of its letters", DIA_PARAM_FACE, 0, 0)},
    PARAM_PALETTE(dia_lettering, palette, "colour", "one, or several that pass into each other"),
    PARAM_CHOICE(dia_lettering, gradient, "gradient", "which way several colours go", gradients, 2),
    NUMBER(size, "size", "dots of the display for a dot of the face", DIA_PARAM_COUNT, 1, 16),
    CHOICE(motion, "motion", "how it moves", motions, 8),
    NUMBER(speed_um_s, "speed", "of what moves; 0 mm/s: it rests", DIA_PARAM_SPEED, 0, 10000000),
    NUMBER(gap, "gap", "dots until it comes again; 0: the display", DIA_PARAM_COUNT, 0, 1000),
    NUMBER(hold_ms, "hold", "of a page, at either end, of all letters", DIA_PARAM_TIME, 0, 3600000),
    NUMBER(every_ms, "every", "from letter to letter", DIA_PARAM_TIME, 0, 60000),
    CHOICE(align, "align", "of each line", aligns, 3),
    CHOICE(place, "place", "of all lines together", places, 3),
    CHOICE(wrap, "wrap", "long lines go on below", answers, 2),
    NUMBER(spacing, "spacing", "dots more between two letters", DIA_PARAM_COUNT, -8, 32),
    NUMBER(blink_ms, "blink", "period of going out and on; 0 s: it does not", DIA_PARAM_TIME, 0,
           3600000),
    CHOICE(outline, "outline", "only the dots around the letters", answers, 2),
    CHOICE(inverted, "inverted", "everything but the letters", answers, 2),
};

LOOK_GLUE(dia_lettering)

const DIA_ROM struct dia_look dia_look_text = {
    .name = "text",
    .help = "a text over what is below, at rest or moving",
    .draws = 1,
    LOOK_COMMON(dia_lettering, params),
};
