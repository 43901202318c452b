/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_PACE_H
#define DIACHROME_PACE_H

#include <stdint.h>

#include "fixed.h"
#include "linkage.h"

DIA_BEGIN

/*
 * A frame clock: says when the next frame is due and what time of the show it has. It does not
 * drift, whatever the rate; when the program is late it leaves frames out and counts them.
 *
 *   struct dia_pace pace;
 *   dia_pace_init(&pace, 30000, 1001);              29.97 frames a second
 *   dia_pace_start(&pace, port->now_us(port));
 *   for (;;) {
 *       if (dia_pace_due(&pace, port->now_us(port)))
 *           show(pace.ms);
 *   }
 *
 * For rendering to a file there is no clock to wait for: dia_pace_step() goes from frame to frame.
 *
 * Cost: some 2,300 cycles a question on an ATmega328P; no memory but its own.
 * Context: any; threads may work at once on objects of their own.
 */
struct dia_pace {
    uint32_t ms;      /* time of the show of the frame that is due */
    uint32_t frame;   /* its number: frames left out count */
    uint32_t late_us; /* how late it was asked for */
    uint32_t dropped; /* frames left out so far */
    /* private */
    uint32_t rate, whole_us, rest, due_us, carry; /* a frame takes whole_us + rest / rate us */
    uint32_t step_us, show_us, speed;
    uint8_t paused, begun;
};

/*
 * `frames` frames (1..65535) in `seconds` seconds (1..4000), at time 0 of the show. A frame takes a
 * minute at most.
 */
void dia_pace_init(struct dia_pace *pace, uint32_t frames, uint32_t seconds);

/* The first frame is due at now_us. All clocks in us may wrap. */
void dia_pace_start(struct dia_pace *pace, uint32_t now_us);

/* 1: a frame is due; ms, frame and late_us are of it. 0: not yet. To be called at least every half
 * hour. */
uint8_t dia_pace_due(struct dia_pace *pace, uint32_t now_us);

/* When the next frame is due. */
uint32_t dia_pace_next_us(const struct dia_pace *pace);

/* The next frame, whatever the clock says. */
void dia_pace_step(struct dia_pace *pace);

/* Frames go on while the time of the show stands still. */
void dia_pace_pause(struct dia_pace *pace, uint8_t paused);

/* How fast the show's time goes: 256 is as fast as the clock, 0..4096. */
void dia_pace_speed(struct dia_pace *pace, uint32_t speed);

/* The time of the show from the next frame on. */
void dia_pace_seek(struct dia_pace *pace, uint32_t ms);

DIA_END

#endif
