/* SPDX-License-Identifier: MIT */
#include <diachrome/look.h>
#include <diachrome/signal.h>

#include "look_glue.h"
#include "once.h"
#include "../shade.h"
#include "../sine.h"

void dia_rings_defaults(struct dia_rings *p)
{
    p->colour.r = 90;
    p->colour.g = 210;
    p->colour.b = 255;
    p->background.r = 0;
    p->background.g = 8;
    p->background.b = 24;
    p->spacing_um = 60000;
    p->speed_um_s = 60000;
}

void dia_rings_render(const struct dia_rings *p, const struct dia_surface *surface, uint32_t ms,
                      uint32_t first, uint32_t n, struct dia_rgb *out)
{
    struct dia_surface round = dia_surface_along(*surface, DIA_RADIUS);
    struct dia_ramp ramp;
    uint16_t levels[DIA_RUN];
    uint32_t places[DIA_RUN], spacing = (uint32_t)p->spacing_um;
    dia_once_spaced(&ramp, &round, spacing, 0u - dia_once_moved(p->speed_um_s, spacing, ms));
    while (n != 0) {
        uint32_t run = n < DIA_RUN ? n : DIA_RUN;
        dia_ramp_run(&ramp, first, run, places);
        dia_sine_run(places, run, levels);
        dia_shade_run(out, p->background, p->colour, levels, run);
        first += run;
        out += run;
        n -= run;
    }
}

static const DIA_ROM struct dia_param params[] = {
    PARAM_COLOUR(dia_rings, colour, "colour", "of the rings"),
    PARAM_COLOUR(dia_rings, background, "background", "between them"),
    PARAM_NUMBER(dia_rings, spacing_um, "spacing", "from ring to ring", DIA_PARAM_LENGTH, 1000,
                 100000000),
    PARAM_NUMBER(dia_rings, speed_um_s, "speed", "how fast they spread; negative: they shrink",
                 DIA_PARAM_SPEED, -10000000, 10000000),
};

LOOK_GLUE(dia_rings)

const DIA_ROM struct dia_look dia_look_rings = {
    .name = "rings",
    .help = "waves that spread from the middle",
    LOOK_COMMON(dia_rings, params),
};
