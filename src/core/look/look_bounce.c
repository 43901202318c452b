/* SPDX-License-Identifier: MIT */
#include <diachrome/look.h>
#include <diachrome/signal.h>

#include "look_glue.h"
#include "once.h"
#include "sides.h"
#include "tail.h"
#include "../mix.h"

void dia_bounce_defaults(struct dia_bounce *p)
{
    p->colour.r = 255;
    p->colour.g = 40;
    p->colour.b = 20;
    p->background.r = p->background.g = p->background.b = 0;
    p->width_um = 60000;
    p->period_ms = 3000;
}

struct bounce {
    struct dia_ramp ramp;
    struct tail tail; /* a head, and no tail */
    uint32_t to;
};

static void levels_of(const void *of, uint32_t first, uint32_t n, uint16_t *levels)
{
    const struct bounce *bounce = (const struct bounce *)of;
    uint32_t places[DIA_RUN];
    dia_ramp_run(&bounce->ramp, first, n, places);
    for (uint32_t i = 0; i < n; i++)
        levels[i] = tail_level(&bounce->tail, bounce->to - places[i]);
}

/* Its ends are soft: an element that is half under the light is half lit, so it glides. */
void dia_bounce_render(const struct dia_bounce *p, const struct dia_surface *surface, uint32_t ms,
                       uint32_t first, uint32_t n, struct dia_rgb *out)
{
    uint32_t pitch = (uint32_t)surface->pitch_um, length = (uint32_t)dia_surface_length_um(surface);
    uint32_t width = (uint32_t)p->width_um < length ? (uint32_t)p->width_um : length;
    uint16_t way = dia_signal_triangle(dia_phase_at(ms, (uint32_t)p->period_ms));
    uint32_t left = length - width;
    uint32_t from = (left >> 16) * way + ((left & 0xffffu) * way >> 16);
    struct bounce bounce;
    bounce.to = from + width;
    dia_tail_make(&bounce.tail, pitch, width, 0);
    dia_once_places(&bounce.ramp, surface);
    dia_sides_fill(&bounce.ramp, DIA_FROM_START, from > pitch ? from - pitch : 0, bounce.to,
                   p->background, p->background, &first, &n, &out);
    dia_mix_run(out, p->background, p->colour, levels_of, &bounce, first, n);
}

static const DIA_ROM struct dia_param params[] = {
    PARAM_COLOUR(dia_bounce, colour, "colour", "of the light"),
    PARAM_COLOUR(dia_bounce, background, "background", "beside it"),
    PARAM_NUMBER(dia_bounce, width_um, "width", "of the light", DIA_PARAM_LENGTH, 1000, 100000000),
    PARAM_NUMBER(dia_bounce, period_ms, "period", "there and back", DIA_PARAM_TIME, 100, 3600000),
};

LOOK_GLUE(dia_bounce)

const DIA_ROM struct dia_look dia_look_bounce = {
    .name = "bounce",
    .help = "one light that goes to the end and back",
    LOOK_COMMON(dia_bounce, params),
};
