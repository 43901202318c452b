/* SPDX-License-Identifier: MIT */
#include <diachrome/look.h>

#include "look_glue.h"
#include "once.h"
#include "reveal_steps.h"
#include "sides.h"
#include "../join.h"

void dia_reveal_defaults(struct dia_reveal *p)
{
    p->colour = (struct dia_rgb){255, 190, 90};
    p->background = (struct dia_rgb){0, 0, 0};
    p->from = DIA_FROM_START;
    p->step = 1;
    p->every_ms = 50;
    p->hold_ms = 1000;
    p->retreat = DIA_RETREAT_BACK;
}

void dia_reveal_render(const struct dia_reveal *p, const struct dia_surface *surface, uint32_t ms,
                       uint32_t first, uint32_t n, struct dia_rgb *out)
{
    uint32_t pitch = (uint32_t)surface->pitch_um;
    uint32_t count = dia_reveal_places(surface, p->from);
    struct reveal_lit lit = dia_reveal_lit(p, ms, count);
    struct dia_ramp ramp;
    dia_once_places(&ramp, surface);
    /* in um; a little less than whole pitches, so that rounding does not matter, on places that may
       be half a pitch off, as from the middle of an even number */
    uint32_t to = lit.to < count ? lit.to * pitch - (lit.to ? pitch / 4 : 0) : UINT32_MAX;
    uint32_t out_to = lit.out_to ? lit.out_to * pitch - pitch / 4 : 0;
    struct sides_parts parts = dia_sides_split(&ramp, p->from, first, n, out_to, to);
    if (parts.straight) {
        dia_fill_run(out, p->background, n);
        dia_fill_run(out + parts.before, p->colour, parts.within);
        return;
    }
    while (n != 0) {
        uint32_t places[DIA_RUN], run = n < DIA_RUN ? n : DIA_RUN;
        dia_sides_run(&ramp, surface, p->from, first, run, places);
        for (uint32_t i = 0; i < run; i++)
            out[i] = places[i] < to && places[i] >= out_to ? p->colour : p->background;
        first += run;
        out += run;
        n -= run;
    }
}

static const DIA_ROM char retreats[] = "back on at-once";

static const DIA_ROM struct dia_param params[] = {
    PARAM_COLOUR(dia_reveal, colour, "colour", "of what is lit"),
    PARAM_COLOUR(dia_reveal, background, "background", "of what is not"),
    PARAM_CHOICE(dia_reveal, from, "from", "where it begins", dia_from_words, 4),
    PARAM_NUMBER(dia_reveal, step, "step", "elements a step", DIA_PARAM_COUNT, 1, 1000),
    PARAM_NUMBER(dia_reveal, every_ms, "every", "time from step to step", DIA_PARAM_TIME, 10,
                 3600000),
    PARAM_NUMBER(dia_reveal, hold_ms, "hold", "all of it lit, and later none", DIA_PARAM_TIME, 0,
                 3600000),
    PARAM_CHOICE(dia_reveal, retreat, "retreat", "how it goes out again", retreats, 3),
};

LOOK_GLUE(dia_reveal)
LOOK_WAY(dia_reveal)

const DIA_ROM struct dia_look dia_look_reveal = {
    .name = "reveal",
    .help = "lights up step by step, stays, and goes out again",
    LOOK_COMMON(dia_reveal, params),
    .way_ms = dia_reveal_way_of_any,
};
