/* SPDX-License-Identifier: MIT */
#ifndef DIA_BENCH_CHAIN_H
#define DIA_BENCH_CHAIN_H

#include <diachrome/bench.h>

#include "chance.h"
#include "sheet.h"

/*
 * A chain of one-wire pixels.
 *
 * Each pixel takes the first bits after a reset for itself and passes on the rest, every pulse
 * shaped anew: the value it read, its edge where the old one was, its high inside the sheet's
 * range. So all pixels but the first see clean pulses, and what can go wrong by timing goes wrong
 * at the first input. That is why one reading of each bit there is enough, and a chain of n
 * pixels costs n and not n * n.
 */
struct chain {
    char name[64];
    const struct sheet *sheet;
    uint8_t place_of[4]; /* which channel (r g b w) each byte of a pixel carries */
    uint8_t pin;
    uint8_t channels;
    uint32_t pixel_bits;
    uint32_t led_ua, quiet_ua;
    int supply;
    struct dia_shown shown;
    struct dia_chain_fault fault;

    struct chain_feeding *feeding; /* NULL: nothing is between it and its supply */
    uint32_t powered;              /* pixels that can take data, from the first */

    uint8_t *heard;                     /* bytes since the last reset, for count pixels */
    uint64_t bits;                      /* since the last reset, those too many included */
    uint64_t bits_room;                 /* that the chain has pixels for */
    uint64_t rise, fall;                /* last edges, ns */
    struct sheet_range high[2], low[2]; /* of its sheet, and what a capture is unsure of besides */
    uint32_t slack_ns;
    uint8_t joins;      /* it runs already: nothing counts until its next latch */
    uint32_t threshold; /* a high longer than this is a 1, ns */
    uint8_t byte, bit;  /* being read; value of the last bit */
    uint8_t level;

    /* of a part with a clock, see clocked.c */
    struct {
        uint8_t pin, data, in_words;
        uint8_t lost;      /* what came made no sense; until 32 zero bits */
        uint64_t rise;     /* last rising clock, ns */
        uint64_t rested;   /* when the clock last fell before it rested for a while, ns */
        uint64_t began;    /* when the frame's first word did, ns */
        uint64_t count;    /* rising clocks since the first bit of the first word */
        uint64_t zeros_at; /* count when 32 zero bits had come behind the words; 0: not yet */
        uint32_t zero_run; /* zero bits just before */
        uint32_t word, word_bits;
        uint32_t words; /* for pixels, since the frame began */
        uint32_t zero_bytes;
    } clock;
};

/* 0; or -1 when the setup is no good or memory ran out, and nothing is kept. */
int dia_chain_init(struct chain *chain, const struct dia_chain_setup *setup);
void dia_chain_free(struct chain *chain);

/* Pulses may be so much longer or shorter than the sheet says, as the times are known no better. */
void dia_chain_slack(struct chain *chain, uint32_t ns);

/* From t_ns on it listens to wires that may be in the middle of a frame. */
void dia_chain_join(struct chain *chain, uint64_t t_ns);

/* The same for a part with a clock, one edge of its clock or of its data. */
int dia_clocked_edge(struct chain *chain, uint64_t t, uint8_t pin, uint8_t level,
                     struct dia_findings *findings);
void dia_clocked_settle(struct chain *chain, struct dia_findings *findings);

/* What the chain draws, average over the PWM, rounded up. */
uint64_t dia_chain_draw(const struct chain *chain);

/* A byte that a pixel has taken, as far as its bits came in right. */
static inline uint8_t chain_taken(struct chain *chain, uint8_t byte)
{
    for (uint8_t mask = 1; mask != 0 && chain->fault.wrong_ppm; mask = (uint8_t)(mask << 1)) {
        if (chance(&chain->fault.seed, chain->fault.wrong_ppm))
            byte ^= mask;
    }
    return byte;
}

/* Pixels that take a frame: all, or those before one that is dead or has too few volts. */
static inline uint32_t chain_alive(const struct chain *chain)
{
    return chain->fault.dead && chain->fault.dead < chain->powered ? chain->fault.dead
                                                                   : chain->powered;
}

/* One edge of its line; what has latched before it is latched already. */
void dia_chain_edge(struct chain *chain, uint64_t t, uint8_t level, struct dia_findings *findings);

/* Bursts: whether every bit is well inside the sheet's limits whatever the rounding to ns, so that
 * there is nothing to judge but how it begins; and taking one that fits (with a clock: byte by
 * byte, 1 when the chain has latched). */
int dia_chain_fits(const struct chain *chain, const struct dia_burst *burst);
void dia_chain_burst(struct chain *chain, const struct dia_burst *burst,
                     struct dia_findings *findings);
int dia_clocked_fits(const struct chain *chain, const struct dia_burst *burst);
int dia_clocked_byte(struct chain *chain, const struct dia_burst *burst, uint32_t i,
                     struct dia_findings *findings);

/* When the chain latches if no edge comes before; UINT64_MAX when it has nothing to latch. */
uint64_t dia_chain_latches_ns(const struct chain *chain);

/* Latches it. */
void dia_chain_settle(struct chain *chain, struct dia_findings *findings);

#endif
