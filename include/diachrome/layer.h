/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_LAYER_H
#define DIACHROME_LAYER_H

#include <stdint.h>

#include "linkage.h"
#include "look.h"
#include "wave.h"

DIA_BEGIN

/*
 * Layers: looks and drawings one over the other. A stack is a pure function of time, as a look is.
 *
 *   struct dia_layer layers[2];
 *   dia_layer_init(&layers[0], &line, dia_look_water.render, &water);
 *   dia_layer_init(&layers[1], &line, dia_look_pulse.render, &pulse);
 *   layers[1].blend = DIA_BLEND_ADD;
 *   struct dia_stack stack = {layers, 2};
 *   dia_stack_render(&stack, ms, 0, line.count, pixels);
 *
 * Memory: the layers themselves, and on the stack 5 bytes an element of a run, whatever the number
 * of layers and elements. A run is DIA_STACK_RUN elements: 1024 unless the build says
 * -DDIA_STACK_RUN=16 (a small controller; 80 bytes). Any run gives the same picture.
 *
 * Cost: each layer its look, and some steps a pixel to blend it; DIA_STACK_RUN * 5 bytes of stack.
 * Context: any; threads may work at once on objects of their own.
 */

/* How a layer is combined with what is below it. All work on sRGB codes, channel by channel. */
enum dia_blend {
    DIA_BLEND_OVER,     /* hides it */
    DIA_BLEND_ADD,      /* the sum, at most full */
    DIA_BLEND_SCREEN,   /* what is missing to full, multiplied: brighter, but not clipped */
    DIA_BLEND_MULTIPLY, /* the product: white leaves it, black hides it */
    DIA_BLEND_LIGHTEN,  /* the larger */
    DIA_BLEND_DARKEN    /* the smaller */
};

struct dia_layer {
    const struct dia_surface *surface; /* its elements */
    uint32_t first;                    /* which element of the frame its element 0 is */
    dia_render *render;                /* of a look, or a drawing of one's own */
    const void *values;                /* what it is given */
    dia_share level;                   /* how much of it shows */
    uint8_t blend;                     /* enum dia_blend */
    const struct dia_wave *mask;       /* where and when how much of it shows; NULL: everywhere */
    uint32_t start_ms;                 /* its time 0 */
    uint32_t ahead_ms;                 /* its look is so much further on */
    uint32_t length_ms;                /* it shows for; 0: for ever, before its start too */
    uint32_t fade_in_ms, fade_out_ms;  /* parts of length_ms */
};

/* All of it, from time 0 for ever. What is pointed to belongs to the caller and must stay. */
void dia_layer_init(struct dia_layer *layer, const struct dia_surface *surface, dia_render *render,
                    const void *values);

/*
 * Times come again after 2^32 ms, which is 49.7 days, and with them what layers do: a layer that
 * has come to its end would show again, one that has faded in would fade in again. A program that
 * runs as long calls this at least once a week: layers that have ended stay dark, and those that
 * have faded in stay as they are. (Layers with cues need it not; dia_cues_apply looks after them.)
 */
void dia_layers_settle(struct dia_layer *layers, uint8_t count, uint32_t ms);

struct dia_stack {
    const struct dia_layer *layers; /* the lowest first */
    uint8_t count;
};

/* Elements first .. first + n - 1 of the frame, into out (n of them). Where no layer is: black. */
void dia_stack_render(const struct dia_stack *stack, uint32_t ms, uint32_t first, uint32_t n,
                      struct dia_rgb *out);

/* From one stack to another: share 0 shows the first, DIA_SHARE_ONE the second. */
void dia_stack_cross(const struct dia_stack *from, const struct dia_stack *to, dia_share share,
                     uint32_t ms, uint32_t first, uint32_t n, struct dia_rgb *out);

DIA_END

#endif
