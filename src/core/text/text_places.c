/* SPDX-License-Identifier: MIT */
#include "../layout/lengths.h"
#include "text_places.h"

/* Pitches in a length, at least one. */
static uint16_t dots_of(int32_t length_um, int32_t pitch_um)
{
    int32_t dots = length_um / pitch_um;
    return (uint16_t)(dots < 1 ? 1 : dots > 65535 ? 65535 : dots);
}

/* Round the middle a text goes along the circle, and down towards the middle. */
void dia_text_places_begin(struct text_places *places, const struct dia_surface *surface)
{
    struct dia_bounds bounds;
    int32_t pitch = surface->pitch_um;
    places->surface = surface;
    places->screen.pitch_um = pitch;
    dia_surface_bounds(surface, &bounds);
    places->corner.x_um = further_um(bounds.left_um, -(pitch / 2));
    places->corner.y_um = further_um(bounds.top_um, -(pitch / 2));
    if (surface->axis == DIA_ANGLE) {
        places->screen.columns = dots_of(dia_surface_extent_um(surface, DIA_ANGLE), pitch);
        places->screen.rows = dots_of(lengths_um(bounds.reach_um, pitch / 2), pitch);
    } else {
        places->screen.columns = dots_of(bounds.width_um, pitch);
        places->screen.rows = dots_of(bounds.height_um, pitch);
    }
}

static uint16_t within(int32_t at, uint16_t count)
{
    return (uint16_t)(at < 0 ? 0 : at < count ? at : count - 1);
}

static void run_round(struct text_places *places, uint32_t first, uint32_t n)
{
    uint16_t columns = places->screen.columns, rows = places->screen.rows;
    dia_surface_shares(places->surface, DIA_ANGLE, first, n, places->column);
    dia_surface_shares(places->surface, DIA_RADIUS, first, n, places->row);
    for (uint32_t i = 0; i < n; i++) {
        uint32_t turn = places->column[i] * (uint32_t)columns + 32768u;
        uint32_t in = (65535u - places->row[i]) * (uint32_t)rows;
        places->column[i] = (uint16_t)((turn >> 16) < columns ? turn >> 16 : 0);
        places->row[i] = within((int32_t)(in >> 16), rows);
    }
}

/* Which dot is at a length from the corner. Neighbours are mostly on the same dot or on the next
 * one, on either side: a division only from far. */
struct dot {
    uint32_t from; /* where it begins */
    uint16_t number;
};

static void step_to(struct dot *dot, uint32_t at, uint32_t pitch, uint16_t count)
{
    uint32_t on = at - dot->from;
    if (on < pitch)
        return;
    if (on - pitch < pitch && dot->number + 1u < count) {
        dot->number++;
        dot->from += pitch;
    } else if (on + pitch < pitch && dot->number != 0) {
        dot->number--;
        dot->from -= pitch;
    } else {
        dot->number = within((int32_t)(at / pitch), count);
        dot->from = dot->number * pitch;
    }
}

void dia_text_places_run(struct text_places *places, uint32_t first, uint32_t n)
{
    struct dia_point points[DIA_RUN];
    if (places->surface->axis == DIA_ANGLE) {
        run_round(places, first, n);
        return;
    }
    dia_surface_points(places->surface, first, n, points);
    uint32_t pitch = (uint32_t)places->screen.pitch_um;
    struct dot column = {0, 0}, row = {0, 0};
    for (uint32_t i = 0; i < n; i++) {
        step_to(&column, (uint32_t)points[i].x_um - (uint32_t)places->corner.x_um, pitch,
                places->screen.columns);
        step_to(&row, (uint32_t)points[i].y_um - (uint32_t)places->corner.y_um, pitch,
                places->screen.rows);
        places->column[i] = column.number;
        places->row[i] = row.number;
    }
}

/* How many elements from the i-th on lie in the same eight rows and in DIA_RUN columns, which begin
 * with *left. */
static uint32_t together(const struct text_places *places, uint32_t i, uint32_t n, uint16_t *left,
                         uint16_t *right)
{
    uint16_t band = places->row[i] / 8u;
    uint32_t k = i;
    *left = *right = places->column[i];
    for (; k < n && places->row[k] / 8u == band; k++) {
        uint16_t at = places->column[k], from = at < *left ? at : *left,
                 to = at > *right ? at : *right;
        if (to - from >= (int32_t)DIA_RUN)
            break;
        *left = from;
        *right = to;
    }
    return k - i;
}

void dia_text_places_lit(const struct text_places *places, const struct dia_text *text, uint32_t ms,
                         uint32_t n, uint8_t *lit)
{
    uint8_t dots[DIA_RUN];
    for (uint32_t i = 0, end; i < n; i = end) {
        uint16_t left, right, top = (uint16_t)(places->row[i] & ~7u);
        end = i + together(places, i, n, &left, &right);
        dia_text_columns(text, &places->screen, ms, left, (uint16_t)(right - left + 1u), top, dots);
        for (uint32_t k = i; k < end; k++)
            lit[k] = dots[places->column[k] - left] >> (places->row[k] & 7u) & 1;
    }
}
