/* SPDX-License-Identifier: MIT */
#include <diachrome/look.h>
#include <diachrome/signal.h>

#include "look_glue.h"
#include "once.h"
#include "shade.h"

void dia_chase_defaults(struct dia_chase *p)
{
    p->colour.r = 255;
    p->colour.g = 200;
    p->colour.b = 120;
    p->background.r = p->background.g = 0;
    p->background.b = 16;
    p->lights = 3;
    p->tail = DIA_SHARE_ONE / 2;
    p->speed_um_s = 300000;
}

/*
 * Each element has a place on the way from one light to the next. What is left to the light ahead
 * of it, against the length of the tail, is how far it has faded: `slope` is 65536 over that
 * length, 8 bits below the point, worked out once.
 */
void dia_chase_render(const struct dia_chase *p, const struct dia_surface *surface, uint32_t ms,
                      uint32_t first, uint32_t n, struct dia_rgb *out)
{
    struct shades shades;
    struct dia_ramp ramp;
    uint32_t places[DIA_RUN];
    uint16_t tail = (uint16_t)(p->tail * 2 - (p->tail != 0));
    uint32_t slope = tail ? 0xffffffu / tail : 0;
    int away = p->speed_um_s >= 0;
    shades_make(&shades, p->background, p->colour);
    once_turns(&ramp, surface, p->lights,
               0u - once_travelled(surface, p->lights, p->speed_um_s, ms));
    while (n != 0) {
        uint32_t run = n < DIA_RUN ? n : DIA_RUN;
        dia_ramp_run(&ramp, first, run, places);
        for (uint32_t i = 0; i < run; i++) {
            /* behind the light: it stands at place 0 and goes towards higher ones, or lower */
            uint16_t place = (uint16_t)(places[i] >> 16);
            uint16_t behind = away ? (uint16_t)(0u - place) : place;
            uint16_t level = behind < tail ? (uint16_t)(65535u - (behind * slope >> 8)) : 0;
            out[i] = shades_at(&shades, level);
        }
        first += run;
        out += run;
        n -= run;
    }
}

static const DIA_ROM struct dia_param params[] = {
    {.key = "colour",
     .help = "of the lights",
     .kind = DIA_PARAM_COLOUR,
     .offset = offsetof(struct dia_chase, colour)},
    {.key = "background",
     .help = "between them",
     .kind = DIA_PARAM_COLOUR,
     .offset = offsetof(struct dia_chase, background)},
    {.key = "lights",
     .help = "how many, at even distances",
     .kind = DIA_PARAM_COUNT,
     .min = 1,
     .max = 100,
     .offset = offsetof(struct dia_chase, lights)},
    {.key = "tail",
     .help = "share of the distance that a light and its tail take",
     .kind = DIA_PARAM_SHARE,
     .min = 328,
     .max = DIA_SHARE_ONE,
     .offset = offsetof(struct dia_chase, tail)},
    {.key = "speed",
     .help = "how fast they move; negative: towards the start",
     .kind = DIA_PARAM_SPEED,
     .min = -10000000,
     .max = 10000000,
     .offset = offsetof(struct dia_chase, speed_um_s)},
};

LOOK_GLUE(dia_chase)

const DIA_ROM struct dia_look dia_look_chase = {
    .name = "chase",
    .help = "lights at even distances, travelling, each with a tail",
    LOOK_COMMON(dia_chase, params),
};
