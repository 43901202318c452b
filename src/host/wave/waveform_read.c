/* SPDX-License-Identifier: MIT */
#include <stdlib.h>

#include "waveform_private.h"

/* What edges say while they come: bits, bytes and pixels of a lane, and how long its pulses are. */

/* The stretch of a time is known with the first edge; that of an element when it begins. */
static int is_inside(const struct dia_waveform *wave, uint64_t t_ns)
{
    return wave->to_ns > wave->from_ns && t_ns >= wave->from_ns && t_ns <= wave->to_ns;
}

struct dia_waveform_mark *dia_waveform_mark(struct dia_waveform *wave, enum dia_mark kind,
                                            uint64_t from, uint64_t to, uint32_t value)
{
    if (!(is_inside(wave, from) || is_inside(wave, to)) || wave->no_memory)
        return NULL;
    if (wave->mark_count == wave->mark_room) {
        uint32_t room = wave->mark_room ? wave->mark_room * 2 : 64;
        struct dia_waveform_mark *marks = realloc(wave->marks, room * sizeof *marks);
        if (!marks) {
            wave->no_memory = 1;
            return NULL;
        }
        wave->marks = marks;
        wave->mark_room = room;
    }
    struct dia_waveform_mark *m = &wave->marks[wave->mark_count++];
    *m = (struct dia_waveform_mark){from, to, (uint8_t)kind, 0, value, {0, 0, 0}, ""};
    return m;
}

static void mark(struct dia_waveform *wave, enum dia_mark kind, uint64_t from, uint64_t to,
                 uint32_t value, uint8_t is_wrong)
{
    struct waveform_private *own = wave->own;
    struct dia_waveform_mark *m = dia_waveform_mark(wave, kind, from, to, value);
    if (!m)
        return;
    m->wrong = is_wrong;
    if (kind == DIA_MARK_PIXEL) {
        const struct dia_rig_lane *lane = own->lane;
        int level = lane->part.channels == &dia_channels_level;
        for (int k = 0; lane->order[k]; k++) {
            uint8_t byte = own->bytes[k + level];
            m->colour.r = lane->order[k] == 'R' ? byte : m->colour.r;
            m->colour.g = lane->order[k] == 'G' ? byte : m->colour.g;
            m->colour.b = lane->order[k] == 'B' ? byte : m->colour.b;
        }
    }
}

static uint8_t measured(struct dia_waveform *wave, uint32_t kind, uint64_t ns)
{
    struct dia_waveform_pulses *p = &wave->pulses[kind];
    uint32_t length = ns > UINT32_MAX ? UINT32_MAX : (uint32_t)ns;
    uint8_t outside = length < p->may_least || length > p->may_most;
    uint32_t bar = length < p->bar_from ? 0 : (length - p->bar_from) / p->bar_ns;
    p->count++;
    p->outside += outside;
    p->sum += length;
    p->least = length < p->least ? length : p->least;
    p->most = length > p->most ? length : p->most;
    p->bars[bar < DIA_WAVEFORM_BARS ? bar : DIA_WAVEFORM_BARS - 1]++;
    return outside;
}

static void keep(struct dia_waveform *wave, struct dia_waveform_wire *wire, uint64_t t,
                 uint8_t level, uint8_t is_wrong)
{
    if (wire->count == wire->room) {
        uint32_t room = wire->room ? wire->room * 2 : 128;
        struct dia_waveform_edge *edges = realloc(wire->edges, room * sizeof *edges);
        if (!edges) {
            wave->no_memory = 1;
            return;
        }
        wire->edges = edges;
        wire->room = room;
    }
    if (wire->count == 0)
        wire->before = !level;
    wire->edges[wire->count++] = (struct dia_waveform_edge){t, level, is_wrong};
}

/* The stretch of an element: its bits, and two of their lengths around. */
static void element_begins(struct dia_waveform *wave, uint64_t t_ns, uint32_t bits, uint64_t bit_ns)
{
    wave->from_ns = t_ns > 2 * bit_ns ? t_ns - 2 * bit_ns : 0;
    wave->to_ns = t_ns + (bits + 1) * bit_ns;
    for (uint32_t i = 0; i < wave->wire_count; i++) {
        uint32_t n = wave->own->recent_count[i];
        for (uint32_t k = n > RECENT ? n - RECENT : 0; k < n; k++) {
            const struct dia_waveform_edge *edge = &wave->own->recent[i][k % RECENT];
            if (edge->t_ns >= wave->from_ns)
                keep(wave, &wave->wires[i], edge->t_ns, edge->level, edge->wrong);
        }
    }
}

static void bit_is(struct dia_waveform *wave, uint8_t value, uint64_t from, uint64_t to)
{
    struct waveform_private *own = wave->own;
    uint32_t pixel_bits = 8u * own->lane->part.channels->count,
             at = (uint32_t)(own->bits % pixel_bits);
    if (at == 0) {
        own->pixel_from = from;
        own->wrong_pixel = 0;
    }
    if (at % 8 == 0) {
        own->byte_from = from;
        own->wrong_byte = 0;
    }
    own->byte = (uint8_t)(own->byte << 1 | value);
    own->wrong_byte |= own->wrong_bit;
    own->wrong_pixel |= own->wrong_bit;
    own->bits++;
    mark(wave, DIA_MARK_BIT, from, to, value, own->wrong_bit);
    own->wrong_bit = 0;
    if (at % 8 == 7) {
        own->bytes[at / 8] = own->byte;
        mark(wave, DIA_MARK_BYTE, own->byte_from, to, own->byte, own->wrong_byte);
    }
    if (at == pixel_bits - 1)
        mark(wave, DIA_MARK_PIXEL, own->pixel_from, to, (uint32_t)(own->bits / pixel_bits) - 1,
             own->wrong_pixel);
}

static int is_wanted(const struct dia_waveform *wave)
{
    const struct waveform_private *own = wave->own;
    uint32_t pixel_bits = 8u * own->lane->part.channels->count;
    return wave->stretch.by_element && wave->frames == wave->stretch.frame + 1 &&
           own->bits == (uint64_t)wave->stretch.element * pixel_bits;
}

/* A pulse, read as its part does: by how long it is high. A bit is over when the next one rises. */
static uint8_t pulse_edge(struct dia_waveform *wave, uint64_t t, uint8_t level)
{
    struct waveform_private *own = wave->own;
    const struct dia_pulse_timing *timing = &own->lane->part.timing;
    uint64_t latch_ns = timing->latch_us * 1000ull;
    uint8_t outside = 0;
    if (level) {
        uint64_t low = t - own->fall;
        if (own->in_frame && low < latch_ns) {
            outside = measured(wave, own->data ? 3 : 1, low);
            own->wrong_bit |= outside;
            bit_is(wave, own->data, own->bit_from, t);
        } else {
            if (own->in_frame)
                bit_is(wave, own->data, own->bit_from, own->fall);
            if (!own->heard || low >= latch_ns) {
                own->in_frame = 1;
                own->bits = 0;
                wave->frames++;
            }
        }
        if (own->in_frame && is_wanted(wave))
            element_begins(wave, t, 8u * own->lane->part.channels->count,
                           timing->range[DIA_T0H].nominal_ns +
                               (uint64_t)timing->range[DIA_T0L].nominal_ns);
        own->rise = own->bit_from = t;
    } else if (own->in_frame) {
        uint64_t high = t - own->rise;
        own->data = high > (timing->range[0].max_ns + timing->range[2].min_ns) / 2u;
        outside = measured(wave, own->data ? 2 : 0, high);
        own->wrong_bit |= outside;
        own->fall = t;
    } else {
        own->fall = t;
    }
    own->heard = 1;
    return outside;
}

/* A frame of words begins with the first 1 behind 32 zeros, and ends where a word does not begin
 * with 1. 1: the bit is of a pixel. */
static int is_of_a_word(struct dia_waveform *wave, uint8_t data)
{
    struct waveform_private *own = wave->own;
    if (own->in_frame && own->bits % 32 == 0 && !data)
        own->in_frame = 0;
    if (!own->in_frame && data && own->zeros >= 32) {
        own->in_frame = 1;
        own->bits = 0;
        wave->frames++;
    }
    own->zeros = data ? 0 : own->zeros + 1;
    return own->in_frame;
}

/* Bits of a lane with a clock, on its rising edge. */
static void clocked_bit(struct dia_waveform *wave, uint64_t t, uint8_t data, uint64_t period)
{
    struct waveform_private *own = wave->own;
    if (own->lane->part.channels == &dia_channels_level && !is_of_a_word(wave, data))
        return;
    if (is_wanted(wave))
        element_begins(wave, t, 8u * own->lane->part.channels->count, period);
    bit_is(wave, data, t > period / 2 ? t - period / 2 : 0, t + period / 2);
}

#define RESTS_NS 100000u

static uint8_t clock_edge(struct dia_waveform *wave, uint64_t t, uint8_t level)
{
    struct waveform_private *own = wave->own;
    uint64_t nominal = 1000000000ull / own->lane->clock_hz;
    uint8_t outside = 0;
    if (!level) {
        measured(wave, 1, t - own->rise);
        own->fall = t;
        return 0;
    }
    uint64_t period = t - own->rise;
    if (own->heard && period < RESTS_NS) {
        outside = measured(wave, 0, period);
        measured(wave, 2, t - own->fall);
        own->wrong_bit |= outside;
    } else if (own->lane->part.channels != &dia_channels_level) {
        own->in_frame = 1;
        own->bits = 0;
        wave->frames++;
    }
    clocked_bit(wave, t, own->level[own->lane->pin],
                own->heard && period < RESTS_NS ? period : nominal);
    own->rise = t;
    own->heard = 1;
    return outside;
}

void dia_waveform_read(struct dia_waveform *wave, const struct dia_edge *edge)
{
    struct waveform_private *own = wave->own;
    uint32_t number = 0;
    uint8_t is_wrong = 0;
    while (number < wave->wire_count && wave->wires[number].pin != edge->pin)
        number++;
    if (number == wave->wire_count ||
        (own->known[edge->pin] && own->level[edge->pin] == edge->level))
        return;
    if (wave->first_ns == 0 && !wave->stretch.by_element) {
        wave->from_ns = edge->t_ns + wave->stretch.at_ns;
        wave->to_ns = wave->from_ns + wave->stretch.lasts_ns;
    }
    if (wave->first_ns == 0)
        wave->first_ns = edge->t_ns ? edge->t_ns : 1;
    own->known[edge->pin] = 1;
    own->level[edge->pin] = edge->level;
    if (own->lane && own->lane->part.family == DIA_ONEWIRE)
        is_wrong = pulse_edge(wave, edge->t_ns, edge->level);
    else if (own->lane && edge->pin == own->lane->clock_pin)
        is_wrong = clock_edge(wave, edge->t_ns, edge->level);
    else if (own->reads)
        dia_waveform_read_device(wave, edge);
    struct dia_waveform_wire *wire = &wave->wires[number];
    own->recent[number][own->recent_count[number]++ % RECENT] =
        (struct dia_waveform_edge){edge->t_ns, edge->level, is_wrong};
    if (is_inside(wave, edge->t_ns))
        keep(wave, wire, edge->t_ns, edge->level, is_wrong);
    else if (wire->count == 0)
        wire->before = edge->level;
}

void dia_waveform_read_last(struct dia_waveform *wave)
{
    struct waveform_private *own = wave->own;
    if (own->lane && own->lane->part.family == DIA_ONEWIRE && own->in_frame &&
        !own->level[own->lane->pin])
        bit_is(wave, own->data, own->bit_from, own->fall);
}
