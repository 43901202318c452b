/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_SHADE_H
#define DIA_CORE_SHADE_H

#include <diachrome/colour.h>

/* A code between two, at level / 65536 of the way, in sRGB codes: even to the eye. */
static inline uint8_t shade_code(uint8_t from, uint8_t to, uint16_t level)
{
    return (uint8_t)(((uint32_t)from * (65535u - level) + (uint32_t)to * level + 32767u) / 65535u);
}

static inline struct dia_rgb shade(struct dia_rgb from, struct dia_rgb to, uint16_t level)
{
    struct dia_rgb rgb = {shade_code(from.r, to.r, level), shade_code(from.g, to.g, level),
                          shade_code(from.b, to.b, level)};
    return rgb;
}

/* What a look that needs it once for each level prepares: 65 shades from one colour to another. */
#define SHADES 64u
struct shades {
    struct dia_rgb of[SHADES + 1u];
};
void shades_make(struct shades *shades, struct dia_rgb from, struct dia_rgb to);

static inline struct dia_rgb shades_at(const struct shades *shades, uint16_t level)
{
    return shades->of[(uint16_t)(level + 512u) < level ? SHADES : (level + 512u) >> 10];
}

#endif
