/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_COLOUR_H
#define DIACHROME_COLOUR_H

#include <stdint.h>

#include "fixed.h"
#include "linkage.h"

DIA_BEGIN

/*
 * A colour as people type it: sRGB-encoded (IEC 61966-2-1), 8 bits a channel, 0..255.
 * Three bytes, no padding: an array of these may share memory with drive bytes (see develop.h).
 *
 * Cost: with a table in flash, on an ATmega328P: light of a code 27 cycles, code of a light 72, a
 * mixture of two colours 850.
 * Context: any; threads may work at once on objects of their own.
 */
struct dia_rgb {
    uint8_t r, g, b;
};

/* Linear light of an sRGB code: round(65535 * curve(code / 255)). 0 gives 0, 255 gives 65535. */
dia_light dia_light_of(uint8_t code);

/* The sRGB code whose light is nearest; the lower code on a tie. dia_code_of(dia_light_of(c)) == c.
 */
uint8_t dia_code_of(dia_light light);

/*
 * A mix of two colours in linear light. share 0 gives a, DIA_SHARE_ONE gives b.
 * This is what two lamps do on one wall; mixing the codes themselves comes out too dark.
 */
struct dia_rgb dia_rgb_mix(struct dia_rgb a, struct dia_rgb b, dia_share share);

DIA_END

#endif
