/* SPDX-License-Identifier: MIT */
#include <ctype.h>
#include <errno.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/nearest.h>
#include <diachrome/waveform.h>

#include "host_private.h"
#include "waveform_private.h"
#include "waveform_words.h"

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
    wave->own->device = device;
    if (device->family->reading && device->family->says)
        wave->own->reads = (uint8_t)device->family->reading(device, &wave->own->reading);
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
        dia_waveform_read(wave, &own->batch[i]);
    own->count = 0;
}

enum dia_status dia_waveform_end(struct dia_waveform *wave, uint64_t until_ns,
                                 struct dia_diagnostic *wrong)
{
    dia_waveform_catch_up(wave);
    dia_waveform_read_last(wave);
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

void dia_waveform_between(const struct dia_waveform *wave, uint32_t wire, uint64_t from_ns,
                          uint64_t to_ns, struct dia_waveform_between *between)
{
    const struct dia_waveform_wire *w = &wave->wires[wire];
    uint64_t from = wave->first_ns + from_ns, to = wave->first_ns + to_ns, at = from;
    uint64_t first = 0, last = 0;
    uint8_t level = w->before;
    *between = (struct dia_waveform_between){.lasts_ns = to - from};
    for (uint32_t i = 0; i < w->count && w->edges[i].t_ns <= to; i++) {
        const struct dia_waveform_edge *edge = &w->edges[i];
        if (edge->t_ns > from) {
            between->high_ns += level ? edge->t_ns - at : 0;
            at = edge->t_ns;
            if (edge->level) {
                first = between->rises++ ? first : edge->t_ns;
                last = edge->t_ns;
            }
        }
        level = edge->level;
    }
    between->high_ns += level ? to - at : 0;
    if (between->rises > 1)
        between->period_ns = (double)(last - first) / (between->rises - 1);
}
