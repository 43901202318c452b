/* SPDX-License-Identifier: MIT */
#include <string.h>

#include "show_private.h"

/*
 * A show that runs for days. What presses amount to is folded over their events; when there are
 * many of them, those that are over become a state to begin with.
 */
#define MANY_PRESSES  (DIA_SHOW_PRESSES - 56)
#define MANY_READINGS 200000u

/* What cues look at of a layer. */
static void timing(const struct dia_rig_layer *from, struct dia_layer *to)
{
    dia_layer_init(to, NULL, NULL, NULL);
    to->level = from->level;
    to->start_ms = from->start_ms;
    to->length_ms = from->length_ms;
    to->fade_in_ms = from->fade_in_ms;
    to->fade_out_ms = from->fade_out_ms;
}

static void begin_with_past(const struct dia_show *show, struct dia_show_cued *cued)
{
    const struct dia_show_past *past = &show->past;
    for (uint32_t k = 0; k < show->layer_count; k++) {
        uint8_t is_cued = cued->states[k].cued; /* by the cues that there are now */
        cued->states[k] = past->states[k];
        cued->states[k].cued = is_cued;
    }
    for (uint32_t k = 0; k < show->knob_count; k++) {
        struct dia_knob *knob = &cued->knobs[k];
        const struct dia_knob *was = &past->knobs[k];
        knob->from = was->from;
        knob->to = was->to;
        knob->at_ms = was->at_ms;
        knob->over_ms = was->over_ms;
    }
}

/* Knobs that were set by hand until a time, and are not yet. */
static uint64_t set_by_hand(const struct dia_show *show, struct dia_show_cued *cued, uint32_t ms,
                            uint64_t done)
{
    for (uint32_t k = 0; k < show->knob_count; k++) {
        const struct dia_show_knob *hand = &show->knobs[k];
        if (!hand->by_hand || hand->ms > ms || done >> k & 1u)
            continue;
        cued->knobs[k].from = cued->knobs[k].to = hand->value;
        cued->knobs[k].at_ms = hand->ms;
        cued->knobs[k].over_ms = 0;
        done |= UINT64_C(1) << k;
    }
    return done;
}
_Static_assert(DIA_SHOW_CUES <= 64, "a bit for each knob");

void dia_show_cue_to(const struct dia_show *show, uint32_t ms, struct dia_rig_layer *layers,
                     struct dia_show_cued *cued)
{
    uint64_t done = 0;
    cued->cues = (struct dia_cues){show->cues,
                                   (uint8_t)show->cue_count,
                                   cued->layers,
                                   cued->states,
                                   (uint8_t)show->layer_count,
                                   cued->knobs,
                                   (uint8_t)show->knob_count};
    for (uint32_t k = 0; k < show->layer_count; k++)
        timing(&layers[k], &cued->layers[k]);
    for (uint32_t k = 0; k < show->knob_count; k++) {
        const struct dia_param *param = show->knobs[k].param;
        cued->knobs[k] =
            (struct dia_knob){.field = (char *)&layers[show->knobs[k].layer].values + param->offset,
                              .is_colour = param->kind == DIA_PARAM_COLOUR,
                              .min = param->min,
                              .max = param->max};
    }
    dia_cues_init(&cued->cues);
    if (show->past.is_set)
        begin_with_past(show, cued);
    for (uint32_t k = 0; k < show->event_count && show->events[k].ms <= ms; k++) {
        done = set_by_hand(show, cued, show->events[k].ms, done);
        dia_cues_take(&cued->cues, &show->events[k]);
    }
    set_by_hand(show, cued, ms, done);
}

void dia_show_by_hand(struct dia_show *show, uint32_t layer, const struct dia_param *param,
                      uint32_t ms)
{
    for (uint32_t k = 0; k < show->knob_count; k++) {
        struct dia_show_knob *knob = &show->knobs[k];
        if (knob->layer != layer || knob->param != param)
            continue;
        const char *field = (const char *)&show->layers[layer].values + param->offset;
        struct dia_rgb colour;
        knob->by_hand = 1;
        knob->ms = ms;
        if (param->kind == DIA_PARAM_COLOUR) {
            memcpy(&colour, field, sizeof colour);
            knob->value = (int32_t)((uint32_t)colour.r << 16 | (uint32_t)colour.g << 8 | colour.b);
        } else {
            memcpy(&knob->value, field, sizeof knob->value);
        }
    }
}

static enum dia_status settle_presses(struct dia_show *show, uint32_t ms)
{
    struct dia_rig_layer layers[DIA_RIG_LAYERS];
    struct dia_show_cued cued;
    uint32_t kept = 0;
    ms = dia_show_quiet_before(show, ms);
    if (ms == 0)
        return DIA_OK;
    if (dia_show_hear(show) != DIA_OK)
        return DIA_PORT_FAILED;
    memcpy(layers, show->layers, show->layer_count * sizeof *layers);
    dia_show_cue_to(show, ms - 1, layers, &cued);
    for (uint32_t k = 0; k < show->value_count; k++) {
        if (show->values[k].source == DIA_VALUE_KEYS)
            show->values[k].start = dia_show_stepped(show, &show->values[k], ms - 1);
    }
    memcpy(show->past.states, cued.states, sizeof cued.states);
    memcpy(show->past.knobs, cued.knobs, sizeof cued.knobs);
    for (uint32_t k = 0; k < show->knob_count; k++) {
        show->past.knobs[k].field = NULL;
        show->knobs[k].by_hand &= show->knobs[k].ms >= ms;
    }
    show->past.is_set = 1;
    show->past.ms = ms;
    for (uint32_t k = 0; k < show->press_count; k++) {
        if (show->presses[k].ms >= ms)
            show->presses[kept++] = show->presses[k];
    }
    show->press_count = kept;
    show->heard_ms = 0;
    return DIA_OK;
}

enum dia_status dia_show_settle(struct dia_show *show, uint32_t ms)
{
    for (uint32_t k = 0; k < show->value_count; k++) {
        struct dia_show_value *v = &show->values[k];
        if (v->source != DIA_VALUE_INPUT || v->count < MANY_READINGS)
            continue;
        memmove(v->readings, v->readings + v->count / 2,
                (v->count - v->count / 2) * sizeof *v->readings);
        v->count -= v->count / 2;
    }
    return show->press_count > MANY_PRESSES ? settle_presses(show, ms) : DIA_OK;
}

enum dia_status dia_show_release(struct dia_show *show, uint8_t key, uint32_t ms)
{
    for (uint32_t k = show->press_count; k-- > 0;) {
        struct dia_show_press *press = &show->presses[k];
        if (press->key != key || ms < press->ms || ms - press->ms >= press->for_ms)
            continue;
        press->for_ms = ms - press->ms ? ms - press->ms : 1;
        dia_show_unheard(show, press->ms);
        return DIA_OK;
    }
    return DIA_BAD_VALUE;
}

/* The layer of another form of the show that is the same: by name, or by place. */
static int same_layer(const struct dia_show *a, uint32_t i, const struct dia_show *b, uint32_t j)
{
    return strcmp(a->names[i], b->names[j]) == 0 && (a->names[i][0] || i == j);
}

static void take_past(struct dia_show *to, const struct dia_show *from)
{
    struct dia_show_cued fresh;
    struct dia_rig_layer layers[DIA_RIG_LAYERS];
    struct dia_show empty = *to;
    empty.event_count = empty.past.is_set = 0;
    memcpy(layers, to->layers, to->layer_count * sizeof *layers);
    dia_show_cue_to(&empty, 0, layers, &fresh);
    to->past = from->past;
    memcpy(to->past.states, fresh.states, sizeof fresh.states);
    memcpy(to->past.knobs, fresh.knobs, sizeof fresh.knobs);
    for (uint32_t i = 0; i < to->layer_count; i++) {
        for (uint32_t j = 0; j < from->layer_count; j++) {
            if (same_layer(to, i, from, j))
                to->past.states[i] = from->past.states[j];
        }
    }
    for (uint32_t i = 0; i < to->knob_count; i++) {
        for (uint32_t j = 0; j < from->knob_count; j++) {
            if (to->knobs[i].param == from->knobs[j].param &&
                same_layer(to, to->knobs[i].layer, from, from->knobs[j].layer))
                to->past.knobs[i] = from->past.knobs[j];
        }
        to->past.knobs[i].field = NULL;
    }
    for (uint32_t i = 0; i < to->value_count; i++) {
        for (uint32_t j = 0; j < from->value_count; j++) {
            if (to->values[i].source == DIA_VALUE_KEYS &&
                from->values[j].source == DIA_VALUE_KEYS &&
                strcmp(to->values[i].name, from->values[j].name) == 0)
                to->values[i].start = from->values[j].start;
        }
    }
}

enum dia_status dia_show_take_presses(struct dia_show *to, const struct dia_show *from)
{
    uint32_t kept = 0;
    to->pressed = from->pressed;
    if (from->past.is_set)
        take_past(to, from);
    for (uint32_t k = 0; k < to->press_count; k++) { /* those of before are in the past already */
        if (!from->past.is_set || to->presses[k].ms >= from->past.ms)
            to->presses[kept++] = to->presses[k];
    }
    to->press_count = kept;
    for (uint32_t k = 0; k < from->press_count; k++) {
        if (from->presses[k].came && to->press_count < DIA_SHOW_PRESSES)
            to->presses[to->press_count++] = from->presses[k];
    }
    for (uint32_t i = 0; i < to->knob_count; i++) {
        for (uint32_t j = 0; j < from->knob_count; j++) {
            const struct dia_show_knob *was = &from->knobs[j];
            if (was->by_hand && to->knobs[i].param == was->param &&
                same_layer(to, to->knobs[i].layer, from, was->layer))
                dia_show_by_hand(to, to->knobs[i].layer, was->param, was->ms);
        }
    }
    to->heard_ms = 0;
    return DIA_OK;
}

void dia_show_forget_from(struct dia_show *show, uint32_t ms)
{
    uint32_t kept = 0;
    for (uint32_t k = 0; k < show->press_count; k++) {
        if (!show->presses[k].came || show->presses[k].ms < ms)
            show->presses[kept++] = show->presses[k];
    }
    show->press_count = kept;
    show->heard_ms = 0;
    if (show->past.ms > ms)
        show->past.is_set = 0;
    for (uint32_t k = 0; k < show->knob_count; k++) {
        if (show->knobs[k].by_hand && show->knobs[k].ms > ms)
            show->knobs[k].ms = ms; /* what was set by hand stays so */
    }
    for (uint32_t k = 0; k < show->value_count; k++) {
        struct dia_show_value *v = &show->values[k];
        if (v->source != DIA_VALUE_INPUT || v->count == 0 || v->readings[v->count - 1].ms <= ms)
            continue;
        struct dia_reading last = v->readings[v->count - 1]; /* the newest holds from there on */
        while (v->count && v->readings[v->count - 1].ms >= ms)
            v->count--;
        last.ms = ms;
        v->readings[v->count++] = last;
    }
}
