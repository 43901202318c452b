/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_BLEND_H
#define DIA_CORE_BLEND_H

#include <diachrome/colour.h>

/* Blends (enum dia_blend) of codes over those in `to`; alpha 0..256 is how much of them. */

/* All bytes alike: a loop that compilers turn into vectors. */
void dia_blend_all(uint8_t *to, const uint8_t *from, uint32_t bytes, uint8_t blend, uint16_t alpha);

/* Each of n colours with alpha times a level 0..65535 of its own. */
void dia_blend_each(struct dia_rgb *to, const struct dia_rgb *from, uint32_t n, uint8_t blend,
                    uint16_t alpha, const uint16_t *levels);

#endif
