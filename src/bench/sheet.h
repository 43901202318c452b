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

/* What the part listens to. */
enum sheet_wire {
    SHEET_PULSES,      /* one line, a pulse a bit */
    SHEET_LEVEL,       /* clock and data; words of 111, level, three bytes after 32 zero bits */
    SHEET_LEVEL_LATCH, /* the same, shown when 32 zero bits have come again */
    SHEET_PAUSE,       /* clock and data; 24 bits each, shown when the clock has rested */
    SHEET_SEVEN        /* clock and data; a set bit and 7 bits, zero bytes show and start over */
};

struct sheet {
    const char *part;
    enum sheet_wire wire;
    struct sheet_range high[2], low[2]; /* of pulses: for a 0 and for a 1 */
    uint32_t reset_ns;                  /* a low (or rest of the clock) this long latches */
    uint32_t clock_ns;                  /* of a clocked part: least period */
    const char *order;                  /* of the bytes; L is the level */
    uint32_t led_ua;                    /* one die at full drive */
    uint32_t quiet_ua;                  /* all dies dark */
    int series;                         /* dies in one string: the longest lit one sets the draw */
    const char *where;                  /* the table */
};

/* NULL: no such part. */
const struct sheet *dia_sheet_of(const char *part);

#endif
