/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_RESISTOR_H
#define DIACHROME_RESISTOR_H

#include <stdint.h>

#include "colour.h"
#include "linkage.h"

DIA_BEGIN

/*
 * Resistors around LEDs.
 *
 *   struct dia_led_circuit led = {.supply_mv = 5000, .forward_mv = 2000};
 *   uint32_t mohm = dia_resistor_next(dia_led_resistor_mohm(&led, 10000), DIA_E24);
 *   dia_led_current_ua(&led, mohm)              what flows with that one
 *
 * Cost: microseconds.
 * Context: one thread at a time for an object; not from an interrupt.
 */

/* Preferred numbers (IEC 60063). */
enum dia_series { DIA_E12, DIA_E24 };

/* The next one that is not smaller, from 10 mohm on, mohm; 0: there is none (above 3.9 Mohm). */
uint32_t dia_resistor_next(uint32_t mohm, enum dia_series series);

/* What is in the way of the current besides the resistor. */
struct dia_led_circuit {
    uint32_t supply_mv;   /* across all of it */
    uint32_t forward_mv;  /* of the LED at about its current; of several in a row their sum */
    uint32_t switch_mv;   /* of transistors, which is the same at any current */
    uint32_t output_mohm; /* of outputs, which grows with it */
};

/* The resistor for a current while it is lit, mohm; 0: there are not enough volts, or none is
 * needed. And the current through a resistor, uA; 0: none flows. */
uint32_t dia_led_resistor_mohm(const struct dia_led_circuit *circuit, uint32_t ua);
uint32_t dia_led_current_ua(const struct dia_led_circuit *circuit, uint32_t resistor_mohm);

/* Heat in a resistor that is lit so much of its time, thousandths: uW. */
uint32_t dia_resistor_heat_uw(uint32_t resistor_mohm, uint32_t ua, uint32_t duty_permille);

/* The least usual rating that stands twice the heat (a choice), mW: 100, 125, 250, 500, 1000, 2000.
 * 0: none does. */
uint32_t dia_resistor_rating_mw(uint32_t heat_uw);

/*
 * Forward voltage of an LED at 10 to 20 mA by the colour of its light, mV: the middle of what
 * sheets give, a choice. Red 1950, amber, yellow and yellow-green 2100, green 3000 (older green
 * 2100: measure it), blue and white 3150.
 */
uint32_t dia_led_forward_mv(struct dia_rgb colour);

/* Typical outputs that carry an LED, mohm (choices from the levels that sheets give at 6 mA and 20
 * mA), and a saturated transistor, mV. */
#define DIA_OUTPUT_74HC_MOHM 40000u
#define DIA_OUTPUT_PIN_MOHM  25000u
#define DIA_SWITCH_MV        200u

/*
 * Current-setting resistor of a MAX7219 or MAX7221, by the table of its sheet (10 to 40 mA, forward
 * voltage 1.5 to 3.5 V, straight lines between): the peak current of a segment. Outside of the
 * table the nearest of its values count. ohm; uA.
 */
uint32_t dia_segment_resistor_ohm(uint32_t ua, uint32_t forward_mv);
uint32_t dia_segment_current_ua(uint32_t ohm, uint32_t forward_mv);

DIA_END

#endif
