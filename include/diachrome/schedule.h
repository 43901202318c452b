/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_SCHEDULE_H
#define DIACHROME_SCHEDULE_H

#include <stdint.h>

#include "linkage.h"

DIA_BEGIN

/*
 * What one processor has time for: pulses that it sends with interrupts off, ticks of lamps that
 * are lit in turns, and drawing.
 *
 *   struct dia_schedule_setup setup = {.clock_hz = 16000000, .rate_mhz = 30000};
 *   dia_schedule_hold(&setup, 9000000);                  300 pixels at 30 us
 *   dia_schedule_tick(&setup, 2160, 1250, 4);            four digits in turns of 1.25 ms
 *   dia_schedule_late_ns(&setup, 0);                     9,000,000: a digit stays lit for so long
 *
 * A tick that is due while interrupts are off comes when they are on again, after the ticks of all
 * others that were due too. Those that were missed meanwhile are lost.
 *
 * Cost: microseconds.
 * Context: any.
 */
#define DIA_SCHEDULE_TICKS 16

struct dia_schedule_tick {
    uint32_t cycles;  /* of a tick at its longest, its interrupt included */
    uint32_t unit_us; /* its shortest slice, or a turn */
    uint32_t units;   /* of a whole period: turns, or the slices of all bits */
};
struct dia_schedule_setup {
    uint32_t clock_hz; /* of the processor, 1 or more */
    uint32_t rate_mhz; /* frames a second that are shown, thousandths, 1 or more */
    uint64_t held_ns;  /* private: longest time with interrupts off */
    struct dia_schedule_tick ticks[DIA_SCHEDULE_TICKS]; /* private */
    uint8_t tick_count;                                 /* private */
};

/* Something is sent for so long with interrupts off, once a frame. */
void dia_schedule_hold(struct dia_schedule_setup *setup, uint64_t ns);

/* One more device with ticks; its number, from 0, or -1: there is no room. */
int dia_schedule_tick(struct dia_schedule_setup *setup, uint32_t cycles, uint32_t unit_us,
                      uint32_t units);

/* How late a tick of that device comes at the worst. */
uint64_t dia_schedule_late_ns(const struct dia_schedule_setup *setup, int tick);

/*
 * How much a late tick modulates the light of that device, at the rate of the frames, thousandths
 * of its mean: what is lit stays lit for so long, and all else dark. At the most 1000, which is
 * all or nothing.
 */
uint32_t dia_schedule_modulation_permille(const struct dia_schedule_setup *setup, int tick);

/*
 * Cycles of a look on an ATmega328P, from drawing to the bytes that go out, dimmed by the limiter
 * or not, whichever is more: so many for a frame and so many for each pixel of it. Counted in the
 * instruction-level simulator (tests/cross/look_cycles.c prints them, and holds these within 5 %).
 * A 32-bit processor needs fewer. Ends with a name that is NULL.
 */
struct dia_look_cycles {
    const char *look;
    uint32_t frame, pixel;
};
extern const struct dia_look_cycles dia_look_cycles[];

DIA_END

#endif
