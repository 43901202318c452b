/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_PLAY_PICTURES_H
#define DIA_HOST_PLAY_PICTURES_H

#include <diachrome/rig_layer.h>

#include "rig_place.h"

/* A part of a layer of the look `picture` at work. */
struct play_picture {
    struct dia_film *film;
    struct dia_picture values;
    const struct dia_surface *surface; /* of the whole lane or device */
    uint32_t first;                    /* its element that is the first of the part */
    struct dia_rectangle ground;
    struct rig_place place; /* where the ground is that of the desk */
    uint32_t columns, rows; /* of dots that are lit or not; else 0 */
    uint8_t on_desk;
    enum dia_status *status; /* what became of its frames */
};

/* device is NULL for a lane; part is NULL for all of it. */
void dia_play_picture(struct play_picture *to, const struct dia_rig_layer *layer,
                      const struct dia_rig_part *part, const struct dia_surface *surface,
                      const struct dia_rig *rig, const struct dia_rig_device *device,
                      uint32_t number, enum dia_status *status);

/* A dia_render of it; surface is not looked at. */
void dia_play_picture_render(const void *picture, const struct dia_surface *surface, uint32_t ms,
                             uint32_t first, uint32_t n, struct dia_rgb *out);

#endif
