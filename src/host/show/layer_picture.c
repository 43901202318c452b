/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/rig_layer.h>

#include "host_private.h"
#include "rig_place.h"
#include "show_private.h"

/* Layers of the look `picture`: their file, and how they lie over several things. */

void dia_rig_layer_free(struct dia_rig_layer *layer)
{
    dia_film_close(layer->film);
    layer->film = NULL;
}

enum dia_status dia_rig_layer_open(struct dia_rig_layer *layer, struct dia_diagnostic *wrong)
{
    struct dia_picture picture;
    if (layer->look != &dia_look_picture)
        return DIA_OK;
    if (layer->file[0] == 0)
        return dia_host_wrong(wrong, "a picture needs a file: picture file=waves.png");
    memcpy(&picture, &layer->values, sizeof picture);
    dia_rig_layer_free(layer);
    return (layer->live ? dia_film_open_live : dia_film_open)(
        &layer->film, layer->file, (uint32_t)picture.rate * 1000u, wrong);
}

enum dia_status dia_show_join_on_desk(struct dia_rig_layer *layer, const struct dia_rig *rig,
                                      uint32_t first, struct dia_diagnostic *wrong)
{
    struct dia_rectangle ground = {0, 0, 0, 0};
    for (uint32_t k = first; k < layer->parts; k++) {
        struct dia_rig_part *part = &layer->part[k];
        struct dia_rectangle reach;
        if (dia_rig_reach_of(rig, part->is_device, part->number, part->first, part->count,
                             &reach) != DIA_OK)
            return dia_host_wrong(
                wrong,
                "the rig does not say where '%s' is on the desk, which a picture over several "
                "needs; give it such as 'at: { x: 0 mm, y: 20 mm }'",
                part->is_device ? rig->devices[part->number].name : rig->lanes[part->number].name);
        ground = k == first ? reach : dia_rectangle_both(&ground, &reach);
        part->on_desk = 1;
    }
    for (uint32_t k = first; k < layer->parts; k++)
        layer->part[k].ground = ground;
    return DIA_OK;
}

enum dia_status dia_show_all_of_desk(struct dia_rig_layer *layer, const struct dia_rig *rig,
                                     struct dia_diagnostic *wrong)
{
    for (uint32_t k = 0; k < rig->lane_count + rig->device_count; k++) {
        struct dia_rectangle reach;
        int is_device = k >= rig->lane_count;
        uint32_t number = is_device ? k - rig->lane_count : k;
        if ((is_device && rig->devices[number].lamps == 0) ||
            dia_rig_reach_of(rig, (uint8_t)is_device, number, 0, 0, &reach) != DIA_OK)
            continue;
        layer->ground = layer->on_desk ? dia_rectangle_both(&layer->ground, &reach) : reach;
        layer->on_desk = 1;
    }
    if (layer->on_desk)
        return DIA_OK;
    return dia_host_wrong(wrong, "the rig does not say where anything is on the desk; give its "
                                 "lanes such as 'at: { x: 0 mm, y: 20 mm }'");
}
