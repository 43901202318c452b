/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <stdio.h>
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
    if (columns > DIA_RIG_SPRITE || rows > DIA_RIG_SPRITE) /* it has changed since */
        return dia_host_wrong(wrong, "%s: a sprite has at most %d by %d pixels", path,
                              DIA_RIG_SPRITE, DIA_RIG_SPRITE);
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

static uint32_t number_at(const uint8_t *at)
{
    return (uint32_t)at[0] << 24 | (uint32_t)at[1] << 16 | (uint32_t)at[2] << 8 | at[3];
}

/* How large a PNG is, by its first 24 bytes (W3C PNG, 5.2 and 11.2.1): before anything is decoded,
 * which may take any amount of memory. */
static enum dia_status has_a_size(const char *path, struct dia_diagnostic *wrong)
{
    static const uint8_t begins[16] = {0x89, 'P', 'N', 'G', 13,  10,  26,  10,
                                       0,    0,   0,   13,  'I', 'H', 'D', 'R'};
    uint8_t head[24] = {0};
    FILE *file = fopen(path, "rb");
    if (!file)
        return dia_host_wrong(wrong, "%s: cannot be read: %s", path, strerror(errno));
    size_t got = fread(head, 1, sizeof head, file);
    int failed = ferror(file) ? errno : 0;
    fclose(file);
    if (failed)
        return dia_host_wrong(wrong, "%s: cannot be read: %s", path, strerror(failed));
    if (got != sizeof head || memcmp(head, begins, sizeof begins) != 0)
        return dia_host_wrong(wrong, "%s: is no PNG", path);
    uint32_t columns = number_at(head + 16), rows = number_at(head + 20);
    if (columns > DIA_RIG_SPRITE || rows > DIA_RIG_SPRITE)
        return dia_host_wrong(wrong, "%s: a sprite has at most %d by %d pixels; this has %u by %u",
                              path, DIA_RIG_SPRITE, DIA_RIG_SPRITE, columns, rows);
    return DIA_OK;
}

enum dia_status dia_rig_sprite_read(const char *path, struct dia_rig_sprite *sprite,
                                    struct dia_diagnostic *wrong)
{
    struct dia_rig_sprite read;
    enum dia_status status = has_a_size(path, wrong);
    if (status != DIA_OK)
        return status;
    cairo_surface_t *picture = cairo_image_surface_create_from_png(path);
    cairo_status_t failed = cairo_surface_status(picture);
    cairo_format_t format = failed ? CAIRO_FORMAT_INVALID : cairo_image_surface_get_format(picture);
    memset(&read, 0, sizeof read);
    if (failed)
        status = dia_host_wrong(wrong, "%s: the PNG is damaged, or ends too early", path);
    else if (format != CAIRO_FORMAT_RGB24 && format != CAIRO_FORMAT_ARGB32)
        status = dia_host_wrong(wrong, "%s: a sprite has 8 bits a channel", path);
    else
        status = take(&read, picture, path, wrong);
    cairo_surface_destroy(picture);
    if (status == DIA_OK)
        *sprite = read;
    return status;
}
