/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <cairo.h>

#include <diachrome/rig_layer.h>

#include "host_private.h"

/* The number of a colour among those there are, from 1; a new one where it is none of them. 0:
 * there are too many. */
static unsigned number_of(struct dia_rig_sprite *sprite, unsigned *count, struct dia_rgb colour)
{
    for (unsigned k = 0; k < *count; k++) {
        if (memcmp(&sprite->colours[k], &colour, sizeof colour) == 0)
            return k + 1;
    }
    if (*count == sizeof sprite->colours / sizeof sprite->colours[0])
        return 0;
    sprite->colours[(*count)++] = colour;
    return *count;
}

/* Cairo keeps colours times their opacity. */
static struct dia_rgb colour_of(uint32_t pixel)
{
    uint32_t alpha = pixel >> 24;
    struct dia_rgb colour = {(uint8_t)((pixel >> 16 & 255) * 255 / alpha),
                             (uint8_t)((pixel >> 8 & 255) * 255 / alpha),
                             (uint8_t)((pixel & 255) * 255 / alpha)};
    return colour;
}

static enum dia_status take(struct dia_rig_sprite *sprite, cairo_surface_t *picture,
                            const char *path, struct dia_diagnostic *wrong)
{
    int columns = cairo_image_surface_get_width(picture),
        rows = cairo_image_surface_get_height(picture);
    int opaque = cairo_image_surface_get_format(picture) == CAIRO_FORMAT_RGB24;
    unsigned count = 0;
    if (columns > DIA_RIG_SPRITE || rows > DIA_RIG_SPRITE)
        return dia_host_wrong(wrong, "%s: a sprite has at most %d by %d pixels; this has %d by %d",
                              path, DIA_RIG_SPRITE, DIA_RIG_SPRITE, columns, rows);
    sprite->columns = (uint8_t)columns;
    sprite->rows = (uint8_t)rows;
    for (int y = 0; y < rows; y++) {
        const unsigned char *row =
            cairo_image_surface_get_data(picture) + y * cairo_image_surface_get_stride(picture);
        for (int x = 0; x < columns; x++) {
            uint32_t pixel;
            memcpy(&pixel, row + 4 * x, 4);
            pixel |= opaque ? 0xff000000u : 0;
            unsigned cell = pixel >> 24 < 128 ? 0 : number_of(sprite, &count, colour_of(pixel));
            if (cell == 0 && pixel >> 24 >= 128)
                return dia_host_wrong(wrong, "%s: a sprite has at most 255 colours; this has more",
                                      path);
            sprite->cells[y * columns + x] = (uint8_t)cell;
        }
    }
    return DIA_OK;
}

enum dia_status dia_rig_sprite_read(const char *path, struct dia_rig_sprite *sprite,
                                    struct dia_diagnostic *wrong)
{
    struct dia_rig_sprite read;
    enum dia_status status;
    cairo_surface_t *picture = cairo_image_surface_create_from_png(path);
    cairo_status_t failed = cairo_surface_status(picture);
    cairo_format_t format = failed ? CAIRO_FORMAT_INVALID : cairo_image_surface_get_format(picture);
    memset(&read, 0, sizeof read);
    if (failed)
        status = dia_host_wrong(wrong, "%s: no PNG that can be read: %s", path,
                                cairo_status_to_string(failed));
    else if (format != CAIRO_FORMAT_RGB24 && format != CAIRO_FORMAT_ARGB32)
        status = dia_host_wrong(wrong, "%s: a sprite has 8 bits a channel", path);
    else
        status = take(&read, picture, path, wrong);
    cairo_surface_destroy(picture);
    if (status == DIA_OK)
        *sprite = read;
    return status;
}
