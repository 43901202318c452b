/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_FLICKER_H
#define DIACHROME_FLICKER_H

#include <stdint.h>

#include "linkage.h"

DIA_BEGIN

/*
 * Light that goes up and down: what eyes make of it (IEEE 1789-2015), and what a camera sees.
 *
 * Modulation is (most - least) / (most + least) of the light, in thousandths: what is switched on
 * and off has 1000 at every level but full and dark. Frequencies are in thousandths of a hertz.
 *
 * Cost: microseconds.
 * Context: any.
 */
enum dia_flicker_class { DIA_FLICKER_NO_EFFECT, DIA_FLICKER_LOW_RISK, DIA_FLICKER_ABOVE };

/* No effect: up to 0.01 % a hertz below 90 Hz, 0.0333 % up to 3000 Hz, then any. Low risk: up to
 * 0.025 % below 90 Hz, 0.08 % up to 1250 Hz, then any. */
enum dia_flicker_class dia_flicker_class(uint32_t mhz, uint32_t modulation_permille);

/* "no effect", "low risk", "above low risk". */
const char *dia_flicker_class_text(enum dia_flicker_class risk);

/* The most modulation that is of low risk at a frequency, thousandths. */
uint32_t dia_flicker_low_risk_permille(uint32_t mhz);

/* What dithering in time comes to on a drive of so many steps at so many frames a second: half a
 * step up and down at half that rate, thousandths; step 1 or more. */
uint32_t dia_flicker_dithering_permille(uint32_t step);

/* What a pixel part switches its light with: by its brightness, and by the level of parts that have
 * one. 0: none, or not known. Typical numbers; each pixel runs by a clock of its own. */
struct dia_flicker_part {
    const char *part;
    uint32_t pwm_mhz, level_mhz;
    const char *source;
};
const struct dia_flicker_part *dia_flicker_part(const char *part); /* NULL: not known */

/*
 * What a camera with a rolling read-out sees of light that is on for a part of each period: bands,
 * as rows begin at other times of a period. The difference between its brightest and its darkest
 * rows, in thousandths of the mean, at a shutter of so many us; at the part of the period that is
 * worst, or at a given one (thousandths; 0: at the worst). 0 where the shutter is whole periods
 * long.
 */
uint32_t dia_camera_bands_permille(uint32_t mhz, uint32_t duty_permille, uint32_t shutter_us);

/* The usual shutter times, ended by 0: in us; and n of 1/n s. */
extern const uint32_t dia_camera_shutters_us[];
extern const uint16_t dia_camera_shutters[];

/* What a row of a camera gets that is open from from_s for shutter_s, in parts of the mean, of a
 * light of so many hertz that is on for `duty` of each period, from `phase` of it on (0 to 1). */
double dia_camera_share(double hz, double duty, double phase, double from_s, double shutter_s);

DIA_END

#endif
