/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_SIGNAL_H
#define DIACHROME_SIGNAL_H

#include <stdint.h>

#include "fixed.h"
#include "config.h"
#include "linkage.h"

DIA_BEGIN

/*
 * Signals: levels 0..65535 along a turn, in time or in space. Each is a pure function of its phase
 * (2^32 is one turn), so any moment can be asked for.
 *
 *   level = dia_signal_sine(dia_phase_at(ms, 3000));      a breath every three seconds
 *
 * Cost: on an ATmega328P 260 cycles for a sine, 130 for a triangle, 750 for the phase at a time
 * (once a frame).
 * Context: any; threads may work at once on objects of their own.
 */

/*
 * The phase at a time, with a period in ms (1 or more). Its rate is a whole number of 2^-32 turns a
 * millisecond, so that it does not jump when ms wraps. For periods up to 69 minutes it is rounded
 * up: what changes at half a period has changed when that many ms are over. A period of 1 s is 0.2
 * millionths shorter for that, one of an hour 0.08 % at most; longer ones are rounded to nearest.
 */
dia_phase dia_phase_at(uint32_t ms, uint32_t period_ms);

/* 0 at the start of a turn, full at its middle: (1 - cos) / 2. Within 7 of 65535. */
uint16_t dia_signal_sine(dia_phase phase);

/* 0 at the start, full at the middle, straight. */
uint16_t dia_signal_triangle(dia_phase phase);

/* From 0 at the start to full at the end. */
static inline uint16_t dia_signal_saw(dia_phase phase)
{
    return (uint16_t)(phase >> 16);
}

/* Full for the first part of a turn, then 0. */
static inline uint16_t dia_signal_pulse(dia_phase phase, dia_share duty)
{
    return phase >> 17 < duty ? 65535u : 0;
}

/* n levels (1..255) from 0 to full, each for as long as the others; 1 is always 0. */
uint16_t dia_signal_steps(dia_phase phase, uint8_t n);

/* Ping-pong: a phase that goes on for the first half of a turn and back for the second. */
static inline dia_phase dia_phase_there_and_back(dia_phase phase)
{
    dia_phase twice = phase << 1;
    return phase >> 31 ? ~twice : twice;
}

/*
 * A curve from 0 to full with two handles, as CSS Easing Functions 1 has them (cubic-bezier). x1
 * and x2 are the handles' time, y1 and y2 their level; all are shares of a whole. The five below
 * are within 40 of 65535 of the true curve.
 */
struct dia_ease {
    dia_share x1, y1, x2, y2;
};
extern const DIA_ROM struct dia_ease dia_ease_linear, dia_ease_ease, dia_ease_in, dia_ease_out,
    dia_ease_in_out;

/* The level at a part of the way, 0..65535. */
uint16_t dia_ease_run(const DIA_ROM struct dia_ease *ease, uint16_t part);

/* ms after a start: rises for attack_ms, stays for hold_ms, falls for release_ms; then 0. */
uint16_t dia_envelope(uint32_t ms, uint32_t attack_ms, uint32_t hold_ms, uint32_t release_ms);

DIA_END

#endif
