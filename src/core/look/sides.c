/* SPDX-License-Identifier: MIT */
#include "sides.h"
#include "../join.h"

const DIA_ROM char dia_from_words[] = "start end middle sides";

uint32_t dia_sides_length(const struct dia_surface *surface, int32_t from)
{
    uint32_t length = (uint32_t)dia_surface_length_um(surface);
    return from == DIA_FROM_MIDDLE || from == DIA_FROM_SIDES ? length / 2 + (length & 1u) : length;
}

/* Each element owns a pitch: the last one is as far from the end as the first from the start. */
void dia_sides_run(const struct dia_ramp *ramp, const struct dia_surface *surface, int32_t from,
                   uint32_t first, uint32_t n, uint32_t *out)
{
    uint32_t length = (uint32_t)dia_surface_length_um(surface), pitch = (uint32_t)surface->pitch_um;
    uint32_t last = length > pitch ? length - pitch : 0;
    dia_ramp_run(ramp, first, n, out);
    if (from == DIA_FROM_START)
        return;
    for (uint32_t i = 0; i < n; i++) {
        uint32_t place = out[i] < last ? out[i] : last, back = last - place;
        uint32_t near = place < back ? place : back;
        out[i] = from == DIA_FROM_END ? back : from == DIA_FROM_SIDES ? near : last / 2 - near;
    }
}

/* How many elements of a line lie before a place. */
static uint32_t count_before(uint32_t step, uint32_t um)
{
    return um / step + (um % step != 0);
}

struct sides_parts dia_sides_split(const struct dia_ramp *places, int32_t from, uint32_t first,
                                   uint32_t n, uint32_t low_um, uint32_t high_um)
{
    struct sides_parts parts = {0, n, 0};
    if (places->surface || places->step == 0 || from != DIA_FROM_START)
        return parts;
    uint32_t low = count_before(places->step, low_um), high = count_before(places->step, high_um);
    low = low <= first ? 0 : low - first < n ? low - first : n;
    high = high <= first ? 0 : high - first < n ? high - first : n;
    parts.before = low;
    parts.within = high > low ? high - low : 0;
    parts.straight = 1;
    return parts;
}

void dia_sides_fill(const struct dia_ramp *places, int32_t from, uint32_t low_um, uint32_t high_um,
                    struct dia_rgb before, struct dia_rgb behind, uint32_t *first, uint32_t *n,
                    struct dia_rgb **out)
{
    struct sides_parts parts = dia_sides_split(places, from, *first, *n, low_um, high_um);
    uint32_t up_to = parts.before + parts.within;
    dia_fill_run(*out, before, parts.before);
    dia_fill_run(*out + up_to, behind, *n - up_to);
    *first += parts.before;
    *out += parts.before;
    *n = parts.within;
}
