/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include "chain_feeding.h"
#include "chain_judge.h"

static struct dia_rails *rails_of(const struct chain_feeding *feeding, uint32_t count,
                                  const struct dia_chain_power *power)
{
    struct dia_rails_feed feeds[DIA_RAILS_FEEDS];
    struct dia_rails_setup setup = {.count = count,
                                    .supply_ohm = power->rail_ohm,
                                    .ground_ohm = power->rail_ohm,
                                    .feeds = feeds,
                                    .feed_count = power->feed_count,
                                    .need = feeding->need.dies};
    for (uint32_t i = 0; i < power->feed_count; i++) {
        const struct dia_chain_feed *feed = &power->feeds[i];
        feeds[i] = (struct dia_rails_feed){feed->element, feed->supply ? feed->supply_ohm : -1,
                                           feed->ground_ohm};
    }
    return dia_rails_new(&setup);
}

int dia_chain_feeding_init(struct chain *chain, const struct dia_chain_power *power,
                           uint32_t supply_mv)
{
    uint32_t count = chain->shown.count;
    if (power->feed_count == 0 || power->feed_count > DIA_RAILS_FEEDS)
        return -1;
    struct chain_feeding *feeding = calloc(1, sizeof *feeding);
    if (!feeding)
        return -1;
    chain->feeding = feeding;
    feeding->supply_mv = supply_mv;
    feeding->signal_mv = power->signal_mv;
    feeding->need = dia_sheet_need(chain->sheet, supply_mv);
    feeding->fed.feed_count = power->feed_count;
    feeding->fed.least_mv = UINT32_MAX;
    feeding->refused_at = UINT32_MAX;
    memcpy(feeding->feeds, power->feeds, power->feed_count * sizeof *power->feeds);
    feeding->rails = rails_of(feeding, count, power);
    feeding->amps = calloc(count, sizeof *feeding->amps);
    feeding->mv = calloc(count, sizeof *feeding->mv);
    feeding->fed.mv = feeding->mv;
    uint8_t(*lit)[4] = calloc(count, sizeof *lit);
    if (lit)
        chain->shown.lit = lit;
    if (feeding->rails && feeding->amps && feeding->mv && lit)
        return 0;
    dia_chain_feeding_free(chain);
    return -1;
}

void dia_chain_feeding_free(struct chain *chain)
{
    struct chain_feeding *feeding = chain->feeding;
    if (!feeding)
        return;
    if (chain->shown.lit != chain->shown.drive)
        free(chain->shown.lit);
    chain->shown.lit = chain->shown.drive;
    dia_rails_free(feeding->rails);
    free(feeding->amps);
    free(feeding->mv);
    free(feeding);
    chain->feeding = NULL;
}

/* A die lit d / full of the time draws so much of its current. */
static void want(struct chain *chain)
{
    struct chain_feeding *feeding = chain->feeding;
    float led = (float)chain->led_ua * 1e-6f;
    float byte = led / (chain->shown.scale == DIA_SCALE_SEVEN ? 127 : 255), level = byte / 31;
    for (uint32_t k = 0; k < chain->shown.count; k++) {
        const uint8_t *d = chain->shown.drive[k];
        float *amps = feeding->amps[k];
        if (chain->sheet->series) {
            uint8_t most = d[0] > d[1] ? d[0] : d[1];
            amps[0] = byte * (float)(d[2] > most ? d[2] : most);
        } else if (chain->shown.scale == DIA_SCALE_LEVEL) {
            for (int c = 0; c < 3; c++)
                amps[c] = level * (float)(d[c] * d[3]);
        } else {
            for (int c = 0; c < 4; c++)
                amps[c] = byte * (float)d[c];
        }
    }
}

/* What a high at the first input must have against the ground of its controller. Parts for 12 V
 * have logic of 5 V inside. */
static double needs_mv(const struct chain_feeding *feeding, double share)
{
    double volts = dia_rails_volts(feeding->rails, 0);
    volts = volts > SHEET_LOGIC_MOST_VOLT ? SHEET_LOGIC_MOST_VOLT : volts;
    return 1000 * (dia_rails_ground(feeding->rails, 0) + share * volts);
}

/* What is lit of what was sent, and how many pixels from the first can take data. */
static void light(struct chain *chain)
{
    struct chain_feeding *feeding = chain->feeding;
    const struct dia_rails_need *need = &feeding->need.dies;
    uint8_t colours = chain->shown.scale == DIA_SCALE_BYTE ? 4 : 3;
    double enough =
        need->full_volt[2] > need->full_volt[3] ? need->full_volt[2] : need->full_volt[3];
    for (uint32_t k = 0; k < chain->shown.count; k++) {
        double volts = dia_rails_volts(feeding->rails, k);
        feeding->mv[k] = (uint16_t)(volts < 0 ? 0 : volts * 1000 + 0.5);
        memcpy(chain->shown.lit[k], chain->shown.drive[k], 4);
        for (int c = 0; volts < enough && c < colours; c++)
            chain->shown.lit[k][c] =
                (uint8_t)(chain->shown.drive[k][c] * dia_rails_share(need, c, volts) + 0.5);
    }
    chain->powered = 0;
    if (feeding->signal_mv && feeding->signal_mv < needs_mv(feeding, SHEET_INPUT_SHARE))
        return;
    while (chain->powered < chain->shown.count &&
           feeding->mv[chain->powered] >= feeding->need.logic_volt * 1000)
        chain->powered++;
}

/* rounded up, but for what the solution is off by */
static uint64_t microamperes(double amps)
{
    return amps > 0 ? (uint64_t)(amps * 1e6 + 0.999) : 0;
}

static void share_out(struct chain_feeding *feeding)
{
    double amps[FEEDING_SUPPLIES] = {0};
    for (uint32_t i = 0; i < feeding->fed.feed_count; i++) {
        double in = dia_rails_feed_amps(feeding->rails, i);
        feeding->fed.feed_ua[i] = in < 0 ? -(int64_t)microamperes(-in) : (int64_t)microamperes(in);
        if (feeding->feeds[i].supply)
            amps[feeding->feeds[i].supply - 1] += in;
    }
    for (int s = 0; s < FEEDING_SUPPLIES; s++)
        feeding->gives_ua[s] = microamperes(amps[s]);
}

void dia_chain_feed(struct chain *chain, const double *volts)
{
    struct chain_feeding *feeding = chain->feeding;
    double at_feed[DIA_RAILS_FEEDS] = {0};
    for (uint32_t i = 0; i < feeding->fed.feed_count; i++) {
        if (feeding->feeds[i].supply)
            at_feed[i] = volts[feeding->feeds[i].supply - 1];
    }
    want(chain);
    feeding->unsettled = dia_rails_solve(feeding->rails, at_feed, (const float(*)[4])feeding->amps,
                                         chain->quiet_ua * 1e-6) != DIA_OK;
    share_out(feeding);
    chain->shown.draws_ua = 0;
    for (int s = 0; s < FEEDING_SUPPLIES; s++)
        chain->shown.draws_ua += feeding->gives_ua[s];
}

/* The larger of a feed's two wires, the most so far. */
static void note_currents(struct chain_feeding *feeding)
{
    for (uint32_t i = 0; i < feeding->fed.feed_count; i++) {
        double in = dia_rails_feed_amps(feeding->rails, i);
        uint64_t in_ua = microamperes(in < 0 ? -in : in);
        uint64_t out_ua = microamperes(dia_rails_feed_ground_amps(feeding->rails, i));
        uint64_t most = in_ua > out_ua ? in_ua : out_ua;
        if (most > feeding->fed.feed_most_ua[i])
            feeding->fed.feed_most_ua[i] = most;
    }
}

static void note_worst(struct chain_feeding *feeding)
{
    struct dia_fed *fed = &feeding->fed;
    uint32_t worst = dia_rails_worst(feeding->rails), feeds_mv = UINT32_MAX;
    double sure = needs_mv(feeding, SHEET_INPUT_SURE_SHARE);
    if (sure > fed->needs_mv)
        fed->needs_mv = (uint32_t)(sure + 0.5);
    if (feeding->mv[worst] >= fed->least_mv)
        return;
    for (uint32_t i = 0; i < fed->feed_count; i++) {
        uint32_t mv = feeding->mv[feeding->feeds[i].element];
        if (feeding->feeds[i].supply && mv < feeds_mv)
            feeds_mv = mv;
    }
    fed->least_mv = feeding->mv[worst];
    fed->least_at = worst;
    fed->feeds_mv = feeds_mv;
}

void dia_chain_feed_judge(struct chain *chain, uint64_t t, struct dia_findings *findings)
{
    light(chain);
    note_currents(chain->feeding);
    note_worst(chain->feeding);
    dia_judge_feeding(chain, t, findings);
}

int dia_bench_need(const char *part, uint32_t supply_mv, struct dia_pixel_need *need)
{
    const struct sheet *sheet = dia_sheet_of(part);
    if (!sheet)
        return -1;
    struct sheet_need of = dia_sheet_need(sheet, supply_mv);
    need->rails = of.dies;
    need->logic_volt = of.logic_volt;
    need->channel_amp = sheet->led_ua * 1e-6;
    need->quiet_amp = sheet->quiet_ua * 1e-6;
    need->channels = strchr(sheet->order, 'W') ? 4 : 3;
    need->series = (uint8_t)(sheet->series != 0);
    return 0;
}
