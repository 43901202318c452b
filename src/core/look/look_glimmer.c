/* SPDX-License-Identifier: MIT */
#include <diachrome/look.h>
#include <diachrome/signal.h>

#include "look_glue.h"
#include "../noise.h"
#include "../shade.h"

void dia_glimmer_defaults(struct dia_glimmer *p)
{
    p->colour.r = 255;
    p->colour.g = 190;
    p->colour.b = 110;
    p->depth = DIA_SHARE_ONE / 4 * 3;
    p->change_ms = 400;
    p->seed = 1;
}

/* The noise of a column and moment, without what lies between two columns: each by itself. */
void dia_glimmer_render(const struct dia_glimmer *p, const struct dia_surface *surface, uint32_t ms,
                        uint32_t first, uint32_t n, struct dia_rgb *out)
{
    struct noise_row row;
    struct dia_rgb dark = {0, 0, 0};
    uint16_t depth = (uint16_t)(p->depth * 2 - (p->depth != 0));
    uint16_t levels[DIA_RUN];
    (void)surface;
    dia_noise_row_at(&row, ms, (uint32_t)p->change_ms, (uint32_t)p->seed);
    while (n != 0) {
        uint32_t run = n < DIA_RUN ? n : DIA_RUN;
        for (uint32_t i = 0; i < run; i++) {
            uint16_t value = dia_noise_at(&row, (uint16_t)(first + i));
            levels[i] = (uint16_t)((uint32_t)value * depth >> 16);
        }
        dia_shade_run(out, p->colour, dark, levels, run);
        first += run;
        out += run;
        n -= run;
    }
}

static const DIA_ROM struct dia_param params[] = {
    PARAM_COLOUR(dia_glimmer, colour, "colour", "at its brightest"),
    PARAM_NUMBER(dia_glimmer, depth, "depth", "how far it goes down", DIA_PARAM_SHARE, 0,
                 DIA_SHARE_ONE),
    PARAM_NUMBER(dia_glimmer, change_ms, "change", "from one random level to the next",
                 DIA_PARAM_TIME, 20, 3600000),
    PARAM_NUMBER(dia_glimmer, seed, "seed", "another seed, another picture", DIA_PARAM_COUNT, 0,
                 2147483647),
};

LOOK_GLUE(dia_glimmer)

const DIA_ROM struct dia_look dia_look_glimmer = {
    .name = "glimmer",
    .help = "every element by itself gets brighter and darker, at random",
    LOOK_COMMON(dia_glimmer, params),
};
