/* SPDX-License-Identifier: MIT */
#include <diachrome/layout.h>
#include <diachrome/signal.h>

#include "../look/once.h"
#include <diachrome/config.h>
#include "figure.h"

#define AT_ONCE (DIA_RUN / 2) /* elements: each takes 12 bytes of stack */

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

/* Places to those on the first copy. From one to the next there is nothing to divide but where
 * another copy begins. Ways between places may be 32 bits long. */
static void onto_one_copy(int32_t *um, uint32_t n, uint32_t every)
{
    int32_t last = 0; /* lies at 0 of its copy */
    uint32_t on = 0;
    for (; n != 0; n--, um++) {
        uint32_t on_by = (uint32_t)*um - (uint32_t)last, back_by = 0u - on_by;
        if (*um >= last && on_by < every - on) {
            on += on_by;
        } else if (*um < last && back_by <= on) {
            on -= back_by;
        } else {
            int32_t rest = *um % (int32_t)every;
            on = rest < 0 ? (uint32_t)rest + every : (uint32_t)rest;
        }
        last = *um;
        *um = (int32_t)on;
    }
}

/* Of elements first .. first + n - 1. */
static void across_run(const struct across *axis, uint32_t first, uint32_t n, int32_t *out)
{
    uint32_t places[AT_ONCE];
    dia_ramp_run(&axis->ramp, first, n, places);
    for (uint32_t i = 0; i < n; i++) {
        int32_t um = (int32_t)places[i];
        out[i] = axis->mirrored ? axis->first_um - um : axis->first_um + um;
    }
    if (axis->every_um != 0)
        onto_one_copy(out, n, axis->every_um);
}

/* A place on its copy, and on the copy beside it where the element lies over the end of both. */
static uint8_t both_copies(const struct figure *figure, const struct across *axis, int32_t um,
                           int32_t on[2])
{
    int32_t every = (int32_t)axis->every_um, margin = figure->margin_um;
    on[0] = um;
    if (every == 0 || margin == 0 || (um >= margin && um < every - margin) ||
        (um < margin && um > INT32_MAX - every))
        return 1;
    on[1] = um < margin ? um + every : um - every;
    return 2;
}

static uint8_t mixed(uint8_t below, uint32_t light, uint32_t part)
{
    uint32_t sum = dia_light_of(below) * (65536u - part) + light;
    return dia_code_of((dia_light)(sum >> 16));
}

static void put(struct dia_rgb *out, const struct cover *cover)
{
    uint32_t part = cover->part < 65536u ? cover->part : 65536u;
    out->r = mixed(out->r, cover->r, part);
    out->g = mixed(out->g, cover->g, part);
    out->b = mixed(out->b, cover->b, part);
}

/* One element. All that covers it is added up first, then goes over what is below. */
static void paint(const struct figure *figure, const int32_t x[2], uint8_t across,
                  const int32_t y[2], uint8_t down, uint32_t ms, struct dia_rgb *out)
{
    struct cover cover = {0, 0, 0, 0};
    const struct dia_rgb colour = figure->of->colour;
    for (uint8_t k = 0; k < across * down; k++) {
        int32_t at_x = x[k < across ? k : k - across], at_y = y[k >= across];
        if (figure->of->kind == DIA_FIGURE_SPRITE)
            dia_sprite_cover(figure, ms, at_x, at_y, &cover);
        else
            cover.part += dia_figure_cover(figure, at_x, at_y);
    }
    if (cover.part == 0)
        return;
    if (figure->of->kind != DIA_FIGURE_SPRITE) {
        if (cover.part >= 65535u) {
            *out = colour;
            return;
        }
        cover.r = dia_light_of(colour.r) * cover.part;
        cover.g = dia_light_of(colour.g) * cover.part;
        cover.b = dia_light_of(colour.b) * cover.part;
    }
    put(out, &cover);
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
    int32_t x[AT_ONCE], y[AT_ONCE];
    while (i < end) {
        uint32_t run = end - i < AT_ONCE ? end - i : AT_ONCE;
        across_run(across, first + i, run, x);
        across_run(down, first + i, run, y);
        for (uint32_t k = 0; k < run; k++) {
            int32_t both_x[2], both_y[2];
            uint8_t wide = both_copies(figure, across, x[k], both_x);
            uint8_t high = both_copies(figure, down, y[k], both_y);
            paint(figure, both_x, wide, both_y, high, ms, &out[i + k]);
        }
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
    struct dia_point every = {(int32_t)across.every_um, (int32_t)down.every_um};
    uint8_t straight = !surface->layout && across.every_um == 0 && !across.mirrored;
    for (uint8_t k = 0; k < drawing->count; k++) {
        uint32_t from = 0, end = n;
        dia_figure_make(&figure, &drawing->figures[k], surface, every);
        if (straight) {
            from = count_before(&across, figure.left, first, n);
            end = count_before(&across, figure.right + 1, first, n);
        }
        draw_figure(&figure, &across, &down, ms, first, from, end, out);
    }
}
