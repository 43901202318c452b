/* SPDX-License-Identifier: MIT */
#include <diachrome/look.h>

#include "look_glue.h"
#include "once.h"
#include "../mix.h"
#include "sides.h"
#include "tail.h"

void dia_pulse_defaults(struct dia_pulse *p)
{
    p->colour.r = 200;
    p->colour.g = 230;
    p->colour.b = 255;
    p->background.r = 0;
    p->background.g = 0;
    p->background.b = 10;
    p->head_um = 30000;
    p->tail_um = 400000;
    p->speed_um_s = 800000;
    p->rest_ms = 1000;
    p->from = DIA_FROM_START;
}

struct pulse {
    const struct dia_surface *surface;
    struct dia_ramp ramp;
    struct tail tail;
    int32_t from;
    uint32_t front;
};

static void levels_of(const void *of, uint32_t first, uint32_t n, uint16_t *levels)
{
    const struct pulse *pulse = (const struct pulse *)of;
    uint32_t places[DIA_RUN];
    dia_sides_run(&pulse->ramp, pulse->surface, pulse->from, first, n, places);
    for (uint32_t i = 0; i < n; i++)
        levels[i] = tail_level(&pulse->tail, pulse->front - places[i]);
}

void dia_pulse_render(const struct dia_pulse *p, const struct dia_surface *surface, uint32_t ms,
                      uint32_t first, uint32_t n, struct dia_rgb *out)
{
    uint32_t length = (uint32_t)p->head_um + (uint32_t)p->tail_um,
             pitch = (uint32_t)surface->pitch_um;
    uint32_t way = dia_sides_length(surface, p->from) + length;
    uint32_t front = dia_once_gone(ms, way, (uint32_t)p->speed_um_s, (uint32_t)p->rest_ms);
    struct pulse pulse;
    pulse.surface = surface;
    pulse.from = p->from;
    pulse.front = front;
    dia_once_places(&pulse.ramp, surface);
    dia_tail_make(&pulse.tail, pitch, (uint32_t)p->head_um, (uint32_t)p->tail_um);
    uint32_t reach = length + pitch;
    dia_sides_fill(&pulse.ramp, p->from, front > reach ? front - reach : 0, front, p->background,
                   p->background, &first, &n, &out);
    dia_mix_run(out, p->background, p->colour, levels_of, &pulse, first, n);
}

static const DIA_ROM struct dia_param params[] = {
    PARAM_COLOUR(dia_pulse, colour, "colour", "of the light"),
    PARAM_COLOUR(dia_pulse, background, "background", "where it is not"),
    PARAM_NUMBER(dia_pulse, head_um, "head", "fully lit", DIA_PARAM_LENGTH, 1000, 100000000),
    PARAM_NUMBER(dia_pulse, tail_um, "tail", "fading behind it", DIA_PARAM_LENGTH, 0, 100000000),
    PARAM_NUMBER(dia_pulse, speed_um_s, "speed", "how fast it runs", DIA_PARAM_SPEED, 1000,
                 10000000),
    PARAM_NUMBER(dia_pulse, rest_ms, "rest", "until it comes again", DIA_PARAM_TIME, 0, 3600000),
    PARAM_CHOICE(dia_pulse, from, "from", "where it begins", dia_from_words, 4),
};

LOOK_GLUE(dia_pulse)

const DIA_ROM struct dia_look dia_look_pulse = {
    .name = "pulse",
    .help = "one light with a tail that runs along, and comes again",
    LOOK_COMMON(dia_pulse, params),
};
