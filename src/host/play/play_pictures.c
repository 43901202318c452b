/* SPDX-License-Identifier: MIT */
#include <string.h>

#include "play_pictures.h"

void dia_play_picture(struct play_picture *to, const struct dia_rig_layer *layer,
                      const struct dia_rig_part *part, const struct dia_surface *surface,
                      const struct dia_rig *rig, const struct dia_rig_device *device,
                      uint32_t number, enum dia_status *status)
{
    const struct dia_rig_at *at = device ? &device->at : &rig->lanes[number].at;
    union dia_look_values values;
    struct dia_surface line;
    memset(to, 0, sizeof *to);
    to->film = layer->film;
    to->surface = surface;
    to->first = part ? part->first : 0;
    to->status = status;
    to->on_desk = part ? part->on_desk : layer->on_desk;
    if (to->on_desk) {
        to->ground = part ? part->ground : layer->ground;
        dia_rig_place(&to->place, at, surface);
    } else {
        to->ground = dia_rig_reach(surface, to->first,
                                   part && part->count ? part->count : surface->count, NULL);
    }
    if (device && device->channels == 1 && dia_rig_lies(device) == DIA_LIES_DOTS) {
        to->columns = device->surface.count;
        to->rows = device->lamps / device->surface.count;
    } else if (device && dia_rig_lies(device) == DIA_LIES_LINE && device->depth == 1) {
        to->columns = surface->count;
        to->rows = 1;
    }
    /* px are pitches, and % parts of how wide the ground is */
    uint32_t wide = (uint32_t)(to->ground.width_um / surface->pitch_um);
    line = *surface;
    dia_surface_line(&line, wide ? wide : 1, 0, surface->pitch_um);
    dia_rig_layer_values(layer, &line, &values);
    memcpy(&to->values, &values, sizeof to->values);
}

#define AT_ONCE 128u

static void sample(const struct play_picture *p, const struct dia_picture_lie *lie, uint32_t first,
                   uint32_t n, struct dia_rgb *out, uint8_t *covered)
{
    struct dia_point points[AT_ONCE];
    while (n) {
        uint32_t some = n < AT_ONCE ? n : AT_ONCE;
        dia_surface_points(p->surface, first, some, points);
        for (uint32_t i = 0; i < some && p->on_desk; i++)
            points[i] = dia_rig_place_point(&p->place, points[i]);
        dia_picture_points(lie, points, some, p->surface->pitch_um, out, covered);
        first += some;
        out += some;
        covered = covered ? covered + some : NULL;
        n -= some;
    }
}

/* Dots are dithered all at once, so that what is spread comes from all of them. */
static void dots(const struct play_picture *p, const struct dia_picture_lie *lie, uint32_t first,
                 uint32_t n, struct dia_rgb *out)
{
    struct dia_rgb all[DIA_RIG_LAMPS];
    uint8_t covered[DIA_RIG_LAMPS];
    uint32_t count = p->columns * p->rows;
    memset(all, 0, count * sizeof *all);
    memcpy(all + first, out, n * sizeof *all);
    sample(p, lie, 0, count, all, covered);
    dia_picture_dither((enum dia_picture_dither)p->values.dither, p->columns, p->rows, all);
    for (uint32_t i = 0; i < n; i++) {
        if (covered[first + i])
            out[i] = all[first + i];
    }
}

void dia_play_picture_render(const void *picture, const struct dia_surface *surface, uint32_t ms,
                             uint32_t first, uint32_t n, struct dia_rgb *out)
{
    const struct play_picture *p = picture;
    struct dia_picture_lie lie;
    struct dia_film_frame frame;
    struct dia_diagnostic wrong = {""};
    uint64_t us;
    (void)surface;
    if (!p->film || dia_picture_time(&p->values, dia_film_length_us(p->film), ms, &us))
        return;
    enum dia_status status = dia_film_at(p->film, us, &frame, &wrong);
    if (status != DIA_OK) {
        *p->status = status;
        return;
    }
    dia_picture_lay(&lie, &p->values, &frame, &p->ground, p->surface->pitch_um, ms);
    if (p->columns)
        dots(p, &lie, p->first + first, n, out);
    else
        sample(p, &lie, p->first + first, n, out, NULL);
}
