/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_WHITE_H
#define DIA_CORE_WHITE_H

#include "drive.h"

/* Drives r g b w of a colour, the white common to all three moved to w. */
static inline void white_apart(uint16_t v[4], struct dia_rgb px, const DIA_ROM uint16_t *curve)
{
    uint16_t r = drive_of(curve, px.r), g = drive_of(curve, px.g), b = drive_of(curve, px.b);
    uint16_t w = r < g ? r : g;
    if (b < w)
        w = b;
    v[0] = (uint16_t)(r - w);
    v[1] = (uint16_t)(g - w);
    v[2] = (uint16_t)(b - w);
    v[3] = w;
}

#endif
