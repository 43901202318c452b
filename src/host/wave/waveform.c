/* SPDX-License-Identifier: MIT */
#include <ctype.h>
#include <errno.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/nearest.h>
#include <diachrome/waveform.h>

#include "host_private.h"
#include "waveform_words.h"

/* What is read of the edges while they come. */
#define RECENT 16
struct waveform_private {
    /* the last edges of each wire, for a stretch that begins a little before its element */
    struct dia_waveform_edge recent[DIA_WAVEFORM_WIRES][RECENT];
    uint32_t recent_count[DIA_WAVEFORM_WIRES];
    struct dia_edge *batch;
    size_t count, room;
    const struct dia_rig_lane *lane; /* NULL: a device, whose wires are only drawn */
    uint8_t level[256], known[256];
    uint64_t rise, fall; /* of the data line, or of the clock, ns */
    uint64_t bits;       /* of the frame */
    uint8_t data, byte;
    uint8_t bytes[4]; /* of the pixel */
    uint64_t byte_from, pixel_from, bit_from;
    uint8_t wrong_bit, wrong_byte, wrong_pixel;
    uint8_t in_frame, heard; /* heard: an edge was there */
    uint32_t zeros;          /* of a part with a level: zero bits in a row */
};

static void add_wire(struct dia_waveform *wave, const char *name, uint8_t pin)
{
    struct dia_waveform_wire *wire = &wave->wires[wave->wire_count++];
    snprintf(wire->name, sizeof wire->name, "%s", name);
    wire->pin = pin;
}

static void pulses(struct dia_waveform *wave, const char *name, uint32_t least, uint32_t most,
                   uint32_t usual)
{
    struct dia_waveform_pulses *p = &wave->pulses[wave->pulse_kinds++];
    *p = (struct dia_waveform_pulses){
        .name = name, .least = UINT32_MAX, .may_least = least, .may_most = most};
    /* half of the range on each side of it; without an end half as much as is usual besides */
    uint32_t span = most == UINT32_MAX ? usual + usual / 2 : (most - least) * 2;
    p->bar_ns = span / DIA_WAVEFORM_BARS + 1;
    p->bar_from = most == UINT32_MAX ? 0 : least > span / 4 ? least - span / 4 : 0;
}

static void lane_of(struct dia_waveform *wave, const struct dia_rig_lane *lane)
{
    char name[64];
    wave->own->lane = lane;
    if (lane->part.family == DIA_CLOCKED) {
        uint32_t period = (uint32_t)(1000000000ull / lane->part.clock.max_hz);
        snprintf(name, sizeof name, "%s_clock", lane->name);
        add_wire(wave, name, (uint8_t)lane->clock_pin);
        snprintf(name, sizeof name, "%s_data", lane->name);
        add_wire(wave, name, (uint8_t)lane->pin);
        uint32_t usual = (uint32_t)(1000000000ull / lane->clock_hz);
        pulses(wave, "clock period", period, UINT32_MAX, usual);
        pulses(wave, "clock high", 0, UINT32_MAX, usual);
        pulses(wave, "clock low", 0, UINT32_MAX, usual);
        return;
    }
    static const char *const names[] = {"T0H", "T0L", "T1H", "T1L"};
    add_wire(wave, lane->name, (uint8_t)lane->pin);
    for (int k = 0; k < 4; k++)
        pulses(wave, names[k], lane->part.timing.range[k].min_ns, lane->part.timing.range[k].max_ns,
               0);
}

static void device_of(struct dia_waveform *wave, const struct dia_rig_device *device)
{
    const char *role;
    for (uint8_t k = 0; (role = dia_rig_role(device, k)) != NULL; k++) {
        char name[64];
        snprintf(name, sizeof name, "%s_%s", device->name, role);
        for (char *c = name + strlen(device->name); *c; c++)
            *c = (char)toupper((unsigned char)*c);
        if (device->pins[k] != DIA_NO_PIN && wave->wire_count < DIA_WAVEFORM_WIRES)
            add_wire(wave, name, device->pins[k]);
    }
}

static enum dia_status find(struct dia_waveform *wave, const char *name,
                            struct dia_diagnostic *wrong)
{
    const struct dia_rig *rig = wave->rig;
    const char *names[DIA_RIG_LANES + DIA_RIG_DEVICES + 1];
    uint32_t n = 0;
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        names[n++] = rig->lanes[i].name;
        if (strcmp(rig->lanes[i].name, name) == 0) {
            lane_of(wave, &rig->lanes[i]);
            return DIA_OK;
        }
    }
    for (uint32_t i = 0; i < rig->device_count; i++) {
        names[n++] = rig->devices[i].name;
        if (strcmp(rig->devices[i].name, name) == 0) {
            device_of(wave, &rig->devices[i]);
            return DIA_OK;
        }
    }
    names[n] = NULL;
    const char *near = dia_nearest(name, names);
    return dia_host_wrong(wrong, "there is no lane or device '%s'; %s '%s'", name,
                          near ? "did you mean" : "there is", near ? near : names[0]);
}

enum dia_status dia_waveform_init(struct dia_waveform *wave, const struct dia_rig *rig,
                                  const char *name, const struct dia_waveform_stretch *stretch,
                                  struct dia_diagnostic *wrong)
{
    memset(wave, 0, sizeof *wave);
    char at[40], lasts[40];
    wave->rig = rig;
    wave->stretch = *stretch;
    wave->own = calloc(1, sizeof *wave->own);
    if (!wave->own) {
        errno = ENOMEM;
        return dia_host_failed(wrong, rig->name, "edges cannot be kept");
    }
    enum dia_status status = find(wave, name, wrong);
    if (status != DIA_OK)
        return status;
    if (stretch->by_element && !wave->own->lane)
        return dia_host_wrong(wrong, "'%s' is a device; say a time of it, and not an element",
                              name);
    if (stretch->by_element && stretch->element >= wave->own->lane->count)
        return dia_host_wrong(wrong, "'%s' has pixels 0 to %u; found %u", name,
                              (unsigned)wave->own->lane->count - 1, (unsigned)stretch->element);
    if (stretch->by_element)
        snprintf(wave->title, sizeof wave->title, "%s, pixel %u of frame %u", name,
                 (unsigned)stretch->element, (unsigned)stretch->frame);
    else
        snprintf(wave->title, sizeof wave->title, "%s, %s from %s on", name,
                 dia_waveform_time(lasts, (double)stretch->lasts_ns),
                 dia_waveform_time(at, (double)stretch->at_ns));
    return DIA_OK;
}

void dia_waveform_free(struct dia_waveform *wave)
{
    for (uint32_t i = 0; i < wave->wire_count; i++)
        free(wave->wires[i].edges);
    free(wave->marks);
    if (wave->own)
        free(wave->own->batch);
    free(wave->own);
    memset(wave, 0, sizeof *wave);
}

/* ---- while edges come ------------------------------------------------------------------------ */

/* The stretch of a time is known with the first edge; that of an element when it begins. */
static int is_inside(const struct dia_waveform *wave, uint64_t t_ns)
{
    return wave->to_ns > wave->from_ns && t_ns >= wave->from_ns && t_ns <= wave->to_ns;
}

static void mark(struct dia_waveform *wave, enum dia_mark kind, uint64_t from, uint64_t to,
                 uint32_t value, uint8_t is_wrong)
{
    struct waveform_private *own = wave->own;
    if (!(is_inside(wave, from) || is_inside(wave, to)) || wave->no_memory)
        return;
    if (wave->mark_count == wave->mark_room) {
        uint32_t room = wave->mark_room ? wave->mark_room * 2 : 64;
        struct dia_waveform_mark *marks = realloc(wave->marks, room * sizeof *marks);
        if (!marks) {
            wave->no_memory = 1;
            return;
        }
        wave->marks = marks;
        wave->mark_room = room;
    }
    struct dia_waveform_mark *m = &wave->marks[wave->mark_count++];
    *m = (struct dia_waveform_mark){from, to, (uint8_t)kind, is_wrong, value, {0, 0, 0}};
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

static void take_one(struct dia_waveform *wave, const struct dia_edge *edge)
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
    struct dia_waveform_wire *wire = &wave->wires[number];
    own->recent[number][own->recent_count[number]++ % RECENT] =
        (struct dia_waveform_edge){edge->t_ns, edge->level, is_wrong};
    if (is_inside(wave, edge->t_ns))
        keep(wave, wire, edge->t_ns, edge->level, is_wrong);
    else if (wire->count == 0)
        wire->before = edge->level;
}

void dia_waveform_begins(struct dia_waveform *wave, uint8_t pin, uint8_t level)
{
    wave->own->level[pin] = level;
    wave->own->known[pin] = 1;
    for (uint32_t i = 0; i < wave->wire_count; i++) {
        if (wave->wires[i].pin == pin)
            wave->wires[i].before = level;
    }
}

void dia_waveform_take(void *self, const struct dia_edge *edges, uint32_t n)
{
    struct dia_waveform *wave = self;
    struct waveform_private *own = wave->own;
    if (own->count + n > own->room) {
        size_t room = (own->count + n) * 2;
        struct dia_edge *batch = realloc(own->batch, room * sizeof *batch);
        if (!batch) {
            wave->no_memory = 1;
            return;
        }
        own->batch = batch;
        own->room = room;
    }
    memcpy(own->batch + own->count, edges, n * sizeof *edges);
    own->count += n;
}

/* Lanes tell their edges in batches of their own; at one moment data comes before its clock. */
static int by_time(const void *a, const void *b)
{
    const struct dia_edge *p = a, *q = b;
    return p->t_ns < q->t_ns ? -1 : p->t_ns > q->t_ns;
}

void dia_waveform_catch_up(struct dia_waveform *wave)
{
    struct waveform_private *own = wave->own;
    qsort(own->batch, own->count, sizeof *own->batch, by_time);
    for (size_t i = 0; i < own->count; i++)
        take_one(wave, &own->batch[i]);
    own->count = 0;
}

enum dia_status dia_waveform_end(struct dia_waveform *wave, uint64_t until_ns,
                                 struct dia_diagnostic *wrong)
{
    struct waveform_private *own = wave->own;
    dia_waveform_catch_up(wave);
    if (own->lane && own->lane->part.family == DIA_ONEWIRE && own->in_frame &&
        !own->level[own->lane->pin])
        bit_is(wave, own->data, own->bit_from, own->fall);
    if (wave->no_memory) {
        errno = ENOMEM;
        return dia_host_failed(wrong, wave->rig->name, "edges cannot be kept");
    }
    if (wave->first_ns == 0)
        return dia_host_wrong(wrong, "nothing is sent on %s", wave->wires[0].name);
    if (wave->to_ns == wave->from_ns && wave->stretch.by_element)
        return dia_host_wrong(wrong, "there %s %u frame%s, and pixel %u of frame %u is not in %s",
                              wave->frames == 1 ? "is" : "are", (unsigned)wave->frames,
                              wave->frames == 1 ? "" : "s", (unsigned)wave->stretch.element,
                              (unsigned)wave->stretch.frame, wave->frames == 1 ? "it" : "them");
    if (wave->from_ns > until_ns)
        return dia_host_wrong(wrong,
                              "the wires are heard for %.3f ms, and the stretch begins later",
                              (double)(until_ns - wave->first_ns) / 1e6);
    return DIA_OK;
}
