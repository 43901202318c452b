/* SPDX-License-Identifier: MIT */
#include <stddef.h>
#include <string.h>

#include <diachrome/cue.h>

#include "shade.h"

#define FULL 65535u

/* How far something that takes over_ms has come, 0..65535. */
static uint16_t part_of(uint32_t gone_ms, uint32_t over_ms)
{
    return gone_ms < over_ms ? dia_envelope(gone_ms, over_ms, 0, 0) : FULL;
}

/* ---- knobs ---------------------------------------------------------------------------------- */

static int32_t colour_value(struct dia_rgb c)
{
    return (int32_t)((uint32_t)c.r << 16 | (uint32_t)c.g << 8 | c.b);
}

static struct dia_rgb value_colour(int32_t value)
{
    struct dia_rgb c = {(uint8_t)((uint32_t)value >> 16), (uint8_t)((uint32_t)value >> 8),
                        (uint8_t)value};
    return c;
}

static int32_t knob_at(const struct dia_knob *knob, uint32_t ms)
{
    uint16_t part = part_of(ms - knob->at_ms, knob->over_ms);
    if (part == FULL)
        return knob->to;
    if (knob->is_colour)
        return colour_value(shade(value_colour(knob->from), value_colour(knob->to), part));
    uint8_t falls = knob->to < knob->from;
    uint32_t way = falls ? (uint32_t)knob->from - (uint32_t)knob->to
                         : (uint32_t)knob->to - (uint32_t)knob->from;
    uint32_t gone = (way >> 16) * part + ((way & 0xffffu) * part >> 16);
    return (int32_t)(falls ? (uint32_t)knob->from - gone : (uint32_t)knob->from + gone);
}

/* Further by a value, but no further than the range goes, however large the value is. */
static int32_t further(const struct dia_knob *knob, int32_t value)
{
    uint32_t to = (uint32_t)knob->to, by = (uint32_t)value;
    if (value > 0)
        return knob->to >= knob->max || by > (uint32_t)knob->max - to ? knob->max
                                                                      : (int32_t)(to + by);
    return knob->to <= knob->min || 0u - by > to - (uint32_t)knob->min ? knob->min
                                                                       : (int32_t)(to + by);
}

static void turn(struct dia_knob *knob, const struct dia_cue *cue, uint32_t ms)
{
    knob->from = knob_at(knob, ms);
    knob->to = cue->act == DIA_ACT_ADD ? further(knob, cue->value) : cue->value;
    knob->at_ms = ms;
    knob->over_ms = cue->over_ms;
}

/* ---- pace ------------------------------------------------------------------------------------ */

#define AS_IT_IS 256

static int16_t pace_at(const struct dia_cued *state, uint32_t ms)
{
    uint16_t part = part_of(ms - state->paced_ms, state->pace_over_ms);
    int32_t way = (int32_t)state->pace_to - state->pace_from;
    return part == FULL ? state->pace_to : (int16_t)(state->pace_from + way * (part >> 4) / 4096);
}

/* ms times a pace in 65536ths, of which 32 bits hold 10 minutes; back for one below 0. */
static uint32_t times(uint32_t ms, int32_t pace)
{
    uint32_t size = (uint32_t)(pace < 0 ? -pace : pace);
    uint32_t way = ((ms >> 8) * size >> 8) + ((ms & 255u) * size >> 16);
    return pace < 0 ? 0u - way : way;
}

/*
 * How much further on a look is than if it had always gone as it is. While the pace changes it goes
 * by the mean of what it was and what it is.
 */
static uint32_t ahead_at(const struct dia_cued *state, uint32_t ms)
{
    uint32_t gone = ms - state->paced_ms, over = state->pace_over_ms;
    uint32_t changing = gone < over ? gone : over;
    int32_t change = (int32_t)state->pace_to - state->pace_from;
    int32_t mean = state->pace_from * 256 + change * (int32_t)(part_of(gone, over) >> 1) / 256;
    uint32_t own = times(changing, mean);
    uint32_t rest = gone - changing, pace = (uint32_t)state->pace_to; /* modulo 2^32, below 0 too */
    own += (rest >> 8) * pace + times(rest & 255u, state->pace_to * 256);
    return state->ahead_ms + own - gone;
}

static void go_at(struct dia_cued *state, const struct dia_cue *cue, uint32_t ms)
{
    uint32_t ahead = ahead_at(state, ms);
    state->pace_from = pace_at(state, ms);
    state->pace_to = (int16_t)cue->value;
    state->pace_over_ms = cue->over_ms;
    state->paced_ms = ms;
    state->ahead_ms = ahead;
}

/* ---- there and back ---------------------------------------------------------------------------
 */

/* How far on its way it is. */
static uint32_t gone_at(const struct dia_cued *state, uint32_t ms)
{
    uint32_t since = ms - state->turned_ms;
    if (state->way > 0)
        return since < state->way_ms - state->gone_ms ? state->gone_ms + since : state->way_ms;
    return since < state->gone_ms ? state->gone_ms - since : 0;
}

static uint8_t is_back(const struct dia_cued *state, uint32_t ms)
{
    return state->way < 0 && gone_at(state, ms) == 0;
}

/* ---- layers --------------------------------------------------------------------------------- */

/* How much of a layer shows at a time. */
static uint16_t level_at(const struct dia_cued *state, const struct dia_layer *layer, uint32_t ms)
{
    uint32_t level = state->level, gone = ms - state->at_ms, shown = ms - state->since_ms;
    if (!state->on) {
        uint16_t less = part_of(gone, layer->fade_out_ms);
        return level > less ? (uint16_t)(level - less) : 0;
    }
    if (is_back(state, ms))
        return 0;
    level += part_of(gone, layer->fade_in_ms);
    if (layer->length_ms == 0)
        return level > FULL ? FULL : (uint16_t)level;
    if (shown >= layer->length_ms)
        return 0;
    uint16_t left = part_of(layer->length_ms - shown, layer->fade_out_ms);
    return level > left ? left : (uint16_t)level;
}

static void begin(struct dia_cued *state, const struct dia_layer *layer, uint32_t ms)
{
    uint16_t level = level_at(state, layer, ms);
    if (level == 0 || layer->length_ms) { /* one that still shows goes on */
        state->since_ms = ms;
        state->pace_from = pace_at(state, ms);
        state->pace_over_ms = state->ahead_ms = 0;
        state->pace_to = state->pace_from;
        state->paced_ms = ms;
    }
    state->level = level;
    state->at_ms = ms;
    state->on = 1;
    state->way = 0;
}

static void stop(struct dia_cued *state, const struct dia_layer *layer, uint32_t ms)
{
    state->level = level_at(state, layer, ms);
    state->at_ms = ms;
    state->on = 0;
}

/* Whether it has begun and not come to its end by itself. */
static uint8_t is_on(const struct dia_cued *state, const struct dia_layer *layer, uint32_t ms)
{
    return state->on && !is_back(state, ms) &&
           (layer->length_ms == 0 || ms - state->since_ms < layer->length_ms);
}

/* It begins, or turns round. */
static void turn_round(struct dia_cued *state, const struct dia_layer *layer,
                       const struct dia_cue *cue, uint32_t ms)
{
    uint8_t goes_back = is_on(state, layer, ms) && state->way > 0;
    uint32_t gone = state->way != 0 && level_at(state, layer, ms) != 0 ? gone_at(state, ms) : 0;
    if (!is_on(state, layer, ms))
        begin(state, layer, ms);
    state->way = goes_back ? -1 : 1;
    state->way_ms = cue->over_ms;
    state->gone_ms = gone < cue->over_ms ? gone : cue->over_ms;
    state->turned_ms = ms;
}

/* From the one that is on to the next of them; from the last to the first, or to none. */
static void go_on(struct dia_cues *cues, uint32_t layers, uint8_t or_none, uint32_t ms)
{
    uint8_t first = cues->layer_count, next = first, seen = 0;
    for (uint8_t k = 0; k < cues->layer_count; k++) {
        if (!(layers >> k & 1u))
            continue;
        if (first == cues->layer_count)
            first = k;
        if (seen && next == cues->layer_count)
            next = k;
        if (is_on(&cues->states[k], &cues->layers[k], ms)) {
            stop(&cues->states[k], &cues->layers[k], ms);
            seen = 1;
        }
    }
    if (next == cues->layer_count && !(seen && or_none))
        next = first;
    if (next < cues->layer_count)
        begin(&cues->states[next], &cues->layers[next], ms);
}

static void act_on(struct dia_cues *cues, const struct dia_cue *cue, uint32_t ms)
{
    for (uint8_t k = 0; k < cues->layer_count; k++) {
        struct dia_cued *state = &cues->states[k];
        const struct dia_layer *layer = &cues->layers[k];
        if (!(cue->layers >> k & 1u))
            continue;
        if (cue->act == DIA_ACT_PACE)
            go_at(state, cue, ms);
        else if (cue->act == DIA_ACT_THERE_AND_BACK)
            turn_round(state, layer, cue, ms);
        else if (cue->act == DIA_ACT_START ||
                 (cue->act == DIA_ACT_TOGGLE && !is_on(state, layer, ms)))
            begin(state, layer, ms);
        else
            stop(state, layer, ms);
    }
}

void dia_cues_begin(struct dia_cues *cues)
{
    memset(cues->states, 0, cues->layer_count * sizeof *cues->states);
    for (uint8_t k = 0; k < cues->layer_count; k++) {
        cues->states[k].pace_from = cues->states[k].pace_to = AS_IT_IS;
        cues->states[k].paced_ms = cues->layers[k].start_ms;
    }
    for (uint8_t c = 0; c < cues->count; c++) {
        const struct dia_cue *cue = &cues->cues[c];
        uint8_t is_first = cue->act == DIA_ACT_NEXT && cue->value == 0;
        for (uint8_t k = 0; k < cues->layer_count && cue->act < DIA_ACT_SET; k++) {
            struct dia_cued *state = &cues->states[k];
            if (!(cue->layers >> k & 1u) || cue->act == DIA_ACT_PACE)
                continue;
            state->cued = 1;
            if (is_first) { /* on, and at its full, since the time the layer itself says */
                state->on = 1;
                state->level = FULL;
                state->since_ms = state->at_ms = cues->layers[k].start_ms;
            }
            is_first = 0;
        }
    }
    for (uint8_t k = 0; k < cues->knob_count; k++) {
        cues->knobs[k].to = cues->knobs[k].at_first;
        cues->knobs[k].over_ms = 0;
    }
}

void dia_cues_init(struct dia_cues *cues)
{
    for (uint8_t k = 0; k < cues->knob_count; k++) {
        struct dia_knob *knob = &cues->knobs[k];
        struct dia_rgb colour;
        if (knob->is_colour) {
            memcpy(&colour, knob->field, sizeof colour);
            knob->at_first = colour_value(colour);
        } else {
            memcpy(&knob->at_first, knob->field, sizeof knob->at_first);
        }
    }
    dia_cues_begin(cues);
}

void dia_cues_take(struct dia_cues *cues, const struct dia_key_event *event)
{
    for (uint8_t c = 0; c < cues->count; c++) {
        const struct dia_cue *cue = &cues->cues[c];
        if (cue->key != event->key || cue->kind != event->kind)
            continue;
        if (cue->act >= DIA_ACT_SET)
            turn(&cues->knobs[cue->knob], cue, event->ms);
        else if (cue->act == DIA_ACT_NEXT)
            go_on(cues, cue->layers, cue->value != 0, event->ms);
        else
            act_on(cues, cue, event->ms);
    }
}

/*
 * What has come to its end is remembered as that: times come again after 2^32 ms, and what faded
 * long ago must not fade once more. A pace that has been for 2^30 ms is taken into what it has
 * brought.
 */
#define LONG_AGO 0x40000000u

static void settle(struct dia_cued *state, const struct dia_layer *layer, uint32_t ms)
{
    uint32_t gone = ms - state->at_ms;
    if (state->on && layer->length_ms && ms - state->since_ms >= layer->length_ms) {
        state->on = 0;
        state->level = 0;
    }
    if (state->on && state->way != 0) { /* it may rest for ever */
        state->on = !is_back(state, ms);
        state->level = state->on ? state->level : 0;
        state->gone_ms = gone_at(state, ms);
        state->turned_ms = ms;
    }
    if (!state->on && gone >= layer->fade_out_ms)
        state->level = 0;
    if (state->on && gone >= layer->fade_in_ms)
        state->level = FULL;
    while (ms - state->paced_ms >= LONG_AGO && ms - state->paced_ms < 0x80000000u) {
        state->ahead_ms = ahead_at(state, state->paced_ms + LONG_AGO);
        state->paced_ms += LONG_AGO;
        state->pace_from = state->pace_to;
        state->pace_over_ms = 0;
    }
}

void dia_cues_apply(struct dia_cues *cues, uint32_t ms, struct dia_layer *out)
{
    for (uint8_t k = 0; k < cues->layer_count; k++) {
        struct dia_cued *state = &cues->states[k];
        settle(state, &cues->layers[k], ms);
        out[k] = cues->layers[k];
        out[k].ahead_ms += ahead_at(state, ms);
        if (!state->cued)
            continue;
        uint32_t level = level_at(state, &cues->layers[k], ms);
        out[k].level = (dia_share)((out[k].level * level + 32768u) / FULL);
        out[k].start_ms = state->since_ms;
        if (state->way != 0) {
            out[k].start_ms = ms - gone_at(state, ms);
            out[k].ahead_ms = cues->layers[k].ahead_ms;
        }
        out[k].length_ms = out[k].fade_in_ms = out[k].fade_out_ms = 0;
    }
    for (uint8_t k = 0; k < cues->knob_count; k++) {
        struct dia_knob *knob = &cues->knobs[k];
        int32_t value = knob_at(knob, ms);
        if (ms - knob->at_ms >= knob->over_ms)
            knob->over_ms = 0;
        struct dia_rgb colour = value_colour(value);
        if (knob->is_colour)
            memcpy(knob->field, &colour, sizeof colour);
        else
            memcpy(knob->field, &value, sizeof value);
    }
}
