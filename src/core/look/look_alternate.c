/* SPDX-License-Identifier: MIT */
#include <diachrome/look.h>
#include <diachrome/signal.h>

#include "look_glue.h"
#include "once.h"

void dia_alternate_defaults(struct dia_alternate *p)
{
    p->colour.r = 255;
    p->colour.g = 60;
    p->colour.b = 20;
    p->other.r = 20;
    p->other.g = 60;
    p->other.b = 255;
    p->stretch = 1;
    p->period_ms = 1000;
}

void dia_alternate_render(const struct dia_alternate *p, const struct dia_surface *surface,
                          uint32_t ms, uint32_t first, uint32_t n, struct dia_rgb *out)
{
    uint32_t most = 0x7fffffffu / (uint32_t)surface->pitch_um, elements = (uint32_t)p->stretch;
    uint32_t stretch = (elements < most ? elements : most) * (uint32_t)surface->pitch_um;
    /* two stretches to a turn; a quarter of a pitch on, so that rounding does not matter */
    dia_phase start = (dia_phase_at(ms, (uint32_t)p->period_ms) & 0x80000000u) +
                      0x80000000u / (uint32_t)p->stretch / 4u;
    uint32_t places[DIA_RUN];
    struct dia_ramp ramp;
    dia_once_spaced(&ramp, surface, 2u * stretch, start);
    while (n != 0) {
        uint32_t run = n < DIA_RUN ? n : DIA_RUN;
        dia_ramp_run(&ramp, first, run, places);
        for (uint32_t i = 0; i < run; i++)
            out[i] = *(places[i] >> 31 ? &p->other : &p->colour);
        first += run;
        out += run;
        n -= run;
    }
}

static const DIA_ROM struct dia_param params[] = {
    PARAM_COLOUR(dia_alternate, colour, "colour", "of the first stretch"),
    PARAM_COLOUR(dia_alternate, other, "other", "of the second"),
    PARAM_NUMBER(dia_alternate, stretch, "stretch", "elements of one colour", DIA_PARAM_COUNT, 1,
                 1000),
    PARAM_NUMBER(dia_alternate, period_ms, "period", "until each is as it was", DIA_PARAM_TIME, 20,
                 3600000),
};

LOOK_GLUE(dia_alternate)

const DIA_ROM struct dia_look dia_look_alternate = {
    .name = "alternate",
    .help = "stretches of two colours that change places",
    LOOK_COMMON(dia_alternate, params),
};
