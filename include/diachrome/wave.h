/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_WAVE_H
#define DIACHROME_WAVE_H

#include <stdint.h>

#include "linkage.h"
#include "signal.h"
#include "surface.h"

DIA_BEGIN

/*
 * Cost: a phase, a signal and a product an element: 390 cycles on an ATmega328P with a sine.
 * Context: any; threads may work at once on objects of their own.
 */

/* A signal in space and time: levels along a surface, moving. */
enum dia_wave_shape { DIA_WAVE_SINE, DIA_WAVE_TRIANGLE, DIA_WAVE_SAW, DIA_WAVE_PULSE };

struct dia_wave {
    uint8_t shape;      /* enum dia_wave_shape */
    uint8_t axis;       /* enum dia_axis it runs along */
    int32_t length_um;  /* of a wave; 0: as long as the surface */
    int32_t speed_um_s; /* -1000000000..1000000000; positive moves away from the start */
    uint32_t
        period_ms;  /* besides, all of it rises and falls together in this time; 0: it does not */
    dia_share duty; /* of a pulse */
    dia_share low;  /* the level at a trough; at a crest it is full */
};

/* A sine as long as the surface, at rest, from dark to full. */
void dia_wave_init(struct dia_wave *wave);

/* Levels 0..65535 of elements first .. first + n - 1. */
void dia_wave_run(const struct dia_wave *wave, const struct dia_surface *surface, uint32_t ms,
                  uint32_t first, uint32_t n, uint16_t *levels);

DIA_END

#endif
