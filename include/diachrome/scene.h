/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_SCENE_H
#define DIACHROME_SCENE_H

#include <stdint.h>

#include "colour.h"
#include "linkage.h"
#include "player.h"
#include "rig.h"

DIA_BEGIN

/*
 * The desk as numbers, for those who draw it themselves: where every element is, and frame after
 * frame what an eye sees of it, as the bench decoded it.
 *
 *   struct dia_scene *scene = dia_scene_new(rig);      rig: dia_player_desk(player)
 *   uint8_t *bytes = malloc(scene->bytes);
 *   dia_scene_see(scene, player, bytes);               after each frame
 *   dia_scene_free(scene);
 *
 * Cost: dia_scene_see takes some nanoseconds an element.
 * Context: one thread at a time for an object; not from an interrupt.
 */
enum dia_scene_shape {
    DIA_SCENE_SQUARE, /* a pixel, which glows */
    DIA_SCENE_ROUND,  /* a lamp or a dot */
    DIA_SCENE_BAR,    /* a segment with pointed ends */
    DIA_SCENE_FALLS,  /* one from the upper left to the lower right */
    DIA_SCENE_RISES,  /* from the lower left to the upper right */
    DIA_SCENE_CELL    /* of a character display: 5 x 8 dots, dark on a lit ground */
};

/* Millimetres from the upper left corner of the desk: its middle, and how large it is. */
struct dia_scene_element {
    float x, y, w, h;
    uint8_t shape; /* enum dia_scene_shape */
    uint8_t turn;  /* quarter turns clockwise */
};

/* A lane or a device, with its elements one after the other. */
struct dia_scene_thing {
    const char *name; /* the rig's */
    uint8_t is_device;
    uint32_t number;           /* of the lane or device */
    float x, y, width, height; /* mm; its upper left corner */
    struct dia_rgb ground;     /* what is behind its elements */
    uint32_t first, count;     /* of its elements */
    uint32_t at;               /* of its bytes in a frame */
};

#define DIA_SCENE_CELL_BYTES 9

struct dia_scene {
    float width, height; /* of the desk, mm */
    uint32_t thing_count, count;
    struct dia_scene_thing *things;
    struct dia_scene_element *elements;
    uint32_t bytes; /* of a frame */
};

/* NULL: no memory. The rig must stay. */
struct dia_scene *dia_scene_new(const struct dia_rig *rig);
void dia_scene_free(struct dia_scene *scene);

/*
 * What an eye sees now: of pixels, lamps and segments 3 bytes each, an sRGB colour; of cells
 * DIA_SCENE_CELL_BYTES each: 1 where its dots are to be seen, and 8 rows of dots from the top, bit
 * 4 at the left.
 */
void dia_scene_see(const struct dia_scene *scene, const struct dia_player *player, uint8_t *bytes);

DIA_END

#endif
