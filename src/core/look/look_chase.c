/* SPDX-License-Identifier: MIT */
#include <diachrome/look.h>
#include <diachrome/signal.h>

#include "look_glue.h"
#include "once.h"
#include "../shade.h"

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
    struct dia_ramp ramp;
    uint32_t places[DIA_RUN];
    uint16_t levels[DIA_RUN], tail = (uint16_t)(p->tail * 2 - (p->tail != 0));
    uint32_t slope = tail ? 0xffffffu / tail : 0;
    int away = p->speed_um_s >= 0;
    dia_once_turns(&ramp, surface, p->lights,
                   0u - dia_once_travelled(surface, p->lights, p->speed_um_s, ms));
    while (n != 0) {
        uint32_t run = n < DIA_RUN ? n : DIA_RUN;
        dia_ramp_run(&ramp, first, run, places);
        for (uint32_t i = 0; i < run; i++) {
            /* behind the light: it stands at place 0 and goes towards higher ones, or lower */
            uint16_t place = (uint16_t)(places[i] >> 16);
            uint16_t behind = away ? (uint16_t)(0u - place) : place;
            uint16_t level = behind < tail ? (uint16_t)(65535u - (behind * slope >> 8)) : 0;
            levels[i] = level;
        }
        dia_shade_run(out, p->background, p->colour, levels, run);
        first += run;
        out += run;
        n -= run;
    }
}

static const DIA_ROM struct dia_param params[] = {
    PARAM_COLOUR(dia_chase, colour, "colour", "of the lights"),
    PARAM_COLOUR(dia_chase, background, "background", "between them"),
    PARAM_NUMBER(dia_chase, lights, "lights", "how many, at even distances", DIA_PARAM_COUNT, 1,
                 100),
    PARAM_NUMBER(dia_chase, tail, "tail", "share of the distance that a light and its tail take",
                 DIA_PARAM_SHARE, 328, DIA_SHARE_ONE),
    PARAM_NUMBER(dia_chase, speed_um_s, "speed", "how fast they move; negative: towards the start",
                 DIA_PARAM_SPEED, -10000000, 10000000),
};

LOOK_GLUE(dia_chase)

const DIA_ROM struct dia_look dia_look_chase = {
    .name = "chase",
    .help = "lights at even distances, travelling, each with a tail",
    LOOK_COMMON(dia_chase, params),
};
