/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include <diachrome/bench.h>

#include "bench_private.h"
#include "chain_feeding.h"

struct dia_bench *dia_bench_new(void)
{
    return calloc(1, sizeof(struct dia_bench));
}

void dia_bench_free(struct dia_bench *bench)
{
    if (!bench)
        return;
    for (int i = 0; i < bench->chain_count; i++)
        dia_chain_free(&bench->chains[i]);
    for (int i = 0; i < bench->device_count; i++)
        bench->devices[i]->of->free(bench->devices[i]);
    dia_findings_free(&bench->findings);
    free(bench);
}

int dia_bench_in_use(const struct dia_bench *bench, uint8_t pin)
{
    return bench->on_pin[pin] || bench->wired[pin][0].device;
}

static int feeds_exist(const struct dia_bench *bench, const struct dia_chain_power *power)
{
    for (uint32_t i = 0; power && i < power->feed_count && i < DIA_RAILS_FEEDS; i++) {
        int supply = power->feeds[i].supply;
        if (supply < 0 || supply > bench->supply_count || (i == 0 && supply == 0))
            return 0;
    }
    return 1;
}

/* Its rails and feeds, or only the wires that all on its supply share. */
static int feed(const struct dia_bench *bench, struct chain *chain,
                const struct dia_chain_power *power)
{
    const struct supply *supply = chain->supply ? &bench->supplies[chain->supply - 1] : NULL;
    const struct dia_chain_feed whole = {.supply = chain->supply};
    const struct dia_chain_power ideal = {.feeds = &whole, .feed_count = 1};
    if (!supply || supply->mv == 0 || (!power && supply->shared_ohm == 0))
        return 0;
    return dia_chain_feeding_init(chain, power ? power : &ideal, supply->mv);
}

int dia_bench_chain(struct dia_bench *bench, const struct dia_chain_setup *setup)
{
    const struct sheet *sheet = dia_sheet_of(setup->part);
    int clocked = sheet && sheet->wire != SHEET_PULSES;
    if (bench->chain_count == CHAINS || dia_bench_in_use(bench, setup->pin) || setup->supply < 0 ||
        setup->supply > bench->supply_count)
        return -1;
    if (clocked && (dia_bench_in_use(bench, setup->clock_pin) || setup->clock_pin == setup->pin))
        return -1;
    struct chain *chain = &bench->chains[bench->chain_count];
    if (!feeds_exist(bench, setup->power) || dia_chain_init(chain, setup) != 0)
        return -1;
    if (feed(bench, chain, setup->power) != 0) {
        dia_chain_free(chain);
        return -1;
    }
    bench->on_pin[setup->pin] = chain;
    if (clocked)
        bench->on_pin[setup->clock_pin] = chain;
    bench->chain_count++;
    dia_bench_latched(bench, chain, 0);
    return bench->chain_count - 1;
}

static void device_takes(struct device *device, uint8_t role, const struct dia_edge *edge)
{
    if (device->level[role] == edge->level)
        return;
    device->level[role] = edge->level;
    device->of->edge(device, edge->t_ns, role, edge->level);
    device->changed[role] = edge->t_ns;
}

/* Chains latch in the order of time, so that a supply sees what it would see: all, or those that
 * latch when their line has rested. */
static void latch_until(struct dia_bench *bench, uint64_t t_ns, int all)
{
    for (;;) {
        struct chain *next = NULL;
        for (int i = 0; i < bench->chain_count; i++) {
            struct chain *chain = &bench->chains[i];
            int rests = chain->sheet->wire == SHEET_PULSES || chain->sheet->wire == SHEET_PAUSE;
            if ((all || rests) && dia_chain_latches_ns(chain) <= t_ns &&
                (!next || dia_chain_latches_ns(chain) < dia_chain_latches_ns(next)))
                next = chain;
        }
        if (!next)
            return;
        dia_chain_settle(next, &bench->findings);
        dia_bench_latched(bench, next, next->shown.latched_ns);
    }
}

/* No line says that it has latched until it is used again, so that of another says it too. */
static void pulse_begins(struct dia_bench *bench, const struct chain *chain, uint64_t t_ns)
{
    if (dia_chain_latches_ns(chain) <= t_ns)
        latch_until(bench, t_ns, 0);
}

#define WAKES_NS 20000 /* a clock that has rested so long begins something new; a choice */

static void clock_begins(struct dia_bench *bench, const struct chain *chain, uint64_t t_ns)
{
    if (t_ns >= chain->fall + WAKES_NS)
        latch_until(bench, t_ns, 0);
}

static void chain_takes(struct dia_bench *bench, struct chain *chain, const struct dia_edge *edge)
{
    if (chain->fault.wrong_end)
        return;
    if (chain->sheet->wire == SHEET_PULSES) {
        if (edge->level)
            pulse_begins(bench, chain, edge->t_ns);
        dia_chain_edge(chain, edge->t_ns, edge->level, &bench->findings);
        return;
    }
    clock_begins(bench, chain, edge->t_ns);
    if (dia_clocked_edge(chain, edge->t_ns, edge->pin, edge->level, &bench->findings))
        dia_bench_latched(bench, chain, chain->shown.latched_ns);
}

static void take_one(struct dia_bench *bench, const struct dia_edge *edge)
{
    bench->level[edge->pin] = edge->level;
    for (int i = 0; bench->wired[edge->pin][i].device; i++)
        device_takes(bench->wired[edge->pin][i].device, bench->wired[edge->pin][i].role, edge);
    if (bench->on_pin[edge->pin])
        chain_takes(bench, bench->on_pin[edge->pin], edge);
}

/* A spike soon after an edge: there and back. */
#define SPIKE_AFTER_NS 20u
#define SPIKE_NS       30u

static void spike(struct dia_bench *bench, const struct dia_edge *edge)
{
    struct dia_edge there = *edge;
    there.t_ns += SPIKE_AFTER_NS;
    there.level = !edge->level;
    take_one(bench, &there);
    there.t_ns += SPIKE_NS;
    there.level = edge->level;
    take_one(bench, &there);
}

/* The usual way of an edge: to a chain of pulses, with nothing wrong. It is the busiest of all. */
static inline int is_plain(const struct dia_bench *bench, const struct chain *chain)
{
    return chain && !bench->noisy && !chain->fault.wrong_end && chain->sheet->wire == SHEET_PULSES;
}

void dia_bench_take(void *self, const struct dia_edge *edges, uint32_t n)
{
    struct dia_bench *bench = self;
    for (uint32_t i = 0; i < n; i++) {
        const struct dia_edge *edge = &edges[i];
        struct chain *chain = bench->on_pin[edge->pin];
        if (is_plain(bench, chain)) {
            if (edge->level)
                pulse_begins(bench, chain, edge->t_ns);
            dia_chain_edge(chain, edge->t_ns, edge->level, &bench->findings);
            continue;
        }
        take_one(bench, edge);
        if (chance(&bench->noise[edge->pin].seed, bench->noise[edge->pin].ppm))
            spike(bench, edge);
    }
}

/* Whether the same devices are on both wires, and can take bits of this shape. */
static int devices_fit(const struct dia_bench *bench, const struct dia_burst *burst)
{
    const struct wire *data = bench->wired[burst->pin], *clock = bench->wired[burst->clock_pin];
    int i = 0;
    for (; data[i].device; i++) {
        const struct device_class *of = data[i].device->of;
        if (data[i].device != clock[i].device || data[i].role != 0 || clock[i].role != 1 ||
            !of->bit || burst->low[0] >> 10 < of->half_ns || burst->high[0] >> 10 < of->half_ns)
            return 0;
    }
    return i != 0 && !clock[i].device;
}

static void bit_by_edges(struct dia_bench *bench, const struct dia_burst *burst, uint64_t at,
                         uint8_t bit)
{
    struct dia_edge edge = {.t_ns = at >> 10, .pin = burst->pin, .level = bit};
    take_one(bench, &edge);
    edge = (struct dia_edge){(at + burst->low[0]) >> 10, burst->clock_pin, 1, 0};
    take_one(bench, &edge);
    edge = (struct dia_edge){(at + burst->low[0] + burst->high[0]) >> 10, burst->clock_pin, 0, 0};
    take_one(bench, &edge);
}

/* The edges of the first bit and of the last say what lies between a burst and what is around it;
 * of the others nothing but the value counts. */
static void devices_take(struct dia_bench *bench, const struct dia_burst *burst)
{
    uint64_t last = 8 * (uint64_t)burst->n - 1, lasts = burst->low[0] + burst->high[0];
    bit_by_edges(bench, burst, burst->at, burst->bytes[0] >> 7);
    for (int i = 0; bench->wired[burst->pin][i].device; i++) {
        struct device *device = bench->wired[burst->pin][i].device;
        for (uint64_t k = 1; k < last; k++)
            device->of->bit(device, burst->bytes[k / 8] >> (7 - k % 8) & 1);
    }
    bit_by_edges(bench, burst, burst->at + last * lasts, burst->bytes[burst->n - 1] & 1);
}

/* Whether one device has all these lines as its first roles, alone, and can take them so. */
static int lines_fit(const struct dia_bench *bench, const struct dia_burst *burst)
{
    const struct wire *clock = bench->wired[burst->clock_pin];
    const struct device *device = clock[0].device;
    if (!device || clock[1].device || !device->of->lines || clock[0].role != device->of->clock ||
        burst->low[0] >> 10 < device->of->half_ns || burst->high[0] >> 10 < device->of->half_ns)
        return 0;
    for (uint8_t k = 0; k < burst->lines; k++) {
        const struct wire *wire = bench->wired[burst->pin + k];
        if (wire[0].device != device || wire[0].role != k || wire[1].device ||
            bench->on_pin[burst->pin + k])
            return 0;
    }
    return bench->on_pin[burst->clock_pin] == NULL;
}

static void byte_by_edges(struct dia_bench *bench, const struct dia_burst *burst, uint32_t number)
{
    uint64_t at = burst->at + number * (burst->low[0] + burst->high[0]);
    for (uint8_t k = 0; k < burst->lines; k++) {
        struct dia_edge edge = {at >> 10, (uint8_t)(burst->pin + k), burst->bytes[number] >> k & 1u,
                                0};
        if (bench->level[edge.pin] != edge.level)
            take_one(bench, &edge);
    }
    struct dia_edge edge = {(at + burst->low[0]) >> 10, burst->clock_pin, 1, 0};
    take_one(bench, &edge);
    edge = (struct dia_edge){(at + burst->low[0] + burst->high[0]) >> 10, burst->clock_pin, 0, 0};
    take_one(bench, &edge);
}

/* As devices_take. */
static void lines_take(struct dia_bench *bench, const struct dia_burst *burst)
{
    struct device *device = bench->wired[burst->clock_pin][0].device;
    byte_by_edges(bench, burst, 0);
    if (burst->n > 2) {
        device->of->lines(device, burst->bytes + 1, burst->n - 2);
        for (uint8_t k = 0; k < burst->lines; k++)
            bench->level[burst->pin + k] = device->level[k] = burst->bytes[burst->n - 2] >> k & 1u;
    }
    if (burst->n > 1)
        byte_by_edges(bench, burst, burst->n - 1);
}

int dia_bench_take_burst(void *self, const struct dia_burst *burst)
{
    struct dia_bench *bench = self;
    struct chain *chain = bench->on_pin[burst->pin];
    if (bench->noisy)
        return 0;
    if (burst->lines) {
        int fits = lines_fit(bench, burst);
        if (fits)
            lines_take(bench, burst);
        return fits;
    }
    if (!chain) {
        int fits = burst->clock_pin != DIA_NO_PIN && devices_fit(bench, burst);
        if (fits)
            devices_take(bench, burst);
        return fits;
    }
    if (chain->fault.wrong_end)
        return 0;
    if (burst->clock_pin == DIA_NO_PIN) {
        if (!dia_chain_fits(chain, burst))
            return 0;
        pulse_begins(bench, chain, burst->at >> 10);
        dia_chain_burst(chain, burst, &bench->findings);
        return 1;
    }
    if (!dia_clocked_fits(chain, burst))
        return 0;
    clock_begins(bench, chain, burst->at >> 10);
    for (uint32_t i = 0; i < burst->n; i++) {
        if (dia_clocked_byte(chain, burst, i, &bench->findings))
            dia_bench_latched(bench, chain, chain->shown.latched_ns);
    }
    return 1;
}

void dia_bench_noise(struct dia_bench *bench, uint8_t pin, uint32_t ppm, uint32_t seed)
{
    bench->noise[pin].ppm = ppm;
    bench->noisy |= ppm != 0;
    bench->noise[pin].seed = seed * 2654435761u | 1u;
}

void dia_bench_slack(struct dia_bench *bench, uint32_t ns)
{
    for (int i = 0; i < bench->chain_count; i++)
        dia_chain_slack(&bench->chains[i], ns);
    for (int i = 0; i < bench->device_count; i++)
        bench->devices[i]->slack_ns = ns;
}

void dia_bench_join(struct dia_bench *bench, uint64_t t_ns)
{
    for (int i = 0; i < bench->chain_count; i++)
        dia_chain_join(&bench->chains[i], t_ns);
}

int dia_bench_chain_fault(struct dia_bench *bench, int chain, const struct dia_chain_fault *fault)
{
    if (chain < 0 || chain >= bench->chain_count)
        return -1;
    bench->chains[chain].fault = *fault;
    bench->chains[chain].fault.seed = fault->seed * 2654435761u | 1u;
    return 0;
}

void dia_bench_settle_device(struct dia_bench *bench, struct device *device, uint64_t t_ns)
{
    uint64_t before = device->shown.draws_ua;
    device->of->settle(device, t_ns);
    if (device->shown.draws_ua != before)
        dia_bench_load(bench, device->supply, t_ns);
}

void dia_bench_settle(struct dia_bench *bench, uint64_t t_ns)
{
    latch_until(bench, t_ns, 1);
    for (int i = 0; i < bench->device_count; i++) {
        if (!bench->devices[i]->seen)
            dia_bench_settle_device(bench, bench->devices[i], t_ns);
    }
}

const struct dia_shown *dia_bench_shown(const struct dia_bench *bench, int chain)
{
    return chain >= 0 && chain < bench->chain_count ? &bench->chains[chain].shown : NULL;
}

const struct dia_findings *dia_bench_findings(const struct dia_bench *bench)
{
    return &bench->findings;
}

void dia_bench_complain(struct dia_bench *bench, const struct dia_finding *finding)
{
    dia_findings_add(&bench->findings, finding);
}
