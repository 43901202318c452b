/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_PALETTE_H
#define DIA_CORE_PALETTE_H

#include <diachrome/look.h>

/* A palette for many elements: its colours as light, looked up once. */
struct palette_light {
    dia_light light[3][DIA_PALETTE_MAX + 1]; /* of each channel; the last colour twice */
    uint8_t spans;
    const struct dia_palette *placed; /* NULL: at even distances */
    uint32_t slope[DIA_PALETTE_MAX];  /* of a placed one: 2^31 over the way to the next */
};
void dia_palette_make(struct palette_light *light, const struct dia_palette *palette);

/* n values to colours, as dia_palette_at has them. */
void dia_palette_run(const struct palette_light *light, const uint16_t *values, uint32_t n,
                     struct dia_rgb *out);

#endif
