/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_FEED_PLAN_H
#define DIACHROME_FEED_PLAN_H

#include "diagnostic.h"
#include "feeding.h"
#include "linkage.h"

DIA_BEGIN

/*
 * Where to feed a lane, by which wires and fuses; how many pixels a supply lights, and how bright.
 *
 * Use:     struct dia_feed_wish wish;
 *          dia_feed_wish_init(&wish, &rig, lane);      all of it, as bright as master and supply
 * allow dia_feed_plan_make(&plan, &rig, lane, &wish, &wrong); Cost:    up to some hundred solutions
 * of the network: 0.1 s for 300 pixels. Context: one thread at a time for an object; not from an
 * interrupt.
 */
struct dia_feed_wish {
    struct dia_rgb colour; /* as people type it, and */
    double share[4];       /* of full, 0 to 1, for r g b w: light of the colour, times master */
    uint32_t least_mv;     /* that every pixel is to have */
    uint32_t lead_um;      /* from the supply to the lane's first pixel */
    uint8_t beyond;        /* 1: as bright as that, whatever the supply may give */
    uint32_t section_um2;  /* wires that there are; 0: the thinnest that will do */
};

/* The colour that draws most, at the rig's master: white, of parts with a white die yellow (what
 * all three have goes to the white one, so two are the most). 90 % of the supply for every pixel, 1
 * m of lead. */
void dia_feed_wish_init(struct dia_feed_wish *wish, const struct dia_rig *rig, uint32_t lane);

/* The colour instead of white: sRGB, as the lane shows it (curve, white point, master). */
void dia_feed_wish_colour(struct dia_feed_wish *wish, const struct dia_rig *rig, uint32_t lane,
                          struct dia_rgb colour);

/* Standard sections of wires (IEC 60228) and fuses (IEC 60127, R10 of preferred numbers), least
 * first, ended by 0. Thicker wires than 6 mm2 do not fit the pads of a strip: a choice. */
extern const uint32_t dia_wire_sections_um2[];
extern const uint32_t dia_fuses_ua[];

/* A fuse is for a quarter more than what flows, and a supply for a fifth more: choices. */
#define DIA_FUSE_PERCENT   125u
#define DIA_SUPPLY_PERCENT 120u

struct dia_feed_plan {
    struct dia_rig_feed feeds[DIA_RIG_FEEDS]; /* from the first pixel on; each with its fuse */
    uint32_t feed_count;
    double light;                /* what the supply lets through of the wish: 0 to 1 */
    struct dia_lane_volts volts; /* with these feeds, at the worst that the supply lets be shown */
    uint32_t fewer_mv;   /* the fewest volts with a feed less, in the thickest wires; 0: there is
                            one feed only */
    uint32_t thinner_mv; /* with the next thinner wire; 0: it is the thinnest */
    uint8_t thinner_hot; /* 1: that wire would get hot, or no fuse protects it */
    uint8_t fewer_hot;   /* 1: so would those of a feed less */
};

/* The fewest feeds (first at the ends and evenly between, else evenly within), then the thinnest
 * wires, so that every pixel has its volts, no wire gets hot (DIA_WIRE_A_MM2) and a fuse protects
 * each. DIA_BAD_VALUE: not even 16 feeds will do. DIA_PORT_FAILED: memory ran out. */
enum dia_status dia_feed_plan_make(struct dia_feed_plan *plan, const struct dia_rig *rig,
                                   uint32_t lane, const struct dia_feed_wish *wish,
                                   struct dia_diagnostic *wrong);

/*
 * What is the worst that a limiter lets be shown of a wish: all pixels as bright as may be, and,
 * where that is less than the wish, stretches of it as long as may be: at each end, around each
 * feed and between feeds, since a few pixels far from every feed take more volts than all of them
 * dimmed. How many, at most DIA_FEED_STRETCHES.
 */
#define DIA_FEED_STRETCHES (2 * DIA_RIG_FEEDS + 3)
uint32_t dia_feed_stretches(const struct dia_rig *rig, const struct dia_rig_lane *lane,
                            const struct dia_feed_wish *wish,
                            struct dia_lane_lit lit[DIA_FEED_STRETCHES]);

/* What one pixel draws of the wish, ampere. */
double dia_feed_pixel_amps(const struct dia_rig *rig, uint32_t lane,
                           const struct dia_feed_wish *wish);

/* How many pixels of the wish the lane's supply lights, its reserve and nothing else left aside. */
uint32_t dia_feed_pixels_fit(const struct dia_rig *rig, uint32_t lane,
                             const struct dia_feed_wish *wish);

/* The part of the wish, 0 to 1, at which the supply gives just enough for all pixels of the lane.
 */
double dia_feed_supply_light(const struct dia_rig *rig, uint32_t lane,
                             const struct dia_feed_wish *wish);

/* The largest part of the wish, 0 to 1, at which the feeds that the rig has keep what is wanted:
 * volts, wires, fuses and supply; and the volts then. Its feeds must be known. */
enum dia_status dia_feed_light(double *light, struct dia_lane_volts *volts,
                               const struct dia_rig *rig, uint32_t lane,
                               const struct dia_feed_wish *wish);

DIA_END

#endif
