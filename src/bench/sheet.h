/* SPDX-License-Identifier: MIT */
#ifndef DIA_BENCH_SHEET_H
#define DIA_BENCH_SHEET_H

#include <stdint.h>

/*
 * The bench's own copy of the data sheets, kept apart from the encoder's on purpose: a slip in
 * one of them must show as a disagreement.
 */
struct sheet_range {
    uint32_t least, most; /* ns, both inside */
};

struct sheet {
    const char *part;
    struct sheet_range high[2], low[2]; /* for a 0 and for a 1 */
    uint32_t reset_ns;                  /* a low at least this long latches */
    const char *order;                  /* of the bytes */
    uint32_t led_ua;                    /* one die at full drive */
    uint32_t quiet_ua;                  /* all dies dark */
    int series;                         /* dies in one string: the longest lit one sets the draw */
    const char *where;                  /* the table */
};

/* NULL: no such part. */
const struct sheet *sheet_of(const char *part);

#endif
