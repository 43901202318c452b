/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_COLOUR_TEXT_H
#define DIACHROME_COLOUR_TEXT_H

#include "colour.h"
#include "diagnostic.h"
#include "linkage.h"
#include "status.h"

DIA_BEGIN

/*
 * Colours as people write them, after CSS Color Module Level 4, without transparency:
 *
 *   #f80  #ff8800                        three or six hex digits
 *   darkorange                           one of the 148 names, in any case
 *   rgb(255 136 0)  rgb(100%, 50%, 0%)   0 to 255, or all three in percent
 *   hsl(32 100% 50%)  hsl(0.09turn ...)  hue in degrees (deg) or turns (turn)
 *   oklch(75% 0.17 60)                   lightness 0 to 1 or in percent, chroma 0 to 0.5 or in
 *                                        percent of 0.4, hue; what a screen cannot show loses
 *                                        chroma until it can
 *   2700K                                a temperature, 1667 to 25000 kelvin (not CSS)
 *
 * Values stand apart by spaces or by commas. DIA_BAD_VALUE and a diagnostic that says what is wrong
 * and what would be right, with colour untouched.
 *
 * Cost: one pass over the text; microseconds.
 * Context: one thread at a time for an object; not from an interrupt.
 */
enum dia_status dia_colour_read(const char *text, struct dia_rgb *colour,
                                struct dia_diagnostic *wrong);

DIA_END

#endif
