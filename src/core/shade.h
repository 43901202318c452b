/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_SHADE_H
#define DIA_CORE_SHADE_H

#include <diachrome/colour.h>

/*
 * A colour between two, in sRGB codes: even to the eye. The level 0..65535 is rounded to 256ths, so
 * that products of 8 bits suffice: quick on the smallest controller, and in vectors.
 */
static inline uint16_t shade_256ths(uint16_t level)
{
    return (uint16_t)((level >> 8) + (level >> 7 & 1u));
}

static inline uint8_t shade_code(uint8_t from, uint8_t to, uint16_t of_256)
{
    uint16_t low = (uint16_t)((256u - of_256) * from), high = (uint16_t)((unsigned)of_256 * to);
    return (uint8_t)((uint16_t)(low + high + 128u) >> 8);
}

static inline struct dia_rgb shade(struct dia_rgb from, struct dia_rgb to, uint16_t level)
{
    uint16_t part = shade_256ths(level);
    struct dia_rgb rgb = {shade_code(from.r, to.r, part), shade_code(from.g, to.g, part),
                          shade_code(from.b, to.b, part)};
    return rgb;
}

/* n colours at their levels: in core/small and core/large, with the same bytes. */
void dia_shade_run(struct dia_rgb *out, struct dia_rgb from, struct dia_rgb to,
                   const uint16_t *levels, uint32_t n);

#endif
