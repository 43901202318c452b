/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_MASKS_H
#define DIA_HOST_MASKS_H

#include <cairo.h>

#include "light.h"
#include "view.h"

/* Which pixels of a picture each element of a thing covers, and how much of them. */
struct masks {
    uint32_t *first; /* of each element, in the two lists; one more at the end */
    uint32_t *pixels;
    uint8_t *covers;
    uint32_t count, room; /* of the lists */
};

/* As they lie by the matrix of cr, in millimetres of the thing. 0, or -1: no memory. */
int dia_masks_draw(struct masks *masks, cairo_t *cr, const struct view *view, int width,
                   int height);
void dia_masks_free(struct masks *masks);

static inline struct shine_lamp dia_masks_lamp(const struct masks *masks, uint32_t element)
{
    uint32_t first = masks->first[element];
    return (struct shine_lamp){masks->pixels + first, masks->covers + first,
                               masks->first[element + 1] - first};
}

#endif
