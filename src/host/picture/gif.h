/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_GIF_H
#define DIA_HOST_GIF_H

#include <cairo.h>
#include <stdio.h>

/* A GIF that plays for ever, frame after frame. */
struct gif;

/* Into a file that is open for writing. NULL: no memory, or it cannot be written. */
struct gif *dia_gif_begin(FILE *file, int width, int height);

/* One frame, a picture in RGB24 of that size, shown for so many hundredths of a second. 0, or -1.
 */
int dia_gif_frame(struct gif *gif, cairo_surface_t *picture, unsigned hundredths);

/* Ends and frees it. 0, or -1. */
int dia_gif_end(struct gif *gif);

#endif
