/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_TEXT_PLACES_H
#define DIA_CORE_TEXT_PLACES_H

#include <diachrome/layout.h>
#include <diachrome/surface.h>
#include <diachrome/text.h>

/* Where the elements of a surface are on a screen of dots a pitch wide and high. */
struct text_places {
    const struct dia_surface *surface;
    struct dia_screen screen;
    struct dia_point corner; /* of dot 0, 0 */
    uint16_t column[DIA_RUN], row[DIA_RUN];
};

void dia_text_places_begin(struct text_places *places, const struct dia_surface *surface);

/* Of n elements, at most DIA_RUN. */
void dia_text_places_run(struct text_places *places, uint32_t first, uint32_t n);

/* 1 for each of them that a text lights, else 0. */
void dia_text_places_lit(const struct text_places *places, const struct dia_text *text, uint32_t ms,
                         uint32_t n, uint8_t *lit);

#endif
