/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_MOTION_H
#define DIA_CORE_MOTION_H

#include "lines.h"

/* Where a text stands at a moment. */
struct stand {
    const char *from, *until; /* its first line, and the first sign that does not show */
    uint16_t lines;           /* from the first on */
    struct line line;         /* one of them, so that a single one is not measured again */
    int32_t x, y;             /* the upper left corner of these lines, in dots */
    int32_t width, height;    /* which they take */
    int32_t again_x, again_y; /* copies at such distances; 0: none */
};

/* All of it, at 0, 0. */
void dia_stand_all(struct stand *stand, const struct measure *measure, const struct dia_text *text);

void dia_stand_of(struct stand *stand, const struct measure *measure, const struct dia_text *text,
                  const struct dia_screen *screen, uint32_t ms);

#endif
