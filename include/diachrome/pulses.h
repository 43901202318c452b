/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_PULSES_H
#define DIACHROME_PULSES_H

#include <stddef.h>
#include <stdint.h>

#include "linkage.h"
#include "port.h"

DIA_BEGIN

/*
 * Programs for a pulse engine, from a wanted waveform: instructions, divider and delays, with the
 * error of each time. And the other ways to make one-wire pulses: SPI, a timer, counted cycles.
 *
 *   struct dia_pulses plan;
 *   dia_pulses_onewire(&plan, 125000000, &dia_ws2812b.timing, 24);
 *   plan.words, plan.count, plan.divider         for the engine
 *   plan.times[0].got_ps                         what comes of it
 *
 * The engine is that of the RP2040 and its kin (RP2040 data sheet, chapter PIO): 32 words, an
 * instruction a cycle, a delay in 5 bits that are shared with the pins set beside it, a jump back
 * for free at its end, and a divider of 1 to 65,536 in steps of a 256th. Data comes in words of 32
 * bits, most significant bit first; where there is none the engine waits with its pins at rest.
 *
 * Every function: 1, and the plan; or 0, and plan->why says what is impossible, and why. Times are
 * in ps; dividers in 256ths; clocks in Hz, 1 kHz to 1 GHz.
 *
 * Cost: milliseconds at the most.
 * Context: any; a desktop, for its 64-bit numbers.
 */
#define DIA_PULSES_WORDS 32
#define DIA_PULSES_TIMES 33

struct dia_pulse_time {
    char name[24];                         /* "T0H, high of a 0"; "period" */
    uint64_t least_ps, wanted_ps, most_ps; /* least and most: 0 where anything is right */
    uint64_t got_ps;
};

struct dia_pulses {
    uint16_t words[DIA_PULSES_WORDS];
    char text[DIA_PULSES_WORDS][48]; /* each as a line of a listing */
    uint8_t count;
    uint8_t wrap;      /* after the last word it goes on with this one */
    uint8_t side_pins; /* set beside an instruction: 0, 1 or 2, from the first pin of side_first */
    uint8_t set_pins;  /* set by instructions of their own, from set_first */
    uint8_t out_pins;  /* that data goes to, from out_first */
    uint8_t set_first, side_first, out_first; /* of the pins of the program, counted from 0 */
    uint8_t pull_bits;                        /* of a word of data, 1..32; 0: it takes none */
    uint32_t clock_hz, divider;
    uint32_t least_divider, most_divider; /* with which all times are still right; 0: not limited */
    struct dia_pulse_time times[DIA_PULSES_TIMES];
    uint8_t time_count;
    uint8_t chips;   /* of shift registers, between two pulses of their latch; 0: none */
    uint8_t jitters; /* 1: the divider is no whole number, so edges may be a clock late */
    char why[200];
};

/* The pulses of a one-wire part. Pin 0 is its data; bits: of a pixel, 8 to 32. */
int dia_pulses_onewire(struct dia_pulses *plan, uint32_t clock_hz,
                       const struct dia_pulse_timing *timing, uint8_t bits);

/* A square wave of so many thousandths of a hertz on pin 0; with antiphase, pin 1 is low while pin
 * 0 is high, and changes in the same cycle. */
int dia_pulses_square(struct dia_pulses *plan, uint32_t clock_hz, uint64_t mhz, int antiphase);

/* n levels in turn on pin 0, the first one high, of so many ns each; once, and low after it, or
 * again and again. */
int dia_pulses_train(struct dia_pulses *plan, uint32_t clock_hz, const uint32_t *ns, uint32_t n,
                     int again);

/*
 * SPI words, mode 0: data on pin 0, clock on pin 1, at spi_hz or the next slower there is, each
 * word of so many bits (1 to 32). With chips, a chain of that many shift registers instead (1 to
 * 32): their bits, and a pulse of the latch on pin 2.
 */
int dia_pulses_spi(struct dia_pulses *plan, uint32_t clock_hz, uint32_t spi_hz, uint8_t bits,
                   uint8_t chips);

/* One other way to make the pulses of a one-wire part. */
enum dia_pulses_by { DIA_PULSES_SPI, DIA_PULSES_TIMER, DIA_PULSES_CYCLES };
struct dia_pulses_way {
    uint8_t by;                 /* enum dia_pulses_by */
    uint8_t fits;               /* 1: this controller can */
    uint8_t bits;               /* of SPI, for a bit: 3, 4 or 8 */
    uint8_t zero, one;          /* how many of them are high, for a 0 and for a 1 */
    uint32_t least_hz, most_hz; /* SPI clocks that are right; of the others 0 */
    uint32_t divider, hz;       /* the one of this controller: clock / divider */
    uint32_t cycles[4];         /* T0H, T0L, T1H, T1L in cycles of hz */
    uint64_t margin_ps;         /* of the pulse nearest to a limit */
    uint8_t worst;              /* DIA_T0H .. DIA_T1L: which one that is */
    char why[120];              /* where it does not fit */
};
#define DIA_PULSES_WAYS 5 /* SPI with 3, 4 and 8 bits, timer, counted cycles */
void dia_pulses_ways(struct dia_pulses_way ways[DIA_PULSES_WAYS], uint32_t clock_hz,
                     const struct dia_pulse_timing *timing);

DIA_END

#endif
