/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_SIGNAL_TEXT_H
#define DIACHROME_SIGNAL_TEXT_H

#include <stdint.h>

#include "diagnostic.h"
#include "linkage.h"
#include "signal.h"
#include "status.h"

DIA_BEGIN

/*
 * A signal as people write it:
 *
 *   sine, triangle, saw         (period=TIME)
 *   pulse                       (period=TIME duty=SHARE)
 *   steps                       (period=TIME n=1..255)
 *   ease, ease-in, ease-out, ease-in-out, linear   (period=TIME)
 *   envelope                    (attack=TIME hold=TIME release=TIME)
 *   noise                       (period=TIME octaves=1..8 seed=NUMBER)
 *
 * Cost: one pass over the text; microseconds.
 * Context: one thread at a time for an object; not from an interrupt.
 */
enum dia_signal_kind {
    DIA_SIGNAL_SINE,
    DIA_SIGNAL_TRIANGLE,
    DIA_SIGNAL_SAW,
    DIA_SIGNAL_PULSE,
    DIA_SIGNAL_STEPS,
    DIA_SIGNAL_EASE,
    DIA_SIGNAL_ENVELOPE,
    DIA_SIGNAL_NOISE
};
struct dia_signal {
    uint8_t kind;                                  /* enum dia_signal_kind */
    const struct dia_ease *ease;                   /* of DIA_SIGNAL_EASE */
    uint32_t period_ms;                            /* 1 s unless it says */
    dia_share duty;                                /* a half */
    uint8_t n, octaves;                            /* 4, 1 */
    uint32_t attack_ms, hold_ms, release_ms, seed; /* 0 */
};
enum dia_status dia_signal_read(const char *text, struct dia_signal *signal,
                                struct dia_diagnostic *wrong);

/* Its level at a time, 0..65535. */
uint16_t dia_signal_at(const struct dia_signal *signal, uint32_t ms);

DIA_END

#endif
