/* SPDX-License-Identifier: MIT */
#include <string.h>

#include "bits.h"
#include "shift_rows.h"

/*
 * A frame is a row of bits for each digit, and one in which nothing is lit. As in shift.c the chip
 * furthest away comes first in a row, its output QH in the highest bit.
 */

/* choice: a tick on a fast controller; a slower one is late, and lit longer */
#define TICK_US 20u

/* An output that is not there is left alone: DIA_SHIFT_NO_OUTPUT is none of a chain. */
static void set(const struct dia_shift *shift, uint8_t *row, uint16_t output, uint8_t high)
{
    uint16_t chip = output >> 3;
    uint8_t mask = (uint8_t)(1u << (output & 7u));
    if (chip >= shift->setup.chips)
        return;
    uint8_t *byte = row + (shift->setup.chips - 1u - chip);
    *byte = (uint8_t)(high ? *byte | mask : *byte & ~mask);
}

/* Of a digit, with its point. */
static uint8_t segments_of(const struct dia_shift_digits *digits)
{
    return digits->segments ? digits->segments : 8;
}

/* Its bytes of the drawing as bits. */
static uint32_t bits_of(const struct dia_shift *shift, uint8_t digit)
{
    const uint8_t *at = shift->driver.drawing + digit;
    if (segments_of(shift->digits) == 8)
        return *at;
    at += 2u * digit;
    return at[0] | (uint32_t)at[1] << 8 | (uint32_t)at[2] << 16;
}

/* Nothing lit: outputs that drive no segment and no common are low. */
static void dark_row(const struct dia_shift *shift, uint8_t *row)
{
    const struct dia_shift_digits *digits = shift->digits;
    memset(row, 0, shift->setup.chips);
    uint8_t n = segments_of(digits);
    for (uint8_t k = 0; k < n; k++)
        set(shift, row, digits->segment[k], digits->common_anode);
    for (uint8_t k = 0; k < digits->digits; k++)
        set(shift, row, digits->common[k], !(digits->common_anode ^ digits->inverted));
}

static void develop(struct dia_shift *shift, uint8_t *plane)
{
    const struct dia_shift_digits *digits = shift->digits;
    uint8_t count = digits->digits, n = segments_of(digits);
    for (uint8_t k = 0; k < 2 && !plane; k++) {
        uint8_t *row = shift->planes[k];
        for (uint8_t i = 0; i <= count; i++, row += shift->setup.chips)
            dark_row(shift, row);
    }
    if (!plane)
        return;
    uint16_t turn_us = shift->setup.unit_us, chips = shift->setup.chips;
    uint16_t lit_us = (uint16_t)((uint32_t)turn_us * shift->driver.master >> 15);
    uint32_t least_us = shift->setup.bus == DIA_SHIFT_BY_PINS
                            ? 1u
                            : dia_shift_us(&shift->setup) + DIA_SHIFT_BLANK_NS / 1000u + TICK_US;
    least_us = least_us < turn_us ? least_us : turn_us;
    uint8_t *row = plane;
    for (uint8_t k = 0; k < count; k++, row += chips) {
        uint32_t segments = lit_us ? bits_of(shift, k) : 0;
        dark_row(shift, row);
        if (segments == 0)
            continue;
        set(shift, row, digits->common[k], digits->common_anode ^ digits->inverted);
        for (uint8_t s = 0; s < n; s++) {
            if (segments >> s & 1)
                set(shift, row, digits->segment[s], !digits->common_anode);
        }
    }
    /* master 0: dark turns of full length */
    shift->lit_us[shift->front ^ 1u] = lit_us == 0         ? turn_us
                                       : lit_us < least_us ? (uint16_t)least_us
                                                           : lit_us;
}

static uint8_t take(uint8_t used[DIA_SHIFT_DIGITS_CHIPS], uint16_t output, uint16_t chips)
{
    uint8_t mask = (uint8_t)(1u << (output & 7u));
    if (output >= chips * 8u || used[output >> 3] & mask)
        return 0;
    used[output >> 3] |= mask;
    return 1;
}

static uint8_t is_right(const struct dia_shift_setup *setup, const struct dia_shift_digits *digits)
{
    uint8_t used[DIA_SHIFT_DIGITS_CHIPS] = {0}, right = 1;
    if (digits->digits == 0 || digits->digits > DIA_SHIFT_DIGITS_MOST ||
        setup->chips > DIA_SHIFT_DIGITS_CHIPS || (uint32_t)setup->unit_us * digits->digits > 65535u)
        return 0;
    uint8_t n = segments_of(digits);
    if (n != 8 && n != 15 && n != 17)
        return 0;
    for (uint8_t k = 0; k < n; k++) {
        if (digits->segment[k] != DIA_SHIFT_NO_OUTPUT)
            right &= take(used, digits->segment[k], setup->chips);
    }
    for (uint8_t k = 0; k < digits->digits; k++)
        right &= take(used, digits->common[k], setup->chips);
    return right;
}

/* The mean over a round, rounded up: each digit has its turn. */
static uint32_t asks_ua(const struct dia_driver *driver, uint32_t lamp_ua)
{
    const struct dia_shift *shift = (const struct dia_shift *)driver;
    uint8_t n = shift->digits->digits;
    uint32_t lit = bits_set(driver->drawing, (uint16_t)driver->drawing_bytes);
    return driver->master ? (lit * lamp_ua + n - 1u) / n : 0;
}

static const DIA_ROM struct dia_driver_ops ops = {
    .show = dia_shift_show,
    .poll = dia_shift_poll,
    .tick = dia_shift_tick,
    .dark = dia_shift_dark,
    .refresh = dia_shift_refresh,
    .levels = bits_levels,
    .about = dia_shift_about,
    .asks_ua = asks_ua,
};

enum dia_status dia_shift_digits_init(struct dia_shift *shift, struct dia_port *port,
                                      const struct dia_shift_setup *setup,
                                      const struct dia_shift_digits *digits, uint8_t *segments,
                                      uint8_t *memory)
{
    struct dia_shift_setup in_turns = *setup;
    in_turns.depth = 1;
    in_turns.slices = DIA_SLICES_WEIGHTED;
    in_turns.sinks = 0;
    if (!is_right(setup, digits))
        return DIA_BAD_VALUE;
    return dia_shift_begin(shift, port, &in_turns, digits, develop, &ops, segments,
                           DIA_SHIFT_DRAWING(digits->digits, segments_of(digits)), memory);
}
