/* SPDX-License-Identifier: MIT */
#ifndef DIA_BENCH_CHAIN_JUDGE_H
#define DIA_BENCH_CHAIN_JUDGE_H

#include "chain.h"

/* What a chain has to complain about; each adds a finding with time and place. */

/* A pulse (high) or pause (low) of ns outside its range, in the bit being read. */
void dia_judge_pulse(const struct chain *chain, const char *code, uint32_t ns,
                     const struct sheet_range *range, struct dia_findings *findings);

/* A pause outside its range: after a whole frame it was meant to latch. */
void dia_judge_low(const struct chain *chain, uint32_t ns, const struct sheet_range *range,
                   struct dia_findings *findings);

/* At a latch: too few bits, or too many. */
void dia_judge_frame(const struct chain *chain, struct dia_findings *findings);

/* Of parts with a clock: a period too short; clocks (or zero bytes) that lack for the last pixels;
 * a word (or byte) that is none; a frame that begins after too few zero bits. */
void dia_judge_clock(const struct chain *chain, uint64_t period_ns, uint64_t t,
                     struct dia_findings *findings);
void dia_judge_clocks_after(const struct chain *chain, uint32_t shown,
                            struct dia_findings *findings);
void dia_judge_word(const struct chain *chain, uint64_t t, struct dia_findings *findings);
void dia_judge_start(const struct chain *chain, uint64_t t, struct dia_findings *findings);

/* What its pixels have too little of, and its feeds too much. */
void dia_judge_feeding(struct chain *chain, uint64_t t, struct dia_findings *findings);

#endif
