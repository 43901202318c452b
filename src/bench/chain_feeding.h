/* SPDX-License-Identifier: MIT */
#ifndef DIA_BENCH_CHAIN_FEEDING_H
#define DIA_BENCH_CHAIN_FEEDING_H

#include "chain.h"

#define FEEDING_SUPPLIES 16

/* How a chain gets its current, and what comes of it. */
struct chain_feeding {
    struct dia_rails *rails;
    struct sheet_need need;
    uint32_t supply_mv, signal_mv;
    struct dia_chain_feed feeds[DIA_RAILS_FEEDS];
    uint64_t gives_ua[FEEDING_SUPPLIES]; /* of each supply, number - 1 */
    float (*amps)[4];                    /* that each pixel wants */
    uint16_t *mv;
    int unsettled; /* 1: the last solution is not one to rely on */
    struct dia_fed fed;
    uint32_t starved_mv;              /* the fewest that have been told; 0: none */
    uint32_t refused_at;              /* the first pixel that ever refused data */
    int64_t back_ua[DIA_RAILS_FEEDS]; /* the most that went back, negative */
};

/* 0; or -1 when the power is no good or memory ran out, and nothing is kept. */
int dia_chain_feeding_init(struct chain *chain, const struct dia_chain_power *power,
                           uint32_t supply_mv);
void dia_chain_feeding_free(struct chain *chain);

/* Works out what a fed chain has, draws and shows now. `volts` is what each supply has now, by
 * number - 1. */
void dia_chain_feed(struct chain *chain, const double *volts);

/* What is wrong with that: to be asked once what its supplies have is known. */
void dia_chain_feed_judge(struct chain *chain, uint64_t t, struct dia_findings *findings);

#endif
