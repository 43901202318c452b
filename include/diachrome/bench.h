/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_BENCH_H
#define DIACHROME_BENCH_H

#include <stdint.h>

#include "edge.h"
#include "finding.h"
#include "status.h"

/*
 * The bench: simulated hardware on the other end of the wire. Its models see nothing but edges
 * with time stamps, and judge them by their own copy of the data sheets.
 *
 *   struct dia_bench *bench = dia_bench_new();
 *   int supply = dia_bench_supply(bench, "pier", 2000000, 100000);
 *   int chain = dia_bench_chain(bench, &setup);
 *   dia_sim_listen(&sim, dia_bench_take, bench);
 *   ... run the program ...
 *   dia_bench_settle(bench, sim.now_ns);
 *   dia_bench_shown(bench, chain)->drive[0][1]      green of pixel 0
 */
struct dia_bench;

/* NULL when memory ran out. */
struct dia_bench *dia_bench_new(void);
void dia_bench_free(struct dia_bench *bench);

/* A supply that may give max_ua and always gives steady_ua to the controller. Its number
 * from 1, or 0 when there is no room (16). */
int dia_bench_supply(struct dia_bench *bench, const char *name, uint64_t max_ua,
                     uint64_t steady_ua);

/* A chain of pixels, as it lies on the desk. */
struct dia_chain_setup {
    const char *name;
    const char *part;             /* as printed on it: "WS2812B" */
    const char *order;            /* of its bytes, "GRB", or "LBGR" with L for the level of parts
                                     that have one; NULL: as its sheet says */
    uint8_t pin;                  /* that drives its data input */
    uint8_t clock_pin;            /* and its clock, of parts that have one */
    uint32_t count;               /* pixels, 1 or more */
    int supply;                   /* from dia_bench_supply, or 0: none of interest */
    uint32_t channel_ua, idle_ua; /* as measured, microamperes; 0: as its sheet says */
};

/* Its number from 0, or -1: unknown part or supply, bad order, pin in use, or no room (64). */
int dia_bench_chain(struct dia_bench *bench, const struct dia_chain_setup *setup);

/* A dia_edge_listener. */
void dia_bench_take(void *bench, const struct dia_edge *edges, uint32_t n);

/* Tells the bench that no more edges come before t_ns: what latches by then, has latched. Parts
 * with a level and 7-bit parts have no latch time; call this when their frame is over. */
void dia_bench_settle(struct dia_bench *bench, uint64_t t_ns);

enum dia_scale {
    DIA_SCALE_BYTE,  /* drive 0..255 */
    DIA_SCALE_LEVEL, /* drive 0..255, times drive[3] / 31 */
    DIA_SCALE_SEVEN  /* drive 0..127 */
};

/* What a chain shows, NULL for no such chain. The bench owns it; it changes when the chain
 * latches. */
struct dia_shown {
    uint8_t (*drive)[4];  /* r g b w of each pixel, or r g b and the level; 0 where there is none */
    uint32_t count;       /* pixels */
    enum dia_scale scale; /* what full is */
    uint8_t channels;     /* bytes a pixel */
    uint32_t frames;      /* latched so far */
    uint64_t latched_ns;  /* when the last one was */
    uint64_t draws_ua;
};
const struct dia_shown *dia_bench_shown(const struct dia_bench *bench, int chain);

/* Light of the channels r g b w of a drive, linear, 65535 is full. */
void dia_drive_light(const uint8_t drive[4], enum dia_scale scale, uint16_t light[4]);

/* What a supply gives now, and the most it ever gave, microamperes. */
uint64_t dia_bench_gives_ua(const struct dia_bench *bench, int supply);
uint64_t dia_bench_most_ua(const struct dia_bench *bench, int supply);

/*
 * What was wrong so far, all of level error:
 *   pulse-high, pulse-low   a pulse outside the sheet's minimum and maximum
 *   latch-short             a pause after a whole frame, too short to latch
 *   frame-short             a latch before every pixel had its bits
 *   clock-fast              a clock period shorter than the sheet's least
 *   clocks-short            too few clocks (or zero bytes) after the pixels: the last do not show
 *   start-short             a frame that begins after fewer than 32 zero bits
 *   word-mark               a word for a pixel that does not begin with 111; a byte that is
 *                           neither 7 bits below a set bit nor zero
 *   bits-left               more bits than the chain has pixels for
 *   supply-over             more current than the supply may give
 */
const struct dia_findings *dia_bench_findings(const struct dia_bench *bench);

#endif
