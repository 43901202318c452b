/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_RIG_LAYER_H
#define DIACHROME_RIG_LAYER_H

#include <stdint.h>

#include "diagnostic.h"
#include "draw.h"
#include "drawings.h"
#include "layer.h"
#include "linkage.h"
#include "look_text.h"
#include "path.h"
#include "picture.h"
#include "player.h"
#include "rig.h"

DIA_BEGIN

/*
 * A layer on a rig: a look, on which lanes and devices, and how it goes with the layers below.
 *
 * Cost: one pass over the text; microseconds.
 * Context: one thread at a time for an object; not from an interrupt.
 */
#define DIA_RIG_LAYERS 32 /* of one show */
#define DIA_RIG_PARTS  16 /* of one layer */

/* A stretch of a lane or device. Parts that are joined follow each other on one line. */
struct dia_rig_part {
    uint8_t is_device;
    uint32_t number;       /* of the lane or device */
    uint32_t first, count; /* elements that have a place; count 0: all of them, as they lie */
    uint32_t offset, all;  /* where it begins on the line of those joined, and its length; all 0:
                              it is joined to none */
    int32_t pitch_um;      /* of that line: of the first of them */
    uint8_t on_desk;       /* of the look `picture`: 1: joined to others by where it is, */
    struct dia_rectangle ground; /* and what all of these reach over on the desk */
};

/* A picture that a layer of the look `draw` shows instead of a figure. */
#define DIA_RIG_SPRITE 32 /* columns and rows, at most */
struct dia_rig_sprite {
    uint8_t columns, rows; /* 0: there is none */
    uint8_t cells[DIA_RIG_SPRITE * DIA_RIG_SPRITE];
    struct dia_rgb colours[255];
};

/* From a picture (see film.h) of at most 32 by 32 pixels and 255 colours, the first frame of it;
 * what is more than half transparent shows what is below. */
enum dia_status dia_rig_sprite_read(const char *path, struct dia_rig_sprite *sprite,
                                    struct dia_diagnostic *wrong);

/* The same of a drawing with frames: it and its file must stay. */
struct dia_rig_drawn {
    const struct dia_dots *dots; /* NULL: there is none */
    const struct dia_drawings *of;
};

/* A length or speed that is in pixels or in parts of where it is shown: each part of a layer has
 * its own. */
struct dia_rig_relative {
    const struct dia_param *param;
    uint8_t of_length; /* 1: millionths of the length; 0: thousandths of a pitch */
    int32_t amount;
};
#define DIA_RIG_RELATIVES 6

struct dia_rig_layer {
    const struct dia_look *look;
    union dia_look_values values;
    struct dia_rig_relative relative[DIA_RIG_RELATIVES]; /* in place of their values */
    uint32_t relatives;
    uint8_t axis;  /* enum dia_axis that the look runs along */
    uint8_t blend; /* enum dia_blend */
    dia_share level;
    uint32_t start_ms, length_ms, fade_in_ms, fade_out_ms, ahead_ms; /* as in layer.h */
    struct dia_rig_sprite
        sprite;                 /* its upper left corner at x, y of `draw`, its pixels a `width` */
    struct dia_rig_drawn drawn; /* or this in its place */
    struct dia_path path; /* of `draw`: where its x and y are, in their place; its points follow */
    struct dia_point path_points[DIA_PATH_POINTS];
    const struct dia_drawing_files *files; /* where faces and drawings come from; NULL: nowhere */
    uint8_t live;                          /* 1: streams of pictures show their newest frame */
    struct dia_film *film;                 /* of the look `picture`, when it is open; the layer's */
    uint8_t on_desk;                       /* 1: it is on all of the desk as one, */
    struct dia_rectangle ground;           /* which reaches over this */
    char file[DIA_TEXT_SAYS];              /* of the look `picture`; it is none of its values */
    char says[DIA_TEXT_SAYS];              /* of the look `text` */
    char says_on_digits[DIA_TEXT_SAYS];    /* the same for digits, where a point takes no place */
    uint8_t cursor;                        /* of the look `text` on cells: enum dia_cursor */
    uint8_t rests; /* 1: on each part its look stops at the end of its way (see dia_look) */
    uint8_t masked;
    struct dia_wave mask; /* where masked, on each part by itself */
    uint32_t parts;       /* 0: on everything */
    struct dia_rig_part part[DIA_RIG_PARTS];
};

/* A look with its defaults, on everything. */
void dia_rig_layer_init(struct dia_rig_layer *layer, const struct dia_look *look);

/* Gives back a film that dia_rig_layer_read or dia_rig_layer_open opened. Copies of the layer show
 * it no more. */
void dia_rig_layer_free(struct dia_rig_layer *layer);

/* Opens the file of the look `picture`, after its parameters have been set; no-op for others.
 * dia_rig_layer_read does it too. */
enum dia_status dia_rig_layer_open(struct dia_rig_layer *layer, struct dia_diagnostic *wrong);

/*
 * Reads a layer as people write it:
 *
 *   LOOK [KEY=VALUE...] [on WHERE] [along AXIS] [blend BLEND] [level SHARE]
 *        [from TIME] [for TIME] [fade-in TIME] [fade-out TIME] [mask WAVE]
 *        [sprite FILE.png or NAME] [path PATH] [cursor CURSOR]
 *
 *   chase colour=gold lights=5 on handrail,buoys blend add level 50% from 2s for 10s
 *
 * WHERE is names with commas; NAME[0-59] is a stretch, and NAME+NAME+... joins them to one line.
 * docs/layers.md has it all. DIA_BAD_VALUE and a diagnostic, with nothing changed, when it is
 * wrong.
 */
enum dia_status dia_rig_layer_read(struct dia_rig_layer *layer, const struct dia_rig *rig,
                                   const char *text, struct dia_diagnostic *wrong);

/* How long the way of its look is where it is longest, ms; 0: it has none, and goes on and on. */
uint32_t dia_rig_layer_way_ms(const struct dia_rig *rig, const struct dia_rig_layer *layer);

/* Sets a parameter as dia_look_set does; lengths and speeds may be in px and %, px/s and turns/s
 * too, which are those of where the layer is. */
enum dia_status dia_rig_layer_set(struct dia_rig_layer *layer, const char *setting,
                                  struct dia_diagnostic *wrong);

/* The parameter keeps its value, and is no longer in px or parts. */
void dia_rig_layer_fix(struct dia_rig_layer *layer, const struct dia_param *param);

/* The values of the look on a surface. */
void dia_rig_layer_values(const struct dia_rig_layer *layer, const struct dia_surface *surface,
                          union dia_look_values *values);

/* One element: "handrail[5]" is pixel 5 on the wire of a lane, "buoys[0]" the first lamp of a
 * device. DIA_BAD_VALUE and a diagnostic when there is none. */
enum dia_status dia_rig_element_read(const struct dia_rig *rig, const char *text,
                                     uint8_t *is_device, uint32_t *number, uint32_t *element,
                                     struct dia_diagnostic *wrong);

/* Shows layers, the lowest first (at most DIA_RIG_LAYERS), as dia_player_show does a look.
 * DIA_BAD_VALUE: a file of a picture is damaged, and dia_film_trouble says where. */
enum dia_status dia_player_show_layers(struct dia_player *player,
                                       const struct dia_rig_layer *layers, uint32_t count,
                                       uint32_t ms, uint32_t slot, uint64_t *frame_ns);

/* The words of enum dia_axis, ended by NULL. */
extern const char *const dia_axis_words[];

DIA_END

#endif
