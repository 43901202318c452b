/* SPDX-License-Identifier: MIT */
#include <diachrome/look.h>
#include <diachrome/signal.h>

#include <diachrome/frame.h>

#include "look_glue.h"

void dia_blink_defaults(struct dia_blink *p)
{
    p->colour.r = 255;
    p->colour.g = 120;
    p->colour.b = 0;
    p->other.r = p->other.g = p->other.b = 0;
    p->duty = DIA_SHARE_ONE / 2;
    p->period_ms = 1000;
}

void dia_blink_render(const struct dia_blink *p, const struct dia_surface *surface, uint32_t ms,
                      uint32_t first, uint32_t n, struct dia_rgb *out)
{
    struct dia_frame run = {out, n};
    dia_phase phase = dia_phase_at(ms, (uint32_t)p->period_ms);
    (void)surface;
    (void)first;
    dia_frame_fill(&run, dia_signal_pulse(phase, (dia_share)p->duty) ? p->colour : p->other);
}

static const DIA_ROM struct dia_param params[] = {
    PARAM_COLOUR(dia_blink, colour, "colour", "what shows first"),
    PARAM_COLOUR(dia_blink, other, "other", "what shows after it"),
    PARAM_NUMBER(dia_blink, duty, "duty", "share of the period for the first", DIA_PARAM_SHARE, 0,
                 DIA_SHARE_ONE),
    PARAM_NUMBER(dia_blink, period_ms, "period", "of both together", DIA_PARAM_TIME, 20, 3600000),
};

LOOK_GLUE(dia_blink)

const DIA_ROM struct dia_look dia_look_blink = {
    .name = "blink",
    .help = "every element one of two colours, in turns",
    LOOK_COMMON(dia_blink, params),
};
