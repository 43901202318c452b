/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_FLASHING_H
#define DIACHROME_FLASHING_H

#include <stdint.h>

#include "colour.h"
#include "fixed.h"
#include "linkage.h"

DIA_BEGIN

/*
 * Keeps a surface from flashing too often, for light that strangers may change.
 *
 *   struct dia_flashing flashing;
 *   dia_flashing_init(&flashing, 3);
 *   if (!dia_flashing_allows(&flashing, dia_flashing_mean(pixels, n), ms)) ... show the frame
 * before again
 *
 * A flash is a pair of changes of the mean brightness, one up and one down or the other way round,
 * each of a tenth of full white or more, where the darker of the two is below 80 % of it (general
 * flashes of WCAG 2.2, success criterion 2.3.1, which allows three in any second). It looks at the
 * mean of all elements: lights that travel along a strip are no flash of the strip.
 * Cost:    a sum over the elements a frame; some 90 bytes.
 * Context: any; threads may work at once on objects of their own.
 */
#define DIA_FLASHES_MOST 10 /* a second, at most */

struct dia_flashing {
    uint8_t most;                      /* private, as all below: flashes a second */
    uint8_t begun, rises;              /* 1: the last change went up */
    uint16_t extreme;                  /* how bright it was where that change ended */
    uint32_t at[2 * DIA_FLASHES_MOST]; /* ms of the last changes, */
    uint8_t next, count;               /* in turns */
};

/* most: 1..DIA_FLASHES_MOST flashes in any second. */
void dia_flashing_init(struct dia_flashing *flashing, uint8_t most);

/* How bright elements are in the mean, 65535 = all full white: relative luminance (ITU-R BT.709).
 */
dia_light dia_flashing_mean(const struct dia_rgb *pixels, uint32_t n);
/* The same of lamps, by their levels as sRGB codes are. */
dia_light dia_flashing_mean_of_levels(const uint8_t *levels, uint32_t n);

/* 1: a frame of that brightness may show at a time, ms, and counts. 0: it would be a flash too
 * many; nothing has changed, so what showed before is to stay. Times rise, and may wrap. */
uint8_t dia_flashing_allows(struct dia_flashing *flashing, dia_light mean, uint32_t ms);

DIA_END

#endif
