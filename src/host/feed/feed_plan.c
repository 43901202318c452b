/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <math.h>
#include <string.h>

#include <diachrome/feed_plan.h>

#include "host_private.h"

const uint32_t dia_wire_sections_um2[] = {140000,  250000,  340000,  500000,  750000, 1000000,
                                          1500000, 2500000, 4000000, 6000000, 0};
const uint32_t dia_fuses_ua[] = {1000000,  1250000,  1600000,  2000000,  2500000,  3150000,
                                 4000000,  5000000,  6300000,  8000000,  10000000, 12500000,
                                 16000000, 20000000, 25000000, 31500000, 0};

/* A millivolt or two, so that what is planned holds with what the bench rounds. */
#define SURE_MV 2u

static struct dia_pixel_need need_of(const struct dia_rig *rig, uint32_t lane)
{
    struct dia_lane_network network;
    dia_lane_network(&network, rig, &rig->lanes[lane]);
    return network.need;
}

static double light_of(const struct dia_rig_lane *lane, uint8_t code)
{
    double part = code / 255.0;
    if (lane->gamma)
        return pow(part, lane->gamma / 1000.0);
    return part <= 0.04045 ? part / 12.92 : pow((part + 0.055) / 1.055, 2.4);
}

void dia_feed_wish_colour(struct dia_feed_wish *wish, const struct dia_rig *rig, uint32_t number,
                          struct dia_rgb colour)
{
    const struct dia_rig_lane *lane = &rig->lanes[number];
    wish->colour = colour;
    double light[4] = {light_of(lane, colour.r), light_of(lane, colour.g),
                       light_of(lane, colour.b)};
    if (need_of(rig, number).channels == 4) { /* what all three have goes to white */
        light[3] = light[0] < light[1] ? light[0] : light[1];
        light[3] = light[2] < light[3] ? light[2] : light[3];
        for (int c = 0; c < 3; c++)
            light[c] -= light[3];
    }
    for (int c = 0; c < 4; c++)
        wish->share[c] = light[c] * rig->master / DIA_SHARE_ONE * lane->white[c] / DIA_SHARE_ONE;
}

void dia_feed_wish_init(struct dia_feed_wish *wish, const struct dia_rig *rig, uint32_t lane)
{
    memset(wish, 0, sizeof *wish);
    wish->least_mv = dia_volts_wanted_mv(rig, &rig->lanes[lane]);
    wish->lead_um = 1000000;
    struct dia_rgb most = {255, 255, need_of(rig, lane).channels == 4 ? 0 : 255};
    dia_feed_wish_colour(wish, rig, lane, most);
}

/* Of its colours, without what it draws when dark. */
static double lit_amps(const struct dia_pixel_need *need, const double share[4])
{
    double sum = 0, most = 0;
    for (int c = 0; c < need->channels; c++) {
        sum += share[c];
        most = share[c] > most ? share[c] : most;
    }
    return (need->series ? most : sum) * need->channel_amp;
}

double dia_feed_pixel_amps(const struct dia_rig *rig, uint32_t lane,
                           const struct dia_feed_wish *wish)
{
    struct dia_pixel_need need = need_of(rig, lane);
    return need.quiet_amp + lit_amps(&need, wish->share);
}

static double given_amps(const struct dia_rig *rig, const struct dia_rig_lane *lane)
{
    const struct dia_rig_supply *supply = &rig->supplies[lane->supply];
    return (supply->current_ua - supply->reserve_ua) * 1e-6;
}

uint32_t dia_feed_pixels_fit(const struct dia_rig *rig, uint32_t lane,
                             const struct dia_feed_wish *wish)
{
    double fit = given_amps(rig, &rig->lanes[lane]) / dia_feed_pixel_amps(rig, lane, wish) + 1e-9;
    return fit > UINT32_MAX ? UINT32_MAX : (uint32_t)fit;
}

static double supply_light(const struct dia_rig *rig, const struct dia_rig_lane *lane,
                           const struct dia_feed_wish *wish)
{
    struct dia_lane_network network;
    dia_lane_network(&network, rig, lane);
    double left = given_amps(rig, lane) - lane->count * network.need.quiet_amp;
    double lit = lane->count * lit_amps(&network.need, wish->share);
    return left <= 0 ? 0 : lit <= left ? 1 : left / lit;
}

double dia_feed_supply_light(const struct dia_rig *rig, uint32_t lane,
                             const struct dia_feed_wish *wish)
{
    return supply_light(rig, &rig->lanes[lane], wish);
}

/* ---- the worst that can be shown ----------------------------------------------------------------
 */

static void around(struct dia_lane_lit *lit, const struct dia_feed_wish *wish, uint32_t count,
                   uint32_t long_as, uint32_t middle)
{
    uint32_t first = middle > long_as / 2 ? middle - long_as / 2 : 0;
    *lit = (struct dia_lane_lit){.first = first, .count = long_as};
    if (first + long_as > count)
        lit->first = count - long_as;
    memcpy(lit->share, wish->share, sizeof lit->share);
}

uint32_t dia_feed_stretches(const struct dia_rig *rig, const struct dia_rig_lane *lane,
                            const struct dia_feed_wish *wish,
                            struct dia_lane_lit lit[DIA_FEED_STRETCHES])
{
    uint32_t n = 0;
    double part = wish->beyond ? 1 : supply_light(rig, lane, wish);
    uint32_t long_as = (uint32_t)(part * lane->count);
    lit[n] = (struct dia_lane_lit){.count = lane->count};
    for (int c = 0; c < 4; c++)
        lit[n].share[c] = wish->share[c] * part;
    n++;
    if (part >= 1 || long_as == 0)
        return n;
    around(&lit[n++], wish, lane->count, long_as, 0);
    around(&lit[n++], wish, lane->count, long_as, lane->count - 1);
    for (uint32_t k = 0; k < lane->feed_count; k++) {
        uint32_t next = k + 1 < lane->feed_count ? lane->feeds[k + 1].element : lane->count - 1;
        around(&lit[n++], wish, lane->count, long_as, lane->feeds[k].element);
        around(&lit[n++], wish, lane->count, long_as, (lane->feeds[k].element + next) / 2);
    }
    return n;
}

/* The fewest volts of all of these, and the most through each feed. */
static enum dia_status find_worst(struct dia_lane_volts *worst, const struct dia_rig *rig,
                                  const struct dia_rig_lane *lane, const struct dia_feed_wish *wish)
{
    struct dia_lane_network network;
    struct dia_lane_lit lit[DIA_FEED_STRETCHES];
    uint32_t n = dia_feed_stretches(rig, lane, wish, lit);
    double feed_amps[DIA_RAILS_FEEDS] = {0}, amps = 0;
    dia_lane_network(&network, rig, lane);
    for (uint32_t i = 0; i < n; i++) {
        struct dia_lane_volts volts;
        enum dia_status status = dia_lane_volts(&network, &lit[i], &volts);
        if (status != DIA_OK)
            return status;
        for (uint32_t k = 0; k < DIA_RAILS_FEEDS; k++)
            feed_amps[k] = fmax(feed_amps[k], volts.feed_amps[k]);
        amps = fmax(amps, volts.amps);
        if (i == 0 || volts.least_mv < worst->least_mv)
            *worst = volts;
    }
    memcpy(worst->feed_amps, feed_amps, sizeof feed_amps);
    worst->amps = amps;
    return DIA_OK;
}

/* ---- a plan ---------------------------------------------------------------------------------- */

/* A wire goes straight from the supply to the pixel, which is as far from the first as it lies. */
static uint32_t wire_um(const struct dia_surface *surface, uint32_t element, uint32_t lead_um)
{
    uint32_t last = surface->count - 1;
    struct dia_point from = dia_surface_point(surface, 0);
    struct dia_point to = dia_surface_point(surface, element < last ? element : last);
    double x = (double)to.x_um - from.x_um, y = (double)to.y_um - from.y_um;
    uint32_t far_um = (uint32_t)sqrt(x * x + y * y);
    return lead_um + (far_um + 9999) / 10000 * 10000; /* to the next centimetre */
}

enum places { AT_ENDS, WITHIN };

static void place(struct dia_rig_lane *lane, uint32_t n, enum places places, uint32_t section_um2,
                  const struct dia_feed_wish *wish, const struct dia_surface *surface)
{
    lane->feed_count = n;
    for (uint32_t k = 0; k < n; k++) {
        uint64_t last = lane->count - 1;
        uint64_t element = places == WITHIN ? (2 * k + 1) * (uint64_t)lane->count / (2 * n)
                           : n == 1         ? 0
                                            : (k * last * 2 + n - 1) / (2 * (n - 1));
        element = element > last ? last : element;
        lane->feeds[k] =
            (struct dia_rig_feed){.element = (uint32_t)element,
                                  .supply = lane->supply,
                                  .length_um = wire_um(surface, (uint32_t)element, wish->lead_um),
                                  .section_um2 = section_um2};
    }
}

/* The fuse for a current in a wire: 0 where none is large enough and protects the wire. */
static uint32_t fuse_for(double amps, uint32_t section_um2)
{
    for (uint32_t i = 0; dia_fuses_ua[i]; i++) {
        if (dia_fuses_ua[i] >= amps * 1e6 * DIA_FUSE_PERCENT / 100)
            return dia_fuses_ua[i] <= (uint64_t)section_um2 * DIA_WIRE_A_MM2 ? dia_fuses_ua[i] : 0;
    }
    return 0;
}

struct trial {
    const struct dia_rig *rig;
    const struct dia_feed_wish *wish;
    const struct dia_surface *surface;
    struct dia_rig_lane lane; /* with the feeds that are tried */
    struct dia_lane_volts volts;
    int good,
        hot; /* hot: there are volts enough, but a wire would get hot, or no fuse protects it */
};

static enum dia_status try_feeds(struct trial *trial)
{
    enum dia_status status = find_worst(&trial->volts, trial->rig, &trial->lane, trial->wish);
    trial->good = trial->volts.least_mv >= trial->wish->least_mv + SURE_MV;
    trial->hot = trial->good;
    for (uint32_t k = 0; k < trial->lane.feed_count && status == DIA_OK; k++) {
        struct dia_rig_feed *feed = &trial->lane.feeds[k];
        feed->fuse_ua = fuse_for(trial->volts.feed_amps[k], feed->section_um2);
        trial->good &= feed->fuse_ua != 0;
    }
    trial->hot = trial->hot && !trial->good;
    return status;
}

static enum dia_status try_places(struct trial *trial, uint32_t n, enum places places,
                                  uint32_t section_um2)
{
    place(&trial->lane, n, places, section_um2, trial->wish, trial->surface);
    return try_feeds(trial);
}

static uint32_t thickest(const struct dia_feed_wish *wish)
{
    uint32_t i = 0;
    while (dia_wire_sections_um2[i + 1])
        i++;
    return wish->section_um2 ? wish->section_um2 : dia_wire_sections_um2[i];
}

static void keep(struct dia_feed_plan *plan, const struct trial *trial)
{
    memcpy(plan->feeds, trial->lane.feeds, sizeof plan->feeds);
    plan->feed_count = trial->lane.feed_count;
    plan->volts = trial->volts;
}

/* With feeds at these places, the thinnest wires that will do: the thickest do. */
static enum dia_status thin(struct dia_feed_plan *plan, struct trial *trial, uint32_t n,
                            enum places places)
{
    for (uint32_t i = 0; dia_wire_sections_um2[i] && !trial->wish->section_um2; i++) {
        enum dia_status status = try_places(trial, n, places, dia_wire_sections_um2[i]);
        if (status != DIA_OK)
            return status;
        if (trial->good)
            break;
        plan->thinner_mv = trial->volts.least_mv;
        plan->thinner_hot = (uint8_t)trial->hot;
    }
    keep(plan, trial);
    return DIA_OK;
}

enum dia_status dia_feed_plan_make(struct dia_feed_plan *plan, const struct dia_rig *rig,
                                   uint32_t lane, const struct dia_feed_wish *wish,
                                   struct dia_diagnostic *wrong)
{
    struct dia_rig_lying lying;
    struct trial trial = {.rig = rig, .wish = wish, .lane = rig->lanes[lane]};
    memset(plan, 0, sizeof *plan);
    dia_rig_lie(rig, &rig->lanes[lane], &lying);
    trial.surface = &lying.surface;
    plan->light = wish->beyond ? 1 : dia_feed_supply_light(rig, lane, wish);
    uint8_t hot = 0;
    uint32_t best_mv = 0, most = rig->lanes[lane].count;
    most = most < DIA_RIG_FEEDS ? most : DIA_RIG_FEEDS;
    for (uint32_t n = 1; n <= most; n++) {
        uint32_t fewer_mv = best_mv;
        uint8_t fewer_hot = hot;
        for (enum places places = AT_ENDS; places <= WITHIN; places++) {
            enum dia_status status = try_places(&trial, n, places, thickest(wish));
            if (status != DIA_OK) {
                errno = ENOMEM;
                return dia_host_failed(wrong, rig->name, "feeds cannot be planned");
            }
            plan->fewer_mv = fewer_mv;
            plan->fewer_hot = fewer_hot;
            if (trial.good)
                return thin(plan, &trial, n, places);
            best_mv = trial.volts.least_mv > best_mv ? trial.volts.least_mv : best_mv;
            hot |= (uint8_t)trial.hot;
        }
    }
    keep(plan, &trial);
    return dia_host_wrong(
        wrong, "lane '%s': not even %u feeds of %.4g mm2 will do (%.2f V, %.2f V wanted)",
        rig->lanes[lane].name, (unsigned)most, thickest(wish) / 1e6, best_mv / 1e3,
        wish->least_mv / 1e3);
}

/* ---- the feeds that there are -----------------------------------------------------------------
 */

static int holds(const struct dia_rig_lane *lane, const struct dia_lane_volts *volts,
                 uint32_t least_mv)
{
    for (uint32_t k = 0; k < lane->feed_count; k++) {
        const struct dia_rig_feed *feed = &lane->feeds[k];
        double may = feed->section_um2 * 1e-6 * DIA_WIRE_A_MM2;
        if (volts->feed_amps[k] > may ||
            (feed->fuse_ua && volts->feed_amps[k] > feed->fuse_ua * 1e-6))
            return 0;
    }
    return volts->least_mv >= least_mv;
}

enum dia_status dia_feed_light(double *light, struct dia_lane_volts *volts,
                               const struct dia_rig *rig, uint32_t lane,
                               const struct dia_feed_wish *wish)
{
    const struct dia_rig_lane *of = &rig->lanes[lane];
    struct dia_feed_wish part = *wish;
    double low = 0, high = 1;
    *light = high;
    for (int i = 0; i < 20 && low != high; i++) {
        for (int c = 0; c < 4; c++)
            part.share[c] = wish->share[c] * *light;
        enum dia_status status = find_worst(volts, rig, of, &part);
        if (status != DIA_OK)
            return status;
        if (holds(of, volts, wish->least_mv))
            low = *light;
        else
            high = *light;
        *light = (low + high) / 2;
    }
    *light = low;
    for (int c = 0; c < 4; c++)
        part.share[c] = wish->share[c] * low;
    return find_worst(volts, rig, of, &part);
}
