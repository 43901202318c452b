/* SPDX-License-Identifier: MIT */
#include <diachrome/layer.h>

#include "blend.h"
#include "shade.h"

/* a * b / 255, rounded: exact for all codes. */
static inline uint8_t product(uint8_t a, uint8_t b)
{
    uint16_t v = (uint16_t)((uint16_t)((unsigned)a * b) + 128u);
    return (uint8_t)((uint16_t)(v + (v >> 8)) >> 8);
}

/* a + b, at most 255: all in 8 bits, of which a vector holds the most. */
static inline uint8_t sum(uint8_t a, uint8_t b)
{
    uint8_t left = (uint8_t)~a;
    return (uint8_t)(a + (b < left ? b : left));
}

static inline uint8_t screened(uint8_t a, uint8_t b)
{
    return (uint8_t)(255u - product((uint8_t)(255u - a), (uint8_t)(255u - b)));
}

#define EACH_BLEND(DO)                                                                             \
    switch (blend) {                                                                               \
    case DIA_BLEND_ADD:                                                                            \
        DO(sum(below, above));                                                                     \
        break;                                                                                     \
    case DIA_BLEND_SCREEN:                                                                         \
        DO(screened(below, above));                                                                \
        break;                                                                                     \
    case DIA_BLEND_MULTIPLY:                                                                       \
        DO(product(below, above));                                                                 \
        break;                                                                                     \
    case DIA_BLEND_LIGHTEN:                                                                        \
        DO(below > above ? below : above);                                                         \
        break;                                                                                     \
    case DIA_BLEND_DARKEN:                                                                         \
        DO(below < above ? below : above);                                                         \
        break;                                                                                     \
    default:                                                                                       \
        DO(above);                                                                                 \
    }

/* One loop for each blend, so that nothing is chosen for each byte. */
#define ALL_BYTES(result)                                                                          \
    for (uint32_t i = 0; i < bytes; i++) {                                                         \
        uint8_t below = to[i], above = from[i];                                                    \
        to[i] = shade_code(below, (uint8_t)(result), alpha);                                       \
        (void)above;                                                                               \
    }

void dia_blend_all(uint8_t *to, const uint8_t *from, uint32_t bytes, uint8_t blend, uint16_t alpha)
{
    EACH_BLEND(ALL_BYTES)
}

#define ALL_COLOURS(result)                                                                        \
    for (uint32_t i = 0; i < n; i++) {                                                             \
        uint16_t part = (uint16_t)((alpha * (uint32_t)shade_256ths(levels[i]) + 128u) >> 8);       \
        for (uint8_t c = 0; c < 3; c++, codes++, with++) {                                         \
            uint8_t below = *codes, above = *with;                                                 \
            *codes = shade_code(below, (uint8_t)(result), part);                                   \
        }                                                                                          \
    }

void dia_blend_each(struct dia_rgb *to, const struct dia_rgb *from, uint32_t n, uint8_t blend,
                    uint16_t alpha, const uint16_t *levels)
{
    uint8_t *codes = (uint8_t *)to;
    const uint8_t *with = (const uint8_t *)from;
    EACH_BLEND(ALL_COLOURS)
}
