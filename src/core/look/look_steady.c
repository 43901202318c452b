/* SPDX-License-Identifier: MIT */
#include <diachrome/look.h>

#include "look_glue.h"

void dia_steady_defaults(struct dia_steady *p)
{
    p->colour.r = 255;
    p->colour.g = 180;
    p->colour.b = 100;
}

void dia_steady_render(const struct dia_steady *p, const struct dia_surface *surface, uint32_t ms,
                       uint32_t first, uint32_t n, struct dia_rgb *out)
{
    (void)surface;
    (void)ms;
    (void)first;
    struct dia_frame run = {out, n};
    dia_frame_fill(&run, p->colour);
}

static const DIA_ROM struct dia_param params[] = {
    PARAM_COLOUR(dia_steady, colour, "colour", "the colour"),
};

LOOK_GLUE(dia_steady)

const DIA_ROM struct dia_look dia_look_steady = {
    .name = "steady",
    .help = "every element one colour",
    LOOK_COMMON(dia_steady, params),
};
