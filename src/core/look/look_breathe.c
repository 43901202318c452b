/* SPDX-License-Identifier: MIT */
#include <diachrome/look.h>
#include <diachrome/signal.h>

#include <diachrome/frame.h>

#include "look_glue.h"
#include "../shade.h"

void dia_breathe_defaults(struct dia_breathe *p)
{
    p->colour.r = 255;
    p->colour.g = 170;
    p->colour.b = 80;
    p->low = DIA_SHARE_ONE / 8;
    p->period_ms = 4000;
}

void dia_breathe_render(const struct dia_breathe *p, const struct dia_surface *surface, uint32_t ms,
                        uint32_t first, uint32_t n, struct dia_rgb *out)
{
    const struct dia_rgb black = {0, 0, 0};
    uint16_t level = dia_signal_sine(dia_phase_at(ms, (uint32_t)p->period_ms));
    uint32_t low = (uint32_t)p->low;
    /* of 65535: low for the dark end, full for the bright one */
    level = (uint16_t)((low * 65535u + (uint32_t)level * (DIA_SHARE_ONE - low)) >> 15);
    struct dia_frame run = {out, n};
    (void)surface;
    (void)first;
    dia_frame_fill(&run, shade(black, p->colour, level));
}

static const DIA_ROM struct dia_param params[] = {
    PARAM_COLOUR(dia_breathe, colour, "colour", "at its brightest"),
    PARAM_NUMBER(dia_breathe, low, "low", "how dark it gets", DIA_PARAM_SHARE, 0, DIA_SHARE_ONE),
    PARAM_NUMBER(dia_breathe, period_ms, "period", "from one breath to the next", DIA_PARAM_TIME,
                 100, 3600000),
};

LOOK_GLUE(dia_breathe)

const DIA_ROM struct dia_look dia_look_breathe = {
    .name = "breathe",
    .help = "every element one colour, rising and falling",
    LOOK_COMMON(dia_breathe, params),
};
