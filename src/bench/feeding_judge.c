/* SPDX-License-Identifier: MIT */
#include <inttypes.h>
#include <stdio.h>
#include <string.h>

#include "chain_feeding.h"
#include "chain_judge.h"

#define BACK_UA 50000 /* what rounding and unlike supplies may move; a choice */

static const char *const colour_of[] = {"red", "green", "blue", "white"};

struct starving {
    uint32_t pixel;
    int channel;
    double share;
};

/* The pixel and colour that lacks most of what it is sent. */
static int find_starving(const struct chain *chain, struct starving *worst)
{
    const struct chain_feeding *feeding = chain->feeding;
    int colours = chain->shown.scale == DIA_SCALE_BYTE ? 4 : 3;
    *worst = (struct starving){0, 0, 1};
    for (uint32_t k = 0; k < chain->shown.count; k++) {
        if (feeding->mv[k] * 1e-3 >= feeding->need.dies.full_volt[2] &&
            feeding->mv[k] * 1e-3 >= feeding->need.dies.full_volt[3])
            continue;
        for (int c = 0; c < colours; c++) {
            double share = dia_rails_share(&feeding->need.dies, c, feeding->mv[k] * 1e-3);
            if (share > worst->share || feeding->amps[k][chain->sheet->series ? 0 : c] <= 0)
                continue;
            if (share < worst->share || (share < 1 && feeding->mv[k] <= feeding->mv[worst->pixel]))
                *worst = (struct starving){k, c, share};
        }
    }
    return worst->share < 1;
}

static struct dia_finding begun(const struct chain *chain, const char *code, uint64_t t)
{
    struct dia_finding finding = {.level = DIA_ERROR, .t_ns = t};
    snprintf(finding.code, sizeof finding.code, "%s", code);
    snprintf(finding.place, sizeof finding.place, "%s", chain->name);
    return finding;
}

#define VOLTS(mv) ((mv) + 5) / 1000, ((mv) + 5) % 1000 / 10

/* The worst so far is told, not the first. */
static void tell(struct dia_findings *findings, const struct dia_finding *finding, int is_worst)
{
    struct dia_finding *known = dia_findings_find(findings, finding->code, finding->place);
    if (known && is_worst) {
        memcpy(known->text, finding->text, sizeof known->text);
        memcpy(known->source, finding->source, sizeof known->source);
    }
    dia_findings_add(findings, finding);
}

static void judge_starved(struct chain *chain, uint64_t t, struct dia_findings *findings)
{
    struct chain_feeding *feeding = chain->feeding;
    struct starving worst;
    if (!find_starving(chain, &worst))
        return;
    uint32_t mv = feeding->mv[worst.pixel];
    struct dia_finding finding = begun(chain, "starved", t);
    snprintf(finding.text, sizeof finding.text,
             "pixel %" PRIu32 " has %" PRIu32 ".%02" PRIu32
             " V of %.3g V, so its %s is at %.0f %%: "
             "feed the strip nearer to it, take thicker wire, or lower 'master'",
             worst.pixel, VOLTS(mv), feeding->supply_mv / 1e3,
             chain->sheet->series ? "light" : colour_of[worst.channel], worst.share * 100);
    snprintf(finding.source, sizeof finding.source, "choice: full from %.1f V, none at %.1f V",
             feeding->need.dies.full_volt[worst.channel],
             feeding->need.dies.gone_volt[worst.channel]);
    tell(findings, &finding, mv < feeding->starved_mv);
    if (feeding->starved_mv == 0 || mv < feeding->starved_mv)
        feeding->starved_mv = mv;
}

static void judge_refused(struct chain *chain, uint64_t t, struct dia_findings *findings)
{
    struct chain_feeding *feeding = chain->feeding;
    if (chain->powered == chain->shown.count)
        return;
    uint32_t mv = feeding->mv[chain->powered];
    int starved = mv < feeding->need.logic_volt * 1000;
    struct dia_finding finding = begun(chain, "data-refused", t);
    if (starved)
        snprintf(finding.text, sizeof finding.text,
                 "pixel %" PRIu32 " has %" PRIu32 ".%02" PRIu32
                 " V; it takes no data below %.1f V, nor do those behind it: feed the strip "
                 "nearer to it, take thicker wire, or lower 'master'",
                 chain->powered, mv / 1000, mv % 1000 / 10, feeding->need.logic_volt);
    else
        snprintf(finding.text, sizeof finding.text,
                 "the ground of pixel 0 is %.2f V above that of the supply, so its input sees no "
                 "high of %.2f V: take a thicker or shorter ground wire",
                 dia_rails_ground(feeding->rails, 0), feeding->signal_mv * 1e-3);
    snprintf(finding.source, sizeof finding.source, "%s",
             starved ? feeding->need.logic_where : "choice: a high is half of its supply");
    tell(findings, &finding, chain->powered < feeding->refused_at);
    if (chain->powered < feeding->refused_at)
        feeding->refused_at = chain->powered;
}

static void judge_feed(struct chain *chain, uint32_t i, uint64_t t, struct dia_findings *findings)
{
    struct chain_feeding *feeding = chain->feeding;
    const struct dia_chain_feed *feed = &feeding->feeds[i];
    int64_t ua = feeding->fed.feed_ua[i];
    struct dia_finding finding = begun(chain, "back-feed", t);
    snprintf(finding.place, sizeof finding.place, "%.32s, feed at %" PRIu32, chain->name,
             feed->element);
    if (feed->supply && ua < -BACK_UA) {
        snprintf(finding.text, sizeof finding.text,
                 "%.3f A go back into its supply, since another feed has more volts: feed each "
                 "stretch from one supply and cut the supply rail between them, not the ground",
                 -(double)ua / 1e6);
        snprintf(finding.source, sizeof finding.source, "choice: 50 mA");
        tell(findings, &finding, ua < feeding->back_ua[i]);
        feeding->back_ua[i] = ua < feeding->back_ua[i] ? ua : feeding->back_ua[i];
    }
    if (feed->fuse_ua && ua > (int64_t)feed->fuse_ua) {
        snprintf(finding.code, sizeof finding.code, "fuse-over");
        snprintf(finding.text, sizeof finding.text,
                 "%.3f A flow through its fuse of %.3g A: feed the strip at more places, or lower "
                 "'master'",
                 (double)ua / 1e6, feed->fuse_ua / 1e6);
        snprintf(finding.source, sizeof finding.source, "rating of the fuse");
        tell(findings, &finding, (uint64_t)ua == feeding->fed.feed_most_ua[i]);
    }
}

/* No rig is known that does this; but what is said of its volts would not be so. */
static void judge_unsettled(const struct chain *chain, uint64_t t, struct dia_findings *findings)
{
    struct dia_finding finding = begun(chain, "volts-unknown", t);
    snprintf(
        finding.text, sizeof finding.text,
        "the volts of its pixels could not be worked out; do not rely on what is said of them");
    dia_findings_add(findings, &finding);
}

void dia_judge_feeding(struct chain *chain, uint64_t t, struct dia_findings *findings)
{
    if (chain->feeding->unsettled)
        judge_unsettled(chain, t, findings);
    judge_starved(chain, t, findings);
    judge_refused(chain, t, findings);
    for (uint32_t i = 0; i < chain->feeding->fed.feed_count; i++)
        judge_feed(chain, i, t, findings);
}
