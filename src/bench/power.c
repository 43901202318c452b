/* SPDX-License-Identifier: MIT */
#include <inttypes.h>
#include <stdio.h>
#include <string.h>

#include "bench_private.h"
#include "chain_feeding.h"

int dia_bench_supply(struct dia_bench *bench, const char *name, uint64_t max_ua, uint64_t steady_ua)
{
    if (bench->supply_count == SUPPLIES)
        return 0;
    struct supply *supply = &bench->supplies[bench->supply_count];
    snprintf(supply->name, sizeof supply->name, "%s", name);
    supply->max_ua = max_ua;
    supply->steady_ua = supply->gives_ua = supply->most_ua = steady_ua;
    return ++bench->supply_count;
}

int dia_bench_terminals(struct dia_bench *bench, int supply, uint32_t mv, double shared_ohm)
{
    if (supply <= 0 || supply > bench->supply_count || !(shared_ohm >= 0))
        return -1;
    bench->supplies[supply - 1].mv = mv;
    bench->supplies[supply - 1].now_volt = mv * 1e-3;
    bench->supplies[supply - 1].shared_ohm = shared_ohm;
    return 0;
}

/* The most so far is told, with the time of the first. */
static void supply_over(struct dia_bench *bench, struct supply *supply, uint64_t t)
{
    struct dia_finding finding = {.level = DIA_ERROR, .code = "supply-over", .t_ns = t};
    snprintf(finding.place, sizeof finding.place, "%s", supply->name);
    snprintf(finding.text, sizeof finding.text,
             "%" PRIu64 ".%03" PRIu64 " A drawn; it may give %" PRIu64 ".%03" PRIu64 " A",
             supply->gives_ua / 1000000, supply->gives_ua / 1000 % 1000, supply->max_ua / 1000000,
             supply->max_ua / 1000 % 1000);
    snprintf(finding.source, sizeof finding.source, "rating of the supply");
    struct dia_finding *known = dia_findings_find(&bench->findings, finding.code, finding.place);
    if (known && supply->gives_ua > supply->told_ua)
        memcpy(known->text, finding.text, sizeof known->text);
    supply->told_ua = supply->gives_ua > supply->told_ua ? supply->gives_ua : supply->told_ua;
    dia_findings_add(&bench->findings, &finding);
}

static uint64_t draws_from(const struct chain *chain, int supply)
{
    if (chain->feeding)
        return chain->feeding->gives_ua[supply];
    return chain->supply == supply + 1 ? chain->shown.draws_ua : 0;
}

static uint64_t given(const struct dia_bench *bench, int supply)
{
    uint64_t ua = bench->supplies[supply].steady_ua;
    for (int i = 0; i < bench->chain_count; i++)
        ua += draws_from(&bench->chains[i], supply);
    for (int i = 0; i < bench->device_count; i++) {
        if (bench->devices[i]->supply == supply + 1)
            ua += bench->devices[i]->shown.draws_ua;
    }
    return ua;
}

static void note_given(struct dia_bench *bench, int number, uint64_t t)
{
    struct supply *supply = &bench->supplies[number];
    supply->gives_ua = given(bench, number);
    if (supply->gives_ua > supply->most_ua)
        supply->most_ua = supply->gives_ua;
    if (supply->gives_ua > supply->max_ua)
        supply_over(bench, supply, t);
}

/* A bit for each supply that feeds a chain. */
static uint32_t feeders(const struct chain *chain)
{
    uint32_t mask = 0;
    if (!chain->feeding)
        return chain->supply ? 1u << (chain->supply - 1) : 0;
    for (uint32_t i = 0; i < chain->feeding->fed.feed_count; i++) {
        if (chain->feeding->feeds[i].supply)
            mask |= 1u << (chain->feeding->feeds[i].supply - 1);
    }
    return mask;
}

static void feed(const struct dia_bench *bench, struct chain *chain)
{
    double volts[SUPPLIES];
    for (int s = 0; s < SUPPLIES; s++)
        volts[s] = bench->supplies[s].now_volt;
    dia_chain_feed(chain, volts);
}

/* How far the volts behind the wires that all share are above what their current leaves there. */
static double above(struct dia_bench *bench, int number, double volts)
{
    struct supply *supply = &bench->supplies[number];
    supply->now_volt = volts;
    for (int i = 0; i < bench->chain_count; i++) {
        struct chain *chain = &bench->chains[i];
        if (chain->feeding && feeders(chain) >> number & 1u)
            feed(bench, chain);
    }
    return volts - (supply->mv * 1e-3 - supply->shared_ohm * (double)given(bench, number) * 1e-6);
}

/*
 * The volts at which what is drawn and what is left agree. What is drawn never falls with the
 * volts, so there is one such place between nothing and what the supply gives: false position, with
 * half the weight for an end that has stayed.
 */
#define AGREES_VOLT 1e-5

static void agree(struct dia_bench *bench, int number)
{
    double low = 0, high = bench->supplies[number].mv * 1e-3;
    double at_high = above(bench, number, high), at_low = above(bench, number, low);
    double found = at_high;
    for (int i = 0; i < 60 && (found > AGREES_VOLT || found < -AGREES_VOLT) && at_low < 0; i++) {
        double between = high - at_high * (high - low) / (at_high - at_low);
        found = above(bench, number, between);
        if (found > 0) {
            high = between;
            at_high = found;
            at_low /= 2;
        } else {
            low = between;
            at_low = found;
            at_high /= 2;
        }
    }
}

/* A bit for each supply with wires that all on it share. */
static uint32_t shared_wires(const struct dia_bench *bench)
{
    uint32_t shared = 0;
    for (int s = 0; s < bench->supply_count; s++)
        shared |= bench->supplies[s].shared_ohm > 0 ? 1u << s : 0;
    return shared;
}

/* Everything that hangs on supplies with shared wires: a set of more than the given ones comes
 * back. */
#define PASSES 100 /* a chain may be fed from several of them, each of which moves the others */

static uint32_t share(struct dia_bench *bench, uint32_t mask, uint64_t t)
{
    uint32_t shared = shared_wires(bench) & mask;
    int moves = shared != 0;
    for (int pass = 0; pass < PASSES && moves; pass++) {
        moves = 0;
        for (int s = 0; s < bench->supply_count; s++) {
            double before = bench->supplies[s].now_volt, by;
            if (!(shared >> s & 1u))
                continue;
            agree(bench, s);
            by = bench->supplies[s].now_volt - before;
            moves |= by > 2 * AGREES_VOLT || by < -2 * AGREES_VOLT;
        }
        moves &= (shared & (shared - 1)) != 0; /* one alone agrees at once */
    }
    for (int i = 0; shared && i < bench->chain_count; i++) {
        struct chain *chain = &bench->chains[i];
        if (!chain->feeding || !(feeders(chain) & shared))
            continue;
        dia_chain_feed_judge(chain, t, &bench->findings);
        mask |= feeders(chain);
    }
    return mask;
}

static void load(struct dia_bench *bench, uint32_t mask, uint64_t t)
{
    mask = share(bench, mask, t);
    for (int s = 0; s < bench->supply_count; s++) {
        if (mask >> s & 1u)
            note_given(bench, s, t);
    }
}

void dia_bench_load(struct dia_bench *bench, int number, uint64_t t)
{
    if (number)
        load(bench, 1u << (number - 1), t);
}

void dia_bench_latched(struct dia_bench *bench, struct chain *chain, uint64_t t)
{
    if (chain->feeding && !(feeders(chain) & shared_wires(bench))) {
        feed(bench, chain);
        dia_chain_feed_judge(chain, t, &bench->findings);
    }
    load(bench, feeders(chain), t);
}

void dia_bench_restart_pixels(struct dia_bench *bench, uint64_t t_ns)
{
    for (int i = 0; i < bench->chain_count; i++) {
        struct chain *chain = &bench->chains[i];
        memset(chain->shown.drive, 0, chain->shown.count * sizeof *chain->shown.drive);
        chain->shown.draws_ua = dia_chain_draw(chain);
    }
    for (int i = 0; i < bench->chain_count; i++)
        dia_bench_latched(bench, &bench->chains[i], t_ns);
}

const struct dia_fed *dia_bench_fed(const struct dia_bench *bench, int chain)
{
    if (chain < 0 || chain >= bench->chain_count || !bench->chains[chain].feeding)
        return NULL;
    return &bench->chains[chain].feeding->fed;
}

uint64_t dia_bench_gives_ua(const struct dia_bench *bench, int supply)
{
    return supply > 0 && supply <= bench->supply_count ? bench->supplies[supply - 1].gives_ua : 0;
}

uint64_t dia_bench_most_ua(const struct dia_bench *bench, int supply)
{
    return supply > 0 && supply <= bench->supply_count ? bench->supplies[supply - 1].most_ua : 0;
}
