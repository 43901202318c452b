/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <diachrome/quantity.h>

#include "check_limits.h"

/* Wires that lie free. */
static void wire(struct dia_check *check, const struct dia_rig_lane *lane,
                 const struct dia_fed *fed, uint32_t i)
{
    const struct dia_rig_feed *feed = &lane->feeds[i];
    uint64_t may_ua = (uint64_t)feed->section_um2 * DIA_WIRE_A_MM2;
    char place[64];
    struct dia_words w[2];
    if (fed->feed_most_ua[i] > may_ua) {
        snprintf(place, sizeof place, "%.32s, %s at %u", lane->name,
                 feed->supply == DIA_RIG_NO_SUPPLY ? "ground" : "feed", (unsigned)feed->element);
        dia_check_add(check, DIA_ERROR, "wire-hot", place, "choice: 5 A a mm2 of free copper wire",
                      "%.3f A flow through %s, which may carry %.3g A: take thicker wire, or feed "
                      "the strip at more places",
                      (double)fed->feed_most_ua[i] / 1e6,
                      dia_quantity_as(feed->section_um2, DIA_SECTION, &w[0]), (double)may_ua / 1e6);
    }
    if (feed->fuse_ua > may_ua)
        dia_check_add(
            check, DIA_ERROR, "fuse-large", lane->name, "choice: 5 A a mm2 of free copper wire",
            "the fuse of %s at pixel %u does not protect its wire: %s may carry %.3g A; take "
            "thicker wire or a smaller fuse",
            dia_quantity_as(feed->fuse_ua, DIA_CURRENT, &w[1]), (unsigned)feed->element,
            dia_quantity_as(feed->section_um2, DIA_SECTION, &w[0]), (double)may_ua / 1e6);
}

/* A high that is enough, but for the volts on its ground wire. */
static void ground(struct dia_check *check, const struct dia_rig *rig,
                   const struct dia_rig_lane *lane, const struct dia_fed *fed)
{
    uint32_t high = dia_rig_lane_high_mv(rig, lane);
    if (high < fed->needs_mv && high >= dia_rig_lane_needs_mv(rig, lane))
        dia_check_add(check, DIA_ERROR, "logic-high", lane->name, lane->part.source,
                      "its ground rises when it is bright, so pixel 0 needs a high of %.2f V and "
                      "gets %.2f V: take a thicker or shorter ground wire",
                      fed->needs_mv / 1e3, high / 1e3);
}

/* Colours are right, but there is little left before blue fades. */
static void margin(struct dia_check *check, const struct dia_rig *rig,
                   const struct dia_rig_lane *lane, const struct dia_fed *fed)
{
    uint32_t wanted = dia_volts_wanted_mv(rig, lane);
    if (fed->least_mv >= wanted || dia_findings_find(&check->findings, "starved", lane->name))
        return;
    dia_check_add(
        check, DIA_NOTE, "volts-low", lane->name, "choice: 90 % of the supply",
        "pixel %u has %.2f V; colours hold, but from %.2f V down there is little left for "
        "old wires and warm copper",
        (unsigned)fed->least_at, fed->least_mv / 1e3, wanted / 1e3);
}

/* Grids are boards with copper of their own. */
static int is_strip(const struct dia_rig_lane *lane)
{
    return lane->layout.shape != DIA_SHAPE_GRID && lane->layout.shape != DIA_SHAPE_PANELS;
}

/* What would be if it had one good feed at its start, and rails as most strips have. */
static void unknown(struct dia_check *check, const struct dia_rig *rig,
                    const struct dia_rig_lane *lane)
{
    const struct dia_rig_supply *supply = &rig->supplies[lane->supply];
    struct dia_lane_network network;
    struct dia_lane_volts volts;
    struct dia_lane_lit white = dia_lane_white(lane);
    double amps = 0;
    struct dia_rig_lane fed = *lane;
    if (!is_strip(lane) || supply->voltage_mv < lane->part.supply_min_mv)
        return;
    fed.feeds[0] = (struct dia_rig_feed){.supply = lane->supply, .section_um2 = 1000000};
    fed.feed_count = 1;
    dia_lane_network(&network, rig, &fed);
    amps =
        lane->count * network.need.channel_amp * (network.need.series ? 1 : network.need.channels);
    double given = (supply->current_ua - supply->reserve_ua) * 1e-6;
    for (int c = 0; c < 4; c++)
        white.share[c] = given < amps ? given / amps : 1;
    if (dia_lane_volts(&network, &white, &volts) == DIA_OK &&
        volts.least_mv < network.need.rails.full_volt[2] * 1000)
        dia_check_add(check, DIA_NOTE, "feeds-unknown", lane->name,
                      "choice: rails of 35 um copper, 4 mm wide, where nothing is said of them",
                      "with one feed at its start, pixel %u would have about %.1f V when all is as "
                      "white as '%s' can make it: write where it is fed ('feeds')",
                      (unsigned)volts.least_at, volts.least_mv / 1e3, supply->name);
}

void dia_check_feeds(struct dia_check *check, const struct dia_rig *rig)
{
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        const struct dia_rig_lane *lane = &rig->lanes[i];
        if (lane->feed_count == 0) {
            unknown(check, rig, lane);
            continue;
        }
        for (uint32_t k = 0; k < lane->feed_count; k++)
            wire(check, lane, &check->lanes[i].fed, k);
        ground(check, rig, lane, &check->lanes[i].fed);
        margin(check, rig, lane, &check->lanes[i].fed);
    }
}
