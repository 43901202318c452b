/* SPDX-License-Identifier: MIT */
#include "once.h"
#include "reveal_steps.h"
#include "sides.h"

/* There and back again. */
static uint32_t all_of(const struct dia_reveal *p, uint32_t steps)
{
    return p->retreat == DIA_RETREAT_AT_ONCE ? steps : 2u * steps;
}

/* Of more elements than one could ever see, no more steps than there are ms in those 24 days. */
static uint32_t steps_of(uint32_t places, uint32_t step)
{
    uint32_t steps = (places + step - 1u) / step;
    return steps == 0 ? 1u : steps < 0x3f800000u ? steps : 0x3f800000u;
}

/* How long a step takes: all of it, holds too, is 24 days at most. */
static uint32_t every_of(const struct dia_reveal *p, uint32_t steps)
{
    uint32_t every = (uint32_t)p->every_ms, most = 0x7f000000u / all_of(p, steps);
    return every < most ? every : most;
}

uint32_t dia_reveal_places(const struct dia_surface *surface, int32_t from)
{
    uint32_t pitch = (uint32_t)surface->pitch_um;
    return (dia_sides_length(surface, from) + pitch - 1u) / pitch;
}

struct reveal_lit dia_reveal_lit(const struct dia_reveal *p, uint32_t ms, uint32_t places)
{
    uint32_t hold = (uint32_t)p->hold_ms, step = (uint32_t)p->step;
    uint32_t steps = steps_of(places, step), every = every_of(p, steps);
    uint32_t gone = dia_once_elapsed(ms, all_of(p, steps) * every + 2u * hold + 1u);
    struct reveal_lit lit = {(gone / every + 1u) * step, 0};
    if (gone >= steps * every) {
        uint32_t later = gone - steps * every;
        uint32_t back = later < hold ? 0 : (later - hold) / every + 1u;
        lit.to = places;
        if (back != 0 && (back > steps || p->retreat == DIA_RETREAT_AT_ONCE))
            lit.to = 0;
        else if (p->retreat == DIA_RETREAT_ON)
            lit.out_to = back * step;
        else
            lit.to = (steps - back) * step;
    }
    return lit;
}

uint32_t dia_reveal_way_ms(const struct dia_reveal *p, const struct dia_surface *surface)
{
    uint32_t steps = steps_of(dia_reveal_places(surface, p->from), (uint32_t)p->step);
    uint32_t every = every_of(p, steps);
    return steps * every - 1u; /* the last step is lit, and rests */
}
