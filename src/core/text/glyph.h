/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_GLYPH_H
#define DIA_CORE_GLYPH_H

#include <diachrome/face.h>

/* The columns of a sign. */
struct glyph {
    const DIA_ROM uint8_t *columns; /* NULL: the face lacks it; a box stands for it */
    uint8_t width;
    uint8_t bytes; /* of a column; of a box its rows */
};

void dia_glyph_find(const DIA_ROM struct dia_face *face, uint16_t code, struct glyph *glyph);

/* The dots of a column below the width, the uppermost in the lowest bit. */
uint32_t dia_glyph_column(const struct glyph *glyph, uint8_t column);

#endif
