/* SPDX-License-Identifier: MIT */
#include <diachrome/look.h>
#include <diachrome/signal.h>

#include "look_glue.h"
#include "once.h"
#include "../mix.h"
#include "sides.h"

void dia_wipe_defaults(struct dia_wipe *p)
{
    p->colour.r = 255;
    p->colour.g = 150;
    p->colour.b = 40;
    p->background.r = 0;
    p->background.g = 20;
    p->background.b = 60;
    p->from = DIA_FROM_START;
    p->soft_um = 100000;
    p->period_ms = 4000;
}

struct wipe {
    const struct dia_surface *surface;
    struct dia_ramp ramp;
    int32_t from;
    uint32_t soft, edge, slope;
};

static void levels_of(const void *of, uint32_t first, uint32_t n, uint16_t *levels)
{
    const struct wipe *wipe = (const struct wipe *)of;
    uint32_t places[DIA_RUN];
    dia_sides_run(&wipe->ramp, wipe->surface, wipe->from, first, n, places);
    for (uint32_t i = 0; i < n; i++) {
        uint32_t behind = wipe->edge > places[i] ? wipe->edge - places[i] : 0;
        levels[i] =
            behind >= wipe->soft ? (behind ? 65535u : 0) : (uint16_t)(behind * wipe->slope >> 16);
    }
}

/* The edge goes from where it lies just before the surface to just behind it, so that each wipe
 * begins and ends with one colour. */
void dia_wipe_render(const struct dia_wipe *p, const struct dia_surface *surface, uint32_t ms,
                     uint32_t first, uint32_t n, struct dia_rgb *out)
{
    uint32_t length = dia_sides_length(surface, p->from), soft = (uint32_t)p->soft_um;
    dia_phase phase = dia_phase_at(ms, (uint32_t)p->period_ms);
    struct dia_rgb over = phase >> 31 ? p->background : p->colour;
    struct dia_rgb under = phase >> 31 ? p->colour : p->background;
    uint32_t way = length + soft, part = phase << 1 >> 16;
    uint32_t edge = (way >> 16) * part + ((way & 0xffffu) * part >> 16);
    struct wipe wipe;
    wipe.surface = surface;
    wipe.from = p->from;
    wipe.soft = soft;
    wipe.edge = edge;
    wipe.slope = soft ? 0xffffffffu / soft : 0xffffffffu;
    dia_once_places(&wipe.ramp, surface);
    dia_sides_fill(&wipe.ramp, p->from, edge > soft ? edge - soft : 0, edge, over, under, &first,
                   &n, &out);
    dia_mix_run(out, under, over, levels_of, &wipe, first, n);
}

uint32_t dia_wipe_way_ms(const struct dia_wipe *p, const struct dia_surface *surface)
{
    (void)surface;
    return (uint32_t)p->period_ms / 2u - 1u;
}

static const DIA_ROM struct dia_param params[] = {
    PARAM_COLOUR(dia_wipe, colour, "colour", "what comes first"),
    PARAM_COLOUR(dia_wipe, background, "background", "what comes over it"),
    PARAM_CHOICE(dia_wipe, from, "from", "where the edge begins", dia_from_words, 4),
    PARAM_NUMBER(dia_wipe, soft_um, "soft", "width of the edge", DIA_PARAM_LENGTH, 0, 100000000),
    PARAM_NUMBER(dia_wipe, period_ms, "period", "of both wipes together", DIA_PARAM_TIME, 100,
                 3600000),
};

LOOK_GLUE(dia_wipe)
LOOK_WAY(dia_wipe)

const DIA_ROM struct dia_look dia_look_wipe = {
    .name = "wipe",
    .help = "one colour goes over another from one side, then back",
    LOOK_COMMON(dia_wipe, params),
    .way_ms = dia_wipe_way_of_any,
};
