/* SPDX-License-Identifier: MIT */
#include <diachrome/look.h>

#include "look_glue.h"
#include "once.h"
#include "../shade.h"
#include "sides.h"

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

/* The head is fully lit, the tail fades behind it; before it and behind the tail is the background.
 * Half a pitch on either side is soft, so that it glides. */
void dia_pulse_render(const struct dia_pulse *p, const struct dia_surface *surface, uint32_t ms,
                      uint32_t first, uint32_t n, struct dia_rgb *out)
{
    uint32_t head = (uint32_t)p->head_um, tail = (uint32_t)p->tail_um + (uint32_t)surface->pitch_um;
    uint32_t soft = (uint32_t)surface->pitch_um;
    uint32_t way = dia_sides_length(surface, p->from) + head + tail;
    uint32_t front = dia_once_gone(ms, way, (uint32_t)p->speed_um_s, (uint32_t)p->rest_ms);
    uint32_t slope = 0xffffffffu / tail, rise = 0xffffffffu / soft;
    uint16_t levels[DIA_RUN];
    uint32_t places[DIA_RUN];
    struct dia_ramp ramp;
    dia_once_places(&ramp, surface);
    uint32_t reach = head + soft + tail;
    dia_sides_fill(&ramp, p->from, front > reach ? front - reach : 0, front, p->background,
                   p->background, &first, &n, &out);
    while (n != 0) {
        uint32_t run = n < DIA_RUN ? n : DIA_RUN;
        dia_sides_run(&ramp, surface, p->from, first, run, places);
        for (uint32_t i = 0; i < run; i++) {
            uint32_t behind = front - places[i]; /* very large before the front */
            uint32_t level = 0;
            if (places[i] >= front)
                level = 0;
            else if (behind < soft)
                level = behind * rise >> 16;
            else if (behind < head + soft)
                level = 65535u;
            else if (behind < head + soft + tail)
                level = 65535u - ((behind - head - soft) * slope >> 16);
            levels[i] = (uint16_t)level;
        }
        dia_shade_run(out, p->background, p->colour, levels, run);
        first += run;
        out += run;
        n -= run;
    }
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
