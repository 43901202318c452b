/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_POLAR_H
#define DIA_CORE_POLAR_H

#include <stdint.h>

/* The whole part of a square root. */
uint16_t dia_polar_root(uint32_t square);

/* The direction of x (to the right) and y (down), within 32767, clockwise from straight up, as
 * 65536ths of a turn; within 2 of them. 0 for the middle itself. */
uint16_t dia_polar_angle(int16_t x, int16_t y);

#endif
