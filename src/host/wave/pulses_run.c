/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include <diachrome/bench.h>
#include <diachrome/pulse_engine.h>
#include <diachrome/pulses_run.h>

#include "family.h"

#define PERIODS 100
#define LONGEST_NS                                                                                 \
    4000000000000u /* some thousand seconds: the slowest period there is, 100 times */
#define SUPPLY_UA 60000000u

/* ---- a rig to draw --------------------------------------------------------------------------- */

static const char *const pin_names[] = {"a", "b", "c", NULL};
static const struct dia_rig_family pins_only = {.what = "pins", .roles = pin_names};

static uint32_t pins_of(const struct dia_pulses *plan)
{
    uint32_t most = plan->set_pins > plan->out_pins ? plan->set_pins : plan->out_pins;
    uint32_t side = (uint32_t)plan->side_first + plan->side_pins;
    return most > side ? most : side;
}

/* The longest of its times: a period, or the sum of a train. */
static uint64_t lasts_ns(const struct dia_pulses *plan)
{
    uint64_t ps = 0, most = 0;
    for (uint8_t k = 0; k < plan->time_count; k++) {
        ps += plan->times[k].got_ps;
        most = plan->times[k].got_ps > most ? plan->times[k].got_ps : most;
    }
    if (plan->pull_bits) { /* a bit, and some cycles between bytes and before and after the latch */
        ps = plan->times[0].got_ps + plan->times[1].got_ps;
        return ps * (plan->chips ? plan->chips * 9u + 3u : plan->pull_bits) / 1000u + 1u;
    }
    return strcmp(plan->times[0].name, "period") == 0 ? 2 * most / 1000u + 1 : ps / 1000u + 1;
}

const char *dia_pulses_rig(const struct dia_pulses *plan, const struct dia_pixel_part *part,
                           const char *title, struct dia_rig *rig,
                           struct dia_waveform_stretch *stretch)
{
    memset(rig, 0, sizeof *rig);
    memset(stretch, 0, sizeof *stretch);
    snprintf(rig->name, sizeof rig->name, "%s", title);
    rig->controller.clock_hz = plan->clock_hz;
    if (part) {
        struct dia_rig_lane *lane = &rig->lanes[0];
        strcpy(lane->name, "pin0");
        lane->part = *part;
        lane->count = DIA_PULSES_PIXELS;
        for (uint8_t k = 0; k < part->channels->count; k++)
            lane->order[k] = "RGBW"[part->order.channel[k] & 3];
        rig->lane_count = 1;
        stretch->by_element = 1;
        return lane->name;
    }
    struct dia_rig_device *device = &rig->devices[0];
    strcpy(device->name, "pin");
    device->family = &pins_only;
    memset(device->pins, DIA_NO_PIN, sizeof device->pins);
    for (uint8_t k = 0; k < pins_of(plan) && k < 3; k++)
        device->pins[k] = k;
    rig->device_count = 1;
    stretch->lasts_ns = lasts_ns(plan);
    return device->name;
}

/* ---- the run --------------------------------------------------------------------------------- */

struct ear {
    struct dia_bench *bench;
    struct dia_waveform *wave;
    struct dia_pulses_seen *seen;
    uint64_t last_ns, first_rise_ns, last_rise_ns;
    uint32_t rises;
};

static void note(struct ear *ear, const struct dia_edge *edge)
{
    struct dia_pulses_seen *seen = ear->seen;
    uint64_t lasted = edge->t_ns - ear->last_ns;
    uint64_t *least = edge->level ? &seen->least_low_ns : &seen->least_high_ns;
    uint64_t *most = edge->level ? &seen->most_low_ns : &seen->most_high_ns;
    if (edge->level) {
        ear->first_rise_ns = ear->rises ? ear->first_rise_ns : edge->t_ns;
        ear->last_rise_ns = edge->t_ns;
        ear->rises++;
    }
    if (seen->edges++ > 0) { /* what was before the first edge is no pulse */
        *least = lasted < *least ? lasted : *least;
        *most = lasted > *most ? lasted : *most;
    }
    ear->last_ns = edge->t_ns;
}

static void hear(void *self, const struct dia_edge *edges, uint32_t n)
{
    struct ear *ear = self;
    if (ear->bench)
        dia_bench_take(ear->bench, edges, n);
    if (ear->wave)
        dia_waveform_take(ear->wave, edges, n);
    for (uint32_t k = 0; k < n; k++) {
        if (edges[k].pin == 0)
            note(ear, &edges[k]);
    }
}

/* Bytes of all kinds: the first pixel has all bits in turns. */
static void fill(uint32_t data[DIA_PULSES_PIXELS], uint32_t bits)
{
    static const uint32_t kinds[] = {0xaa55cc33, 0x00000000, 0xffffffff, 0x0180fe7f, 0x10203040};
    for (uint32_t k = 0; k < DIA_PULSES_PIXELS; k++)
        data[k] = kinds[k % 5] << (32 - bits);
}

static int begin(struct ear *ear, const struct dia_pixel_part *part)
{
    struct dia_chain_setup chain = {.name = "pin0", .part = part->name, .count = DIA_PULSES_PIXELS};
    ear->bench = dia_bench_new();
    if (!ear->bench)
        return -1;
    chain.supply = dia_bench_supply(ear->bench, "supply", SUPPLY_UA, 0);
    return chain.supply < 0 || dia_bench_chain(ear->bench, &chain) < 0 ? -1 : 0;
}

static void judge(struct ear *ear, const struct dia_pixel_part *part, const uint32_t *data,
                  uint64_t now_ns)
{
    const struct dia_shown *shown = dia_bench_shown(ear->bench, 0);
    uint32_t bytes = part->channels->count;
    dia_bench_settle(ear->bench, now_ns + part->timing.latch_us * 2000ull);
    for (uint32_t i = 0; i < DIA_PULSES_PIXELS; i++) {
        uint32_t same = 0;
        for (uint32_t k = 0; k < bytes; k++)
            same += shown->drive[i][part->order.channel[k]] == (uint8_t)(data[i] >> (24 - 8 * k));
        ear->seen->right += same == bytes;
    }
    const struct dia_findings *found = dia_bench_findings(ear->bench);
    for (uint32_t k = 0; k < found->count; k++)
        dia_findings_add(&ear->seen->found, &found->items[k]);
}

struct dia_engine_setup dia_pulses_engine(const struct dia_pulses *plan, const uint32_t *data,
                                          uint32_t count)
{
    return (struct dia_engine_setup){.words = plan->words,
                                     .count = plan->count,
                                     .wrap = plan->wrap,
                                     .side_count = plan->side_pins,
                                     .set_count = plan->set_pins,
                                     .out_count = plan->out_pins,
                                     .side_pin = plan->side_first,
                                     .set_pin = plan->set_first,
                                     .out_pin = plan->out_first,
                                     .pull_bits = plan->pull_bits,
                                     .clock_hz = plan->clock_hz,
                                     .divider = plan->divider,
                                     .data = data,
                                     .data_count = count};
}

enum dia_status dia_pulses_run(const struct dia_pulses *plan, const struct dia_pixel_part *part,
                               struct dia_pulses_seen *seen, struct dia_waveform *wave)
{
    uint32_t data[DIA_PULSES_PIXELS];
    struct ear ear = {.wave = wave, .seen = seen};
    struct dia_engine engine;
    memset(seen, 0, sizeof *seen);
    dia_findings_init(&seen->found);
    seen->least_high_ns = seen->least_low_ns = UINT64_MAX;
    fill(data, part ? part->channels->count * 8u : plan->pull_bits ? plan->pull_bits : 32u);
    if (part && begin(&ear, part) != 0) {
        dia_bench_free(ear.bench);
        return DIA_PORT_FAILED;
    }
    struct dia_engine_setup setup = dia_pulses_engine(plan, data, DIA_PULSES_PIXELS);
    uint64_t until_ns = PERIODS * lasts_ns(plan);
    dia_engine_init(&engine, &setup);
    dia_engine_run(&engine, until_ns < LONGEST_NS ? until_ns : LONGEST_NS, hear, &ear);
    if (ear.rises > 1)
        seen->rate_hz = (ear.rises - 1) * 1e9 / (double)(ear.last_rise_ns - ear.first_rise_ns);
    if (part)
        judge(&ear, part, data, dia_engine_now_ns(&engine));
    if (wave)
        dia_waveform_catch_up(wave);
    dia_bench_free(ear.bench);
    return DIA_OK;
}
