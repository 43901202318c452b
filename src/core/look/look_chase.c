/* SPDX-License-Identifier: MIT */
#include <diachrome/look.h>
#include <diachrome/signal.h>

#include "look_glue.h"
#include "once.h"
#include "../mix.h"
#include "tail.h"

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

struct chase {
    struct dia_ramp ramp;
    struct tail tail;
    int away;
};

static void levels_of(const void *of, uint32_t first, uint32_t n, uint16_t *levels)
{
    const struct chase *chase = (const struct chase *)of;
    dia_phase places[DIA_RUN];
    dia_ramp_run(&chase->ramp, first, n, places);
    dia_tail_turn_run(&chase->tail, chase->away, places, n, levels);
}

/* Each element has a place on the way from one light to the next. A light has a head of one
 * element, and the tail behind it. */
void dia_chase_render(const struct dia_chase *p, const struct dia_surface *surface, uint32_t ms,
                      uint32_t first, uint32_t n, struct dia_rgb *out)
{
    struct chase chase;
    chase.away = p->speed_um_s >= 0;
    dia_tail_make_turn(&chase.tail, (uint32_t)surface->pitch_um, (uint32_t)p->lights,
                       (uint32_t)dia_surface_length_um(surface), (dia_share)p->tail);
    dia_once_turns(&chase.ramp, surface, p->lights,
                   0u - dia_once_travelled(surface, p->lights, p->speed_um_s, ms));
    dia_mix_run(out, p->background, p->colour, levels_of, &chase, first, n);
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
