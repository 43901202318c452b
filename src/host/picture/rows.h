/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_ROWS_H
#define DIA_HOST_ROWS_H

#include <cairo.h>
#include <stdint.h>

/* A row of a picture in RGB24, after cairo_surface_flush: 8 bits each of nothing, red, green and
 * blue from the top. */
static inline uint32_t *dia_row(cairo_surface_t *picture, int y)
{
    return (uint32_t *)(void *)(cairo_image_surface_get_data(picture) +
                                (size_t)cairo_image_surface_get_stride(picture) * (size_t)y);
}

#endif
