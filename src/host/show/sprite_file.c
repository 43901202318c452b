/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/film.h>
#include <diachrome/rig_layer.h>

#include "host_private.h"

/* The number of a colour, from 1 on; 0: there is no room for one more. */
static unsigned number_of(struct dia_rig_sprite *sprite, unsigned *count, struct dia_rgb colour)
{
    for (unsigned k = 0; k < *count; k++) {
        if (memcmp(&sprite->colours[k], &colour, sizeof colour) == 0)
            return k + 1;
    }
    if (*count == 255)
        return 0;
    sprite->colours[*count] = colour;
    return ++*count;
}

static enum dia_status take(struct dia_rig_sprite *sprite, const struct dia_film_frame *frame,
                            const char *path, struct dia_diagnostic *wrong)
{
    unsigned count = 0;
    if (frame->columns > DIA_RIG_SPRITE || frame->rows > DIA_RIG_SPRITE)
        return dia_host_wrong(wrong, "%s: a sprite has at most %d by %d pixels; this has %u by %u",
                              path, DIA_RIG_SPRITE, DIA_RIG_SPRITE, (unsigned)frame->columns,
                              (unsigned)frame->rows);
    sprite->columns = (uint8_t)frame->columns;
    sprite->rows = (uint8_t)frame->rows;
    for (uint32_t k = 0; k < frame->columns * frame->rows; k++) {
        uint32_t pixel = frame->pixels[k];
        struct dia_rgb colour = {(uint8_t)pixel, (uint8_t)(pixel >> 8), (uint8_t)(pixel >> 16)};
        unsigned cell = pixel >> 24 < 128 ? 0 : number_of(sprite, &count, colour);
        if (cell == 0 && pixel >> 24 >= 128)
            return dia_host_wrong(wrong, "%s: a sprite has at most 255 colours; this has more",
                                  path);
        sprite->cells[k] = (uint8_t)cell;
    }
    return DIA_OK;
}

enum dia_status dia_rig_sprite_read(const char *path, struct dia_rig_sprite *sprite,
                                    struct dia_diagnostic *wrong)
{
    struct dia_rig_sprite read;
    struct dia_film *film;
    struct dia_film_frame frame;
    memset(&read, 0, sizeof read);
    enum dia_status status = dia_film_open(&film, path, 1000, wrong);
    if (status == DIA_OK)
        status = dia_film_at(film, 0, &frame, wrong);
    if (status == DIA_OK)
        status = take(&read, &frame, path, wrong);
    dia_film_close(film);
    if (status == DIA_OK)
        *sprite = read;
    return status;
}
