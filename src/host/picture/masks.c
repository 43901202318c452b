/* SPDX-License-Identifier: MIT */
#include <math.h>
#include <stdlib.h>
#include <string.h>

#include "masks.h"
#include "picture.h"

void dia_masks_free(struct masks *masks)
{
    free(masks->first);
    free(masks->pixels);
    free(masks->covers);
    memset(masks, 0, sizeof *masks);
}

static int add(struct masks *masks, uint32_t pixel, uint8_t cover)
{
    if (masks->count == masks->room) {
        uint32_t room = masks->room ? masks->room * 2 : 4096;
        uint32_t *pixels = realloc(masks->pixels, room * sizeof *pixels);
        if (!pixels)
            return -1;
        masks->pixels = pixels;
        uint8_t *covers = realloc(masks->covers, room);
        if (!covers)
            return -1;
        masks->covers = covers;
        masks->room = room;
    }
    masks->pixels[masks->count] = pixel;
    masks->covers[masks->count++] = cover;
    return 0;
}

/* A rectangle of whole pixels in the picture. */
struct place {
    int left, top, right, bottom;
};

/* Where the path of cr lies; nothing of it is outside. */
static struct place place_of(cairo_t *cr, int width, int height)
{
    double x0, y0, x1, y1, corners[4][2];
    struct place at = {width, height, 0, 0};
    cairo_fill_extents(cr, &x0, &y0, &x1, &y1);
    const double box[4][2] = {{x0, y0}, {x1, y0}, {x0, y1}, {x1, y1}};
    for (int k = 0; k < 4; k++) {
        corners[k][0] = box[k][0];
        corners[k][1] = box[k][1];
        cairo_user_to_device(cr, &corners[k][0], &corners[k][1]);
        at.left = (int)fmin(at.left, fmax(floor(corners[k][0]) - 1, 0));
        at.top = (int)fmin(at.top, fmax(floor(corners[k][1]) - 1, 0));
        at.right = (int)fmax(at.right, fmin(ceil(corners[k][0]) + 1, width));
        at.bottom = (int)fmax(at.bottom, fmin(ceil(corners[k][1]) + 1, height));
    }
    return at;
}

/* The path of an element, filled on a picture of its own, pixel by pixel. */
static int take(struct masks *masks, cairo_t *cr, const struct view_element *e,
                const struct place *at, int width)
{
    cairo_matrix_t matrix;
    cairo_surface_t *small =
        cairo_image_surface_create(CAIRO_FORMAT_A8, at->right - at->left, at->bottom - at->top);
    cairo_t *on = cairo_create(small);
    cairo_get_matrix(cr, &matrix);
    cairo_translate(on, -at->left, -at->top);
    cairo_transform(on, &matrix);
    dia_picture_outline(on, e, e->x, e->y, 1);
    cairo_fill(on);
    cairo_surface_flush(small);
    int failed = cairo_status(on) != CAIRO_STATUS_SUCCESS,
        stride = cairo_image_surface_get_stride(small);
    const uint8_t *covers = cairo_image_surface_get_data(small);
    for (int y = at->top; y < at->bottom && !failed; y++) {
        const uint8_t *row = covers + (size_t)stride * (size_t)(y - at->top);
        for (int x = at->left; x < at->right && !failed; x++) {
            if (row[x - at->left])
                failed =
                    add(masks, (uint32_t)y * (uint32_t)width + (uint32_t)x, row[x - at->left]) != 0;
        }
    }
    cairo_destroy(on);
    cairo_surface_destroy(small);
    return failed ? -1 : 0;
}

int dia_masks_draw(struct masks *masks, cairo_t *cr, const struct view *view, int width, int height)
{
    masks->first = calloc((size_t)view->count + 1, sizeof *masks->first);
    if (!masks->first)
        return -1;
    for (uint32_t i = 0; i < view->count; i++) {
        const struct view_element *e = &view->elements[i];
        masks->first[i] = masks->count;
        if (e->w <= 0)
            continue;
        cairo_new_path(cr);
        dia_picture_outline(cr, e, e->x, e->y, 1);
        struct place at = place_of(cr, width, height);
        cairo_new_path(cr);
        if (at.left < at.right && at.top < at.bottom && take(masks, cr, e, &at, width) != 0)
            return -1;
    }
    masks->first[view->count] = masks->count;
    return 0;
}
