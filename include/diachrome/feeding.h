/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_FEEDING_H
#define DIACHROME_FEEDING_H

#include "diagnostic.h"
#include "linkage.h"
#include "rails.h"
#include "rig.h"

DIA_BEGIN

/*
 * How a lane of a rig is fed: its wires and rails as resistors, and the volts of its pixels when
 * all of them show one colour. What a run shows is the bench's to say (dia_bench_fed).
 *
 * Cost: up to 1 us an element.
 * Context: one thread at a time for an object; not from an interrupt.
 */

/* Copper at 20 C, ohm times um2 for each um: 0.0172 ohm mm2/m. */
#define DIA_COPPER_OHM_UM 0.0172

/* Of one wire. */
double dia_wire_ohm(uint32_t length_um, uint32_t section_um2);

/* Cross-section of an American wire gauge, um2 (ASTM B258: 0.127 mm * 92^((36 - gauge) / 39) wide).
 */
#define DIA_AWG_LEAST 0
#define DIA_AWG_MOST  36
uint32_t dia_awg_um2(int gauge);

/* The section of a wire as people write it: "0.75 mm2" or "AWG 18". DIA_BAD_VALUE and a diagnostic
 * that begins with `what`. */
#define DIA_SECTION_LEAST_UM2 10000    /* 0.01 mm2 */
#define DIA_SECTION_MOST_UM2  50000000 /* 50 mm2 */
enum dia_status dia_section_read(const char *text, const char *what, uint32_t *um2,
                                 struct dia_diagnostic *wrong);

/*
 * Each rail of a flexible strip by the thickness of its copper, as if it were 4 mm wide: a choice,
 * which gives the 0.06 to 0.25 ohm/m that strips have. 35 um are 1 oz a square foot.
 */
#define DIA_RAIL_WIDE_UM   4000
#define DIA_RAIL_COPPER_UM 35
uint32_t dia_rail_uohm_m(uint32_t copper_um);

/* What a copper wire that lies free may carry, A a mm2: a choice, on the careful side. */
#define DIA_WIRE_A_MM2 5

/* What each pixel of a lane should have at the least, mV: 90 % of its supply, a choice that leaves
 * some for warm copper and old contacts. */
uint32_t dia_volts_wanted_mv(const struct dia_rig *rig, const struct dia_rig_lane *lane);

/* A lane as a network: for dia_rails_new and dia_rails_solve. */
struct dia_lane_network {
    struct dia_rails_setup setup; /* its feeds point to the next field: do not copy the struct */
    struct dia_rails_feed feeds[DIA_RAILS_FEEDS];
    double volts[DIA_RAILS_FEEDS]; /* of the supply of each */
    struct dia_pixel_need need;    /* as measured, where the rig says so */
};

/* The feeds of the lane must be known. */
void dia_lane_network(struct dia_lane_network *network, const struct dia_rig *rig,
                      const struct dia_rig_lane *lane);

/* Pixels first to first + count - 1 at one drive, shares of full, 0 to 1, for r g b w; the others
 * are dark. */
struct dia_lane_lit {
    double share[4];
    uint32_t first, count;
};
struct dia_lane_volts {
    uint32_t least_mv, least_at;       /* the pixel with the fewest, the first of them */
    uint32_t last_mv;                  /* the last pixel */
    uint32_t feeds_mv;                 /* the feed with the fewest */
    double amps;                       /* that all draw together */
    double feed_amps[DIA_RAILS_FEEDS]; /* through each, the larger of its two wires */
};
/* DIA_PORT_FAILED: memory ran out. */
enum dia_status dia_lane_volts(const struct dia_lane_network *network,
                               const struct dia_lane_lit *lit, struct dia_lane_volts *volts);

/* All pixels of a lane at full white: all of their channels. */
struct dia_lane_lit dia_lane_white(const struct dia_rig_lane *lane);

DIA_END

#endif
