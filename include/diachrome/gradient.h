/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_GRADIENT_H
#define DIACHROME_GRADIENT_H

#include <stdint.h>

#include "colour.h"
#include "linkage.h"
#include "status.h"

DIA_BEGIN

/*
 * Colours between stops at any places, mixed in one of two ways.
 *
 *   static const struct dia_stop dusk[] = {{0, {20, 10, 60}}, {40000, {220, 80, 60}},
 *                                          {65535, {255, 220, 160}}};
 *   struct dia_gradient gradient;
 *   dia_gradient_init(&gradient, DIA_MIX_OKLAB, dusk, 3);
 *   colour = dia_gradient_at(&gradient, level);
 *
 * Cost: on an ATmega328P 4,000 cycles a place, 105,000 to make one of three stops ready and 2,400
 * for a colour temperature: make it ready once, or make a palette of it.
 * Context: any; threads may work at once on objects of their own.
 */
enum dia_mix {
    DIA_MIX_LIGHT, /* linear light: what two lamps do on one wall */
    DIA_MIX_OKLAB  /* even to the eye (B. Ottosson, OKLab, 2020) */
};

struct dia_stop {
    uint16_t place; /* 0..65535, rising from stop to stop */
    struct dia_rgb colour;
};

#define DIA_GRADIENT_MAX 16
struct dia_gradient {
    uint8_t mix, count;
    struct {
        uint16_t place, part[3];
    } stop[DIA_GRADIENT_MAX]; /* private: the three parts are what is mixed */
};

/* Works out what the mixing needs, once (64-bit arithmetic). DIA_BAD_VALUE when there are none or
 * more than DIA_GRADIENT_MAX stops, or their places do not rise. The stops need not be kept. */
enum dia_status dia_gradient_init(struct dia_gradient *gradient, enum dia_mix mix,
                                  const struct dia_stop *stops, uint8_t count);

/* The colour at a place; before the first stop and behind the last that of the stop. Within
 * 0.6 codes of the true mix; in OKLab 1.2, and 1.5 where the true code is below 16. */
struct dia_rgb dia_gradient_at(const struct dia_gradient *gradient, uint16_t place);

/*
 * The colour of a glowing body at a temperature in kelvin, as bright as sRGB can show it: 1700 is a
 * candle, 2700 a warm lamp, 6500 daylight. Below 1667 and above 25000 as there. Within 1.7 codes of
 * the Planckian locus as Kim et al. approximate it (US patent 7024034, 2006, equations of x and y).
 */
struct dia_rgb dia_rgb_kelvin(uint32_t kelvin);

DIA_END

#endif
