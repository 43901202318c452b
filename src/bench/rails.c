/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include <diachrome/rails.h>

/*
 * Two ladders of resistors, joined at every element by what it draws: 2 unknowns an element, each
 * of which knows those of the next and the one before. Newton's steps solve it, each by going along
 * the strip and back once with blocks of 2 by 2. Currents are straight lines between kinks and
 * never fall with the volts, so a few steps find the stretches that all elements are on, and the
 * last one is exact.
 */
#define LEAST_OHM    1e-7
#define STEPS        100
#define WHOLE_STEPS  20 /* then half ones, which do not go round in a circle */
#define SETTLED_VOLT 1e-6
#define QUIET_VOLT   1.0 /* below this the logic draws less, in a straight line */

struct block {
    double supply[2], ground[2]; /* rows: how much of the next element's correction comes back */
    double rest[2];
};

struct dia_rails {
    struct dia_rails_setup setup;
    struct dia_rails_feed feeds[DIA_RAILS_FEEDS];
    double feed_volts[DIA_RAILS_FEEDS];
    double supply_siemens, ground_siemens; /* of the rail between two elements */
    double quiet_amp;
    float (*amps)[4];
    double *supply, *ground;           /* volts of each rail at each element */
    double *into_supply, *into_ground; /* siemens of the wires there */
    double *amps_supply;               /* and volts times siemens */
    struct block *blocks;
};

static int is_fit(const struct dia_rails_setup *setup)
{
    int powered = 0, grounded = 0;
    if (setup->count == 0 || setup->count > 65535 || setup->feed_count > DIA_RAILS_FEEDS ||
        !(setup->supply_ohm >= 0) || !(setup->ground_ohm >= 0))
        return 0;
    for (int c = 0; c < 4; c++) {
        if (!(setup->need.full_volt[c] > setup->need.gone_volt[c]) ||
            !(setup->need.gone_volt[c] >= 0))
            return 0;
    }
    for (uint32_t i = 0; i < setup->feed_count; i++) {
        if (setup->feeds[i].element >= setup->count)
            return 0;
        powered |= setup->feeds[i].supply_ohm >= 0;
        grounded |= setup->feeds[i].ground_ohm >= 0;
    }
    return powered && grounded;
}

static double siemens(double ohm)
{
    return ohm < 0 ? 0 : 1 / (ohm < LEAST_OHM ? LEAST_OHM : ohm);
}

struct dia_rails *dia_rails_new(const struct dia_rails_setup *setup)
{
    if (!is_fit(setup))
        return NULL;
    struct dia_rails *rails = calloc(1, sizeof *rails);
    if (!rails)
        return NULL;
    rails->setup = *setup;
    memcpy(rails->feeds, setup->feeds, setup->feed_count * sizeof *setup->feeds);
    rails->setup.feeds = rails->feeds;
    rails->supply_siemens = siemens(setup->supply_ohm);
    rails->ground_siemens = siemens(setup->ground_ohm);
    rails->amps = calloc(setup->count, sizeof *rails->amps);
    rails->supply = calloc(setup->count, 5 * sizeof *rails->supply);
    rails->blocks = calloc(setup->count, sizeof *rails->blocks);
    if (!rails->amps || !rails->supply || !rails->blocks) {
        dia_rails_free(rails);
        return NULL;
    }
    rails->ground = rails->supply + setup->count;
    rails->into_supply = rails->ground + setup->count;
    rails->into_ground = rails->into_supply + setup->count;
    rails->amps_supply = rails->into_ground + setup->count;
    for (uint32_t i = 0; i < setup->feed_count; i++) {
        rails->into_supply[setup->feeds[i].element] += siemens(setup->feeds[i].supply_ohm);
        rails->into_ground[setup->feeds[i].element] += siemens(setup->feeds[i].ground_ohm);
    }
    return rails;
}

void dia_rails_free(struct dia_rails *rails)
{
    if (!rails)
        return;
    free(rails->amps);
    free(rails->supply);
    free(rails->blocks);
    free(rails);
}

double dia_rails_share(const struct dia_rails_need *need, int channel, double volts)
{
    double share =
        (volts - need->gone_volt[channel]) / (need->full_volt[channel] - need->gone_volt[channel]);
    return share < 0 ? 0 : share > 1 ? 1 : share;
}

/* What an element draws, and how much more for each volt more. */
static double draws(const struct dia_rails *rails, uint32_t k, double *slope)
{
    const struct dia_rails_need *need = &rails->setup.need;
    double volts = rails->supply[k] - rails->ground[k], amps = rails->quiet_amp;
    *slope = 0;
    if (volts < QUIET_VOLT) {
        *slope = rails->quiet_amp / QUIET_VOLT;
        amps = volts * *slope;
    }
    for (int c = 0; c < 4; c++) {
        double wanted = (double)rails->amps[k][c];
        if (volts >= need->full_volt[c]) {
            amps += wanted;
        } else if (volts > need->gone_volt[c]) {
            double rises = wanted / (need->full_volt[c] - need->gone_volt[c]);
            amps += rises * (volts - need->gone_volt[c]);
            *slope += rises;
        }
    }
    return amps;
}

/* Along the strip: each element in terms of the next. */
static void go_along(struct dia_rails *rails)
{
    uint32_t count = rails->setup.count;
    double up = rails->supply_siemens, down = rails->ground_siemens;
    for (uint32_t k = 0; k < count; k++) {
        double slope, amps = draws(rails, k, &slope);
        double a = rails->into_supply[k], d = rails->into_ground[k];
        double rest_supply = rails->amps_supply[k] - a * rails->supply[k] - amps;
        double rest_ground = amps - d * rails->ground[k];
        double b = -slope, c = b;
        a += slope;
        d += slope;
        if (k + 1 < count) {
            a += up;
            d += down;
            rest_supply -= up * (rails->supply[k] - rails->supply[k + 1]);
            rest_ground -= down * (rails->ground[k] - rails->ground[k + 1]);
        }
        if (k > 0) {
            const struct block *before = &rails->blocks[k - 1];
            rest_supply -= up * (rails->supply[k] - rails->supply[k - 1]);
            rest_ground -= down * (rails->ground[k] - rails->ground[k - 1]);
            a += up - up * before->supply[0];
            b -= up * before->supply[1];
            c -= down * before->ground[0];
            d += down - down * before->ground[1];
            rest_supply += up * before->rest[0];
            rest_ground += down * before->rest[1];
        }
        double by = 1 / (a * d - b * c);
        struct block *block = &rails->blocks[k];
        block->supply[0] = d * up * by;
        block->supply[1] = -b * down * by;
        block->ground[0] = -c * up * by;
        block->ground[1] = a * down * by;
        block->rest[0] = (d * rest_supply - b * rest_ground) * by;
        block->rest[1] = (a * rest_ground - c * rest_supply) * by;
    }
}

/* And back: the corrections. The largest comes back. */
static double come_back(struct dia_rails *rails, double part)
{
    double supply = 0, ground = 0, largest = 0;
    for (uint32_t k = rails->setup.count; k-- > 0;) {
        const struct block *block = &rails->blocks[k];
        int last = k + 1 == rails->setup.count;
        double s = block->rest[0], g = block->rest[1];
        if (!last) {
            s += block->supply[0] * supply + block->supply[1] * ground;
            g += block->ground[0] * supply + block->ground[1] * ground;
        }
        supply = s;
        ground = g;
        rails->supply[k] += part * s;
        rails->ground[k] += part * g;
        s = s < 0 ? -s : s;
        g = g < 0 ? -g : g;
        largest = s > largest ? s : largest;
        largest = g > largest ? g : largest;
    }
    return largest;
}

enum dia_status dia_rails_solve(struct dia_rails *rails, const double *volts,
                                const float (*amps)[4], double quiet_amp)
{
    uint32_t count = rails->setup.count;
    double highest = 0;
    memcpy(rails->amps, amps, count * sizeof *amps);
    rails->quiet_amp = quiet_amp;
    memset(rails->amps_supply, 0, count * sizeof *rails->amps_supply);
    for (uint32_t i = 0; i < rails->setup.feed_count; i++) {
        rails->feed_volts[i] = volts[i];
        rails->amps_supply[rails->feeds[i].element] +=
            volts[i] * siemens(rails->feeds[i].supply_ohm);
        if (rails->feeds[i].supply_ohm >= 0 && volts[i] > highest)
            highest = volts[i];
    }
    /* from full volts everywhere, so that what a frame comes to does not depend on the one before
     */
    for (uint32_t k = 0; k < count; k++) {
        rails->supply[k] = highest;
        rails->ground[k] = 0;
    }
    for (int step = 0; step < STEPS; step++) {
        go_along(rails);
        if (come_back(rails, step < WHOLE_STEPS ? 1 : 0.5) < SETTLED_VOLT)
            return DIA_OK;
    }
    return DIA_BUSY;
}

double dia_rails_volts(const struct dia_rails *rails, uint32_t element)
{
    return rails->supply[element] - rails->ground[element];
}

double dia_rails_ground(const struct dia_rails *rails, uint32_t element)
{
    return rails->ground[element];
}

uint32_t dia_rails_worst(const struct dia_rails *rails)
{
    uint32_t worst = 0;
    for (uint32_t k = 1; k < rails->setup.count; k++) {
        if (dia_rails_volts(rails, k) < dia_rails_volts(rails, worst))
            worst = k;
    }
    return worst;
}

double dia_rails_amps(const struct dia_rails *rails, uint32_t element)
{
    double slope;
    return draws(rails, element, &slope);
}

double dia_rails_feed_amps(const struct dia_rails *rails, uint32_t feed)
{
    const struct dia_rails_feed *at = &rails->feeds[feed];
    return (rails->feed_volts[feed] - rails->supply[at->element]) * siemens(at->supply_ohm);
}

double dia_rails_feed_ground_amps(const struct dia_rails *rails, uint32_t feed)
{
    const struct dia_rails_feed *at = &rails->feeds[feed];
    return rails->ground[at->element] * siemens(at->ground_ohm);
}
