/* SPDX-License-Identifier: MIT */
#ifndef DIA_BENCH_SHEET_H
#define DIA_BENCH_SHEET_H

#include <stdint.h>

#include <diachrome/rails.h>

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

/*
 * What its dies and its logic need at a supply of so many mV. The dies: full current from the
 * forward voltage and the drop-out of the driver on, none below the forward voltage at which an LED
 * begins to conduct. Red 2.0 V, green 3.1 V, blue and white 3.2 V at their current (sheets: 1.8 to
 * 2.1, 3.0 to 3.2, 3.0 to 3.3 V) and 0.8 V for the driver: together the 4 V below which pixels of
 * 5 V are known to lose their blue. Where they begin, 1.7, 2.7 and 2.8 V, is a choice, and so is
 * the straight line between.
 */
struct sheet_need {
    struct dia_rails_need dies;
    double logic_volt;
    const char *logic_where;
};
struct sheet_need dia_sheet_need(const struct sheet *sheet, uint32_t supply_mv);

/* An input takes a high from 0.5 of its supply on: CMOS changes over in the middle (a choice; what
 * sheets guarantee is 0.7). */
#define SHEET_INPUT_SHARE      0.5
#define SHEET_INPUT_SURE_SHARE 0.7
#define SHEET_LOGIC_MOST_VOLT  5.0

#endif
