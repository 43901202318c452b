/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_LANE_H
#define DIA_CORE_LANE_H

#include <stdint.h>
#include <string.h>

/* Parts of a word, by where they lie in memory: how far to shift part `number` of `bits` in a word
 * of `all` bits. A constant of the machine. */
static inline unsigned lane_of(unsigned number, unsigned bits, unsigned all)
{
    const uint16_t one = 1;
    uint8_t first;
    memcpy(&first, &one, 1);
    return first ? bits * number : all - bits * (number + 1);
}

#endif
