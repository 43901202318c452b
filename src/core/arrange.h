/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_ARRANGE_H
#define DIA_CORE_ARRANGE_H

#include <stdint.h>

/*
 * For runs that do one channel after the other. Where the bytes take the place of the colours, a
 * channel cannot go to its place at once, since the colours there are still needed: it stays where
 * it is, and when all are done, n pixels of three bytes r g b are moved into their places.
 */
void dia_arrange(const uint8_t place[3], uint8_t *out, uint16_t n);

#endif
