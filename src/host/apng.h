/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_APNG_H
#define DIA_HOST_APNG_H

#include <cairo.h>
#include <stdint.h>
#include <stdio.h>

/* An animated PNG (PNG specification, 3rd edition) of RGB images, or of ARGB images whose dots are
 * there or clear. */
struct apng {
    FILE *file;
    uint32_t width, height, frames; /* the caller's, before the first frame */
    uint32_t written, sequence;     /* private: frames so far; of the next chunk with a number */
};

/* The next frame, an image of that size, shown for so many ms; after the last of them the file is
 * complete. 0, or -1: no memory. */
int dia_apng_frame(struct apng *apng, cairo_surface_t *surface, uint32_t ms);

#endif
