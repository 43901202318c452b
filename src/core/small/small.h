/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_SMALL_H
#define DIA_CORE_SMALL_H

#include <diachrome/fixed.h>
#include <diachrome/config.h>

/* One channel of n pixels, from every third code to every third step. A function in a file of its
 * own, so that all it works with stays in registers where those have 8 bits. The new carry. */
uint8_t dia_small_channel_run(const uint8_t *codes, uint8_t *steps, uint16_t n, dia_share gain,
                              const DIA_ROM uint16_t *curve, uint8_t carry);

#endif
