/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_CUE_H
#define DIACHROME_CUE_H

#include <stdint.h>

#include "keys.h"
#include "layer.h"
#include "linkage.h"

DIA_BEGIN

/*
 * Cues: what keys do to layers and to the parameters of their looks.
 *
 * The events so far are part of what a frame is made from: the same events and the same time give
 * the same picture. Each event is taken once, in the order of their times, so memory does not grow;
 * to seek back, begin again and take the events up to there.
 *
 *   static const struct dia_cue cues[] = {
 *       {.key = 0, .kind = DIA_KEY_SHORT, .act = DIA_ACT_TOGGLE, .layers = 1u << 1},
 *       {.key = 1, .kind = DIA_KEY_DOWN, .act = DIA_ACT_SET, .knob = 0, .value = 500000},
 *   };
 *   struct dia_knob knobs[] = {{.field = &pulse.speed_um_s, .min = 0, .max = 1000000}};
 *   struct dia_cued states[2];
 *   struct dia_cues play = {cues, 2, layers, states, 2, knobs, 1};
 *   dia_cues_init(&play);
 *   for (;;) {
 *       while (dia_keys_next(&keys, &event))
 *           dia_cues_take(&play, &event);
 *       dia_cues_apply(&play, ms, now);         now: 2 layers, as they are at that time
 *       dia_stack_render(&stack_of_now, ms, 0, count, pixels);
 *   }
 *
 * Cost: taking an event costs with the number of cues, applying them with that of layers and
 * knobs; memory is yours and does not grow.
 * Context: any; threads may work at once on objects of their own.
 */
enum dia_act {
    DIA_ACT_START,  /* the layers begin, their time 0 is that of the event */
    DIA_ACT_STOP,   /* they fade out */
    DIA_ACT_TOGGLE, /* they stop if they have begun, else begin */
    DIA_ACT_NEXT, /* the next of them begins and the one before it stops; the first is on at first.
                     value 1: none of them is one more, before the first */
    DIA_ACT_THERE_AND_BACK, /* they begin, and rest after over_ms; the next event sends their looks
                               back the way they came, and at the start of it they end */
    DIA_ACT_PACE, /* their looks go faster or slower or backwards, without a jump: value 256 is as
                     they are, 0 rests */
    DIA_ACT_SET,  /* a knob goes to the value */
    DIA_ACT_ADD   /* a knob goes on by the value, within its range */
};
struct dia_cue {
    uint8_t key, kind; /* of the event, as in keys.h */
    uint8_t act;       /* enum dia_act */
    uint8_t knob;      /* DIA_ACT_SET, _ADD: which */
    uint32_t layers;   /* the others: which, bit k for layer k */
    int32_t value;     /* of a pace -4096..4096 */
    uint32_t over_ms;  /* a knob or a way takes so long, at most 24 hours; a pace, 10 minutes */
};

/* A parameter that cues change. The caller fills in every field that is not
 * marked private. */
struct dia_knob {
    void *field;       /* an int32_t, or a struct dia_rgb */
    uint8_t is_colour; /* values are 0xRRGGBB then, and there is no range */
    int32_t min, max;
    /* private */
    int32_t at_first, from, to;
    uint32_t at_ms, over_ms;
};

/* How a layer stands. Private. */
struct dia_cued {
    uint8_t cued, on; /* whether any cue begins or ends it; whether it has begun */
    uint16_t level;   /* at at_ms */
    uint32_t at_ms, since_ms;
    int16_t pace_from, pace_to; /* in pace_over_ms, from paced_ms on */
    uint32_t paced_ms, pace_over_ms, ahead_ms;
    int8_t way;                          /* 1 there, -1 back; 0: it goes on and on */
    uint32_t way_ms, turned_ms, gone_ms; /* how long all of it is; gone_ms of it at turned_ms */
};

struct dia_cues {
    const struct dia_cue *cues;
    uint8_t count;
    const struct dia_layer *layers; /* at most 32 */
    struct dia_cued *states;        /* one for each of them */
    uint8_t layer_count;
    struct dia_knob *knobs;
    uint8_t knob_count;
};

/* Knobs are at first what their fields are now; and begins. */
void dia_cues_init(struct dia_cues *cues);

/* As it is before any event: layers that cues start, stop or toggle have not begun. */
void dia_cues_begin(struct dia_cues *cues);

/* Does what the cues say. */
void dia_cues_take(struct dia_cues *cues, const struct dia_key_event *event);

/*
 * The layers at a time into out (layer_count of them), and the knobs' values into their fields;
 * times rise, with at least a call a week, and may wrap. A
 * layer that was begun shows for its length_ms, or until it is stopped; it fades in and out, and
 * where it is begun again while it fades, it goes on from there. Layers without cues are as they
 * were.
 */
void dia_cues_apply(struct dia_cues *cues, uint32_t ms, struct dia_layer *out);

DIA_END

#endif
