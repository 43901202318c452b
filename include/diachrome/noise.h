/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_NOISE_H
#define DIACHROME_NOISE_H

#include <stdint.h>

#include "linkage.h"

DIA_BEGIN

/*
 * Smooth noise, and random numbers that are always the same. Levels 0..65535, pure functions of
 * where and when, the same on every processor.
 *
 * Cost: on an ATmega328P 5,800 cycles a value of three dimensions, 24,000 with four octaves, 700 a
 * random number.
 * Context: any; threads may work at once on objects of their own.
 */

/*
 * Smooth noise of up to three coordinates; a coordinate has 16 bits below the point, so that 65536
 * is the size of a bump, and comes again after 65536 bumps. Leave out a coordinate by giving 0: of
 * one it costs an eighth.
 *
 *   level = dia_noise(place_um * 65536 / bump_um, 0, dia_phase_at(ms, 65536 * bump_ms), seed);
 */
uint16_t dia_noise(uint32_t x, uint32_t y, uint32_t z, uint32_t seed);

/* Up to 8 octaves of it: each twice as fine and half as strong as the one before. */
uint16_t dia_noise_octaves(uint32_t x, uint32_t y, uint32_t z, uint8_t octaves, uint32_t seed);

/* A random number for an element in a time slot. */
uint16_t dia_random(uint32_t element, uint32_t slot, uint32_t seed);

DIA_END

#endif
