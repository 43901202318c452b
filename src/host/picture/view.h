/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_VIEW_H
#define DIA_HOST_VIEW_H

#include <diachrome/rig.h>

/*
 * How a thing of the rig looks from the front: where each of its elements is, and of what shape.
 * Millimetres, x to the right and y downwards from the upper left corner.
 */
enum view_shape {
    VIEW_SQUARE, /* a pixel, which glows */
    VIEW_ROUND,  /* a lamp or the dot of a module, which glows a little */
    VIEW_BAR,    /* a segment: a bar with pointed ends */
    VIEW_FALLS,  /* one that goes from the upper left to the lower right */
    VIEW_RISES,  /* and from the lower left to the upper right */
    VIEW_CELL    /* of a character display: a character, dark on a lit ground */
};
struct view_element {
    float x, y, w, h; /* its middle, and how large it is */
    uint8_t shape;    /* enum view_shape */
};
struct view {
    float width, height;
    float most; /* pixels of a picture for a millimetre, at most */
    uint32_t count;
    struct view_element *elements; /* on the heap; NULL: memory ran out */
};

/* A lane as its pixels lie. */
void dia_view_of_lane(struct view *view, const struct dia_rig *rig,
                      const struct dia_rig_lane *lane);
/* A device as it looks. */
void dia_view_of_device(struct view *view, const struct dia_rig_device *device);

/* What an eye sees of its elements, from the drives of a reel (see reel.h), and of its ground. */
struct dia_rgb dia_view_seen(const struct dia_rig_device *device, const uint8_t drive[4]);
struct dia_rgb dia_view_ground(const struct dia_rig_device *device);

void dia_view_free(struct view *view);

#endif
