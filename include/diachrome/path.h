/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_PATH_H
#define DIACHROME_PATH_H

#include <stdint.h>

#include "config.h"
#include "linkage.h"
#include "signal.h"
#include "surface.h"

DIA_BEGIN

/*
 * A way from point to point, for a figure or a sprite that moves on it.
 *
 *   static const struct dia_point points[] = {{0, 40000}, {80000, 10000}, {160000, 40000}};
 *   static const struct dia_path way = {.points = points, .count = 3, .curved = 1,
 *                                       .over_ms = 4000, .ease = &dia_ease_in_out};
 *   figure.at = dia_path_at(&way, ms);
 *
 * It goes at an even speed along its length, or as its curve of easing has it. Where it is depends
 * on the time alone.
 *
 * Cost: two roots for each straight piece, of a curve eight from point to point, for each call:
 * 72,000 cycles on an ATmega328P at -O2 for three points of a curve. 160 bytes of stack.
 * Context: any; threads may work at once on objects of their own.
 */
#define DIA_PATH_POINTS 16 /* at most */

enum dia_path_end {
    DIA_PATH_AGAIN, /* from the first point again */
    DIA_PATH_BACK,  /* the same way back, and again */
    DIA_PATH_STAYS  /* at the last point; from time 0 on */
};

struct dia_path {
    const struct dia_point *points; /* within 500 m */
    uint8_t count;                  /* 1..DIA_PATH_POINTS */
    uint8_t curved;                 /* 1: a smooth curve through all points; else straight pieces */
    uint8_t end;                    /* enum dia_path_end: what comes at the last point */
    uint32_t over_ms;               /* from the first point to the last, 1..3600000 */
    const DIA_ROM struct dia_ease *ease; /* NULL: even */
};

/* Where it is at a time, to a 16384th of what the points reach over. */
struct dia_point dia_path_at(const struct dia_path *path, uint32_t ms);

/* How long it is, um: within 1 %, and less than 2^31. */
int32_t dia_path_length_um(const struct dia_path *path);

DIA_END

#endif
