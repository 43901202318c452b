/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_LAMP_H
#define DIACHROME_LAMP_H

#include <stdint.h>

#include "colour.h"
#include "fixed.h"
#include "config.h"
#include "linkage.h"

DIA_BEGIN

/*
 * Lamps: elements with one level and no colour, such as shift-register outputs, the dots of a
 * module, the segments of a digit. A level is 0..255, encoded as sRGB codes are, so that 128
 * looks half as bright as 255.
 *
 * Cost: 260 cycles a lamp on an ATmega328P.
 * Context: any; threads may work at once on objects of their own.
 */

/* The level of a lamp that stands for a colour: its luminance (weights of IEC 61966-2-1). */
uint8_t dia_lamp_of(struct dia_rgb colour);

/*
 * n levels to steps of a driver that has `depth` bits (1..8): 0..2^depth - 1 of full light, times
 * master, rounded to nearest. With 1 bit a lamp is on from level 128 * master of 100 %: from a
 * light of 0.216 on. Lamps are not dithered: at their refresh rates it would be seen to flicker.
 * steps may be the memory of levels.
 */
void dia_lamps_develop(const uint8_t *levels, uint16_t n, dia_share master, uint8_t depth,
                       uint8_t *steps);

/*
 * Segments of a digit that show a character: a in bit 0, then b c d e f g, the point in bit 7.
 * Digits, letters as far as seven segments can tell them, and - _ = ' " space; 0 for others.
 */
uint8_t dia_segments_of(char character);

/*
 * A text on digits, from the left: the segments of each into digits[0..count-1]; a point or
 * colon goes to the digit before it, as its point. Digits behind the text stay dark. Returns how
 * many characters did not fit.
 */
uint16_t dia_segments_text(const char *text, uint8_t *digits, uint16_t count);

/*
 * The same of digits of 14 and of 16 segments, which show all of ASCII; other signs are dark.
 * Segments are bits in the order a b c d e f g1 g2 h j k l m n, the point in bit 14; of 16
 * segments a1 a2 b c d1 d2 e f g1 g2 h j k l m n, the point in bit 16. Around the middle, h is the
 * upper left diagonal, j straight up, k the upper right; l, m and n are the same below.
 */
uint32_t dia_segments14_of(char character);
uint32_t dia_segments16_of(char character);
uint16_t dia_segments14_text(const char *text, uint32_t *digits, uint16_t count);
uint16_t dia_segments16_text(const char *text, uint32_t *digits, uint16_t count);

DIA_END

#endif
