/* SPDX-License-Identifier: MIT */
#include <diachrome/look.h>
#include <diachrome/signal.h>

#include "look_glue.h"
#include "noise.h"
#include "shade.h"

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
    struct shades shades;
    struct dia_rgb dark = {0, 0, 0};
    uint16_t depth = (uint16_t)(p->depth * 2 - (p->depth != 0));
    (void)surface;
    noise_row_at(&row, ms, (uint32_t)p->change_ms, (uint32_t)p->seed);
    shades_make(&shades, p->colour, dark);
    for (; n != 0; n--, first++, out++) {
        uint16_t value = noise_at(&row, (uint16_t)first);
        *out = shades_at(&shades, (uint16_t)((uint32_t)value * depth >> 16));
    }
}

static const DIA_ROM struct dia_param params[] = {
    {.key = "colour",
     .help = "at its brightest",
     .kind = DIA_PARAM_COLOUR,
     .offset = offsetof(struct dia_glimmer, colour)},
    {.key = "depth",
     .help = "how far it goes down",
     .kind = DIA_PARAM_SHARE,
     .min = 0,
     .max = DIA_SHARE_ONE,
     .offset = offsetof(struct dia_glimmer, depth)},
    {.key = "change",
     .help = "from one random level to the next",
     .kind = DIA_PARAM_TIME,
     .min = 20,
     .max = 3600000,
     .offset = offsetof(struct dia_glimmer, change_ms)},
    {.key = "seed",
     .help = "another seed, another picture",
     .kind = DIA_PARAM_COUNT,
     .min = 0,
     .max = 2147483647,
     .offset = offsetof(struct dia_glimmer, seed)},
};

LOOK_GLUE(dia_glimmer)

const DIA_ROM struct dia_look dia_look_glimmer = {
    .name = "glimmer",
    .help = "every element by itself gets brighter and darker, at random",
    LOOK_COMMON(dia_glimmer, params),
};
