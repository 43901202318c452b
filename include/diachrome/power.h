/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_POWER_H
#define DIACHROME_POWER_H

#include <stdint.h>

#include "colour.h"
#include "develop.h"
#include "config.h"
#include "linkage.h"

DIA_BEGIN

/*
 * The limiter: what a supply may give, and how far the frames on it must be scaled to stay inside.
 *
 *   struct dia_budget b;
 *   dia_budget_init(&b, 2000000, 100000);           2 A, 100 mA of it kept for the controller
 *   dia_develop_begin(&d, slot);                    for each lane on the supply
 *   dia_budget_add(&b, &d, &power, pixels, count);
 *   dia_develop_limit(&d, dia_budget_share(&b));    for each lane on the supply
 *
 * What the pixels then draw never exceeds the budget, dithering included. It falls short of it
 * by less than one drive step a channel and lane (12 to 20 mA / 255), 1/256 of a step a channel
 * and pixel, 1/32768 of what the frame would draw without limit, and some microamperes of
 * rounding. From 24 pixels on, that is inside 1 % of any budget.
 *
 * Lanes on one supply that do not latch together show old and new frames side by side for a
 * while: show those that get darker first, and the others when they have latched.
 *
 * All currents are microamperes and add up to 4294 A; a frame that asks for more gets no light.
 *
 * Cost: 22 cycles a channel on an ATmega328P: it reads the whole frame once.
 * Context: any; threads may work at once on objects of their own.
 */
struct dia_budget {
    uint32_t given_ua; /* supply less reserve */
    uint32_t idle_ua;  /* of the pixels added */
    uint32_t light_ua; /* of the light added, without limit */
    uint32_t held_ua;  /* what dithering may put on top in this frame */
};

#define DIA_NO_LIMIT UINT32_MAX /* in place of a current: no limiter */

void dia_budget_init(struct dia_budget *budget, uint32_t supply_ua, uint32_t reserve_ua);

/* Adds a frame of n pixels (a longer one is added in stretches) as develop will show it. Reads
 * every pixel once; call after dia_develop_begin and before dia_develop_limit. */
void dia_budget_add(struct dia_budget *budget, const struct dia_develop *develop,
                    const DIA_ROM struct dia_power *power, const struct dia_rgb *pixels,
                    uint16_t n);

/* The share of light that keeps the budget: DIA_SHARE_ONE when nothing needs limiting, 0 when the
 * idle current alone uses the budget up. */
dia_share dia_budget_share(const struct dia_budget *budget);

/* What the frames added would draw without limit, idle included. */
uint32_t dia_budget_asked_ua(const struct dia_budget *budget);

DIA_END

#endif
