/* SPDX-License-Identifier: MIT */
#include <diachrome/layout.h>
#include <diachrome/signal.h>

#include "../look/once.h"
#include <diachrome/config.h>
#include "../shade.h"
#include "figure.h"

/* From places on the surface to places on the drawing, along one axis. */
struct across {
    struct dia_surface surface;
    struct dia_ramp ramp;
    int32_t first_um; /* of the leftmost or topmost element */
    uint32_t every_um;
    uint8_t mirrored;
};

static void across_make(struct across *axis, const struct dia_surface *surface, enum dia_axis which,
                        int32_t shift_um, int32_t speed_um_s, uint32_t every_um, uint8_t mirrored,
                        uint32_t ms)
{
    axis->surface = dia_surface_along(*surface, which);
    uint32_t length = (uint32_t)dia_surface_extent_um(surface, which);
    int32_t first = surface->pitch_um / 2;
    dia_once_places(&axis->ramp, &axis->surface);
    axis->every_um = every_um ? every_um : speed_um_s ? length : 0;
    axis->mirrored = mirrored;
    if (mirrored)
        first = (int32_t)length - first;
    if (axis->every_um == 0) {
        axis->first_um =
            shift_um < 0 && first > INT32_MAX + shift_um ? INT32_MAX : first - shift_um;
        return;
    }
    /* where the leftmost is on the copy it is on; below 0 where places are added to it, so that no
     * sum is more than there is, and above where they are taken away */
    uint32_t back = dia_once_offset(speed_um_s, axis->every_um, ms);
    uint32_t shift = (uint32_t)(shift_um < 0 ? -shift_um : shift_um) % axis->every_um;
    back += shift_um < 0 ? axis->every_um - shift : shift;
    back %= axis->every_um;
    uint32_t on = ((uint32_t)first % axis->every_um + axis->every_um - back) % axis->every_um;
    axis->first_um = (int32_t)on - (mirrored ? 0 : (int32_t)axis->every_um);
}

/* Places to those on the first copy. There is nothing to divide but where another copy begins. */
static void onto_one_copy(int32_t *um, uint32_t n, int32_t every)
{
    int32_t copy = 0; /* where it begins */
    for (; n != 0; n--, um++) {
        int32_t on = *um - copy;
        if (on < 0 || on >= every) {
            on = *um % every;
            on = on < 0 ? on + every : on;
            copy = *um - on;
        }
        *um = on;
    }
}

/* Of elements first .. first + n - 1. */
static void across_run(const struct across *axis, uint32_t first, uint32_t n, int32_t *out)
{
    uint32_t places[DIA_RUN];
    dia_ramp_run(&axis->ramp, first, n, places);
    for (uint32_t i = 0; i < n; i++) {
        int32_t um = (int32_t)places[i];
        out[i] = axis->mirrored ? axis->first_um - um : axis->first_um + um;
    }
    if (axis->every_um != 0)
        onto_one_copy(out, n, (int32_t)axis->every_um);
}

static void paint_sprite(const struct figure *figure, uint32_t ms, const int32_t *x,
                         const int32_t *y, uint32_t n, struct dia_rgb *out)
{
    const struct dia_sprite *sprite = figure->of->sprite;
    uint32_t each = (uint32_t)sprite->columns * sprite->rows, picture = 0;
    if (sprite->pictures > 1 && sprite->each_ms) {
        dia_phase turn = dia_phase_at(ms, (uint32_t)sprite->pictures * sprite->each_ms);
        picture = (turn >> 16) * sprite->pictures >> 16;
    }
    for (uint32_t i = 0; i < n; i++) {
        int32_t cell = dia_figure_cell(figure, x[i], y[i]);
        uint8_t colour = cell < 0 ? 0 : sprite->cells[picture * each + (uint32_t)cell];
        if (colour)
            out[i] = sprite->colours[colour - 1];
    }
}

static void paint(const struct figure *figure, const int32_t *x, const int32_t *y, uint32_t n,
                  struct dia_rgb *out)
{
    for (uint32_t i = 0; i < n; i++) {
        uint16_t level = dia_figure_cover(figure, x[i], y[i]);
        if (level)
            out[i] = shade(out[i], figure->of->colour, level);
    }
}

/* How many of n elements of a straight line, from `first` on, lie before a place of the drawing. */
static uint32_t count_before(const struct across *line, int32_t um, uint32_t first, uint32_t n)
{
    uint32_t pitch = (uint32_t)line->surface.pitch_um;
    uint32_t way = um > line->first_um ? (uint32_t)um - (uint32_t)line->first_um : 0;
    uint32_t number = way / pitch + (way % pitch != 0);
    return number <= first ? 0 : number - first < n ? number - first : n;
}

/* Elements i .. end - 1 of those from `first` on, a run at a time. */
static void draw_figure(const struct figure *figure, const struct across *across,
                        const struct across *down, uint32_t ms, uint32_t first, uint32_t i,
                        uint32_t end, struct dia_rgb *out)
{
    int32_t x[DIA_RUN], y[DIA_RUN];
    while (i < end) {
        uint32_t run = end - i < DIA_RUN ? end - i : DIA_RUN;
        across_run(across, first + i, run, x);
        across_run(down, first + i, run, y);
        if (figure->of->kind == DIA_FIGURE_SPRITE)
            paint_sprite(figure, ms, x, y, run, out + i);
        else
            paint(figure, x, y, run, out + i);
        i += run;
    }
}

/* Of a straight line only those elements are looked at that a figure reaches over. */
void dia_drawing_render(const void *values, const struct dia_surface *surface, uint32_t ms,
                        uint32_t first, uint32_t n, struct dia_rgb *out)
{
    const struct dia_drawing *drawing = (const struct dia_drawing *)values;
    struct across across, down;
    struct figure figure;
    across_make(&across, surface, DIA_X, drawing->shift.x_um, drawing->speed_x_um_s,
                drawing->every_x_um, drawing->mirror & DIA_MIRROR_X, ms);
    across_make(&down, surface, DIA_Y, drawing->shift.y_um, drawing->speed_y_um_s,
                drawing->every_y_um, drawing->mirror & DIA_MIRROR_Y, ms);
    uint8_t straight = !surface->layout && across.every_um == 0 && !across.mirrored;
    for (uint8_t k = 0; k < drawing->count; k++) {
        uint32_t from = 0, end = n;
        dia_figure_make(&figure, &drawing->figures[k], surface);
        if (straight) {
            from = count_before(&across, figure.left, first, n);
            end = count_before(&across, figure.right + 1, first, n);
        }
        draw_figure(&figure, &across, &down, ms, first, from, end, out);
    }
}
