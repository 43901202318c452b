/* SPDX-License-Identifier: MIT */
#include <diachrome/look.h>
#include <diachrome/signal.h>

#include "../product.h"
#include "look_glue.h"
#include "once.h"
#include "../shade.h"

void dia_beam_defaults(struct dia_beam *p)
{
    p->colour.r = 255;
    p->colour.g = 240;
    p->colour.b = 200;
    p->background.r = 0;
    p->background.g = 0;
    p->background.b = 0;
    p->beams = 1;
    p->width = DIA_SHARE_ONE / 5;
    p->period_ms = 4000;
    p->way = 0;
}

/* A beam is brightest in its middle and fades to both sides. */
void dia_beam_render(const struct dia_beam *p, const struct dia_surface *surface, uint32_t ms,
                     uint32_t first, uint32_t n, struct dia_rgb *out)
{
    struct dia_surface round = dia_surface_along(*surface, DIA_ANGLE);
    struct dia_ramp ramp;
    uint16_t levels[DIA_RUN];
    uint32_t places[DIA_RUN], beams = (uint32_t)p->beams;
    dia_phase turned = dia_phase_at(ms, (uint32_t)p->period_ms) * beams;
    /* of the way from beam to beam, in 32768ths: how far to either side a beam reaches */
    uint32_t half = (uint32_t)p->width * beams / 2u;
    half = half > 16384u ? 16384u : half;
    uint32_t slope = 0xffffffu / (half + (half == 0)); /* in 256ths */
    const uint16_t reach = (uint16_t)half, whole = (uint16_t)(slope >> 8),
                   part = (uint16_t)(slope << 8);
    dia_once_turns(&ramp, &round, p->beams, p->way ? turned : 0u - turned);
    while (n != 0) {
        uint32_t run = n < DIA_RUN ? n : DIA_RUN;
        dia_ramp_run(&ramp, first, run, places);
        for (uint32_t i = 0; i < run; i++) { /* in products of 16 bits */
            uint16_t at = (uint16_t)(places[i] >> 16);
            uint16_t off = (uint16_t)(at & 0x8000u ? (uint16_t)~at : at) >> 1; /* its middle */
            uint16_t lost = (uint16_t)((uint16_t)((uint32_t)off * whole) + product_high(off, part));
            levels[i] = off < reach ? (uint16_t)(65535u - lost) : 0;
        }
        dia_shade_run(out, p->background, p->colour, levels, run);
        first += run;
        out += run;
        n -= run;
    }
}

static const DIA_ROM char ways[] = "clockwise anticlockwise";

static const DIA_ROM struct dia_param params[] = {
    PARAM_COLOUR(dia_beam, colour, "colour", "of the light"),
    PARAM_COLOUR(dia_beam, background, "background", "where it is not"),
    PARAM_NUMBER(dia_beam, beams, "beams", "how many, at even angles", DIA_PARAM_COUNT, 1, 16),
    PARAM_NUMBER(dia_beam, width, "width", "share of a turn that a beam takes", DIA_PARAM_SHARE,
                 328, DIA_SHARE_ONE),
    PARAM_NUMBER(dia_beam, period_ms, "period", "of a turn", DIA_PARAM_TIME, 100, 3600000),
    PARAM_CHOICE(dia_beam, way, "way", "which way it turns", ways, 2),
};

LOOK_GLUE(dia_beam)

const DIA_ROM struct dia_look dia_look_beam = {
    .name = "beam",
    .help = "light that turns round the middle",
    LOOK_COMMON(dia_beam, params),
};
