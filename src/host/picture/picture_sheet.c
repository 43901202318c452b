/* SPDX-License-Identifier: MIT */
#include <errno.h>

#include <diachrome/quantity.h>

#include "host_private.h"
#include "picture.h"

/* As square as can be, with frames from left to right. */
static uint32_t sheet_columns(uint32_t frames)
{
    uint32_t columns = 1;
    while (columns * columns < frames)
        columns++;
    return columns;
}

#define SHEET_GAP 12
#define SHEET_SAY 20 /* room for the time below each */

static int paste(cairo_t *cr, struct dia_painter *painter, const struct dia_reel *reel,
                 uint32_t frame, double x, double y, double *height)
{
    struct dia_reel one = dia_picture_one(reel, frame);
    char text[40];
    cairo_surface_t *picture = dia_painter_paint(painter, &one);
    if (!picture)
        return -1;
    *height = cairo_image_surface_get_height(picture);
    if (cr) {
        cairo_set_source_surface(cr, picture, x, y);
        cairo_paint(cr);
        dia_quantity_write((int64_t)(reel->time_us[frame] / 1000), DIA_TIME, text, sizeof text);
        dia_picture_text(cr, x + 4, y + *height + 14, 11, 0.6, text);
    }
    return 0;
}

static int sheet_width(const struct dia_reel *reel, uint32_t columns)
{
    return (int)(reel->width - 2 * PICTURE_MARGIN - (columns - 1) * SHEET_GAP) / (int)columns;
}

static cairo_surface_t *paint_sheet(const struct dia_reel *reel, struct dia_painter *painter)
{
    uint32_t columns = sheet_columns(reel->frames), rows = (reel->frames + columns - 1) / columns;
    int width = sheet_width(reel, columns);
    double each;
    if (paste(NULL, painter, reel, 0, 0, 0, &each) != 0)
        return NULL;
    double height =
        PICTURE_HEADER + 10 + rows * (each + SHEET_SAY + SHEET_GAP) + PICTURE_MARGIN / 2;
    if (height > PICTURE_TALLEST)
        return NULL;
    cairo_surface_t *surface =
        cairo_image_surface_create(CAIRO_FORMAT_RGB24, (int)reel->width, (int)height);
    cairo_t *cr = cairo_create(surface);
    cairo_set_source_rgb(cr, 0.055, 0.06, 0.075);
    cairo_paint(cr);
    dia_picture_header(cr, reel, reel->width);
    int failed = 0;
    for (uint32_t k = 0; k < reel->frames && !failed; k++) {
        double x = PICTURE_MARGIN + k % columns * (double)(width + SHEET_GAP);
        double y = PICTURE_HEADER + 10 + k / columns * (each + SHEET_SAY + SHEET_GAP);
        failed = paste(cr, painter, reel, k, x, y, &each) != 0;
        if (reel->progress)
            reel->progress(k + 1, reel->frames);
    }
    failed |= cairo_status(cr) != CAIRO_STATUS_SUCCESS;
    cairo_destroy(cr);
    if (!failed)
        return surface;
    cairo_surface_destroy(surface);
    return NULL;
}

enum dia_status dia_reel_write_sheet(const struct dia_reel *reel, const char *path,
                                     struct dia_diagnostic *wrong)
{
    uint32_t columns = sheet_columns(reel->frames);
    if (reel->frames > 400 || (reel->width - 2 * PICTURE_MARGIN) / columns < 60 + SHEET_GAP)
        return dia_host_wrong(wrong,
                              "%u frames do not fit on a sheet %u wide; show fewer, or make it "
                              "wider",
                              (unsigned)reel->frames, (unsigned)reel->width);
    errno = ENOMEM;
    struct dia_painter *painter = dia_painter_new(reel->rig, sheet_width(reel, columns), 0);
    cairo_surface_t *surface = painter ? paint_sheet(reel, painter) : NULL;
    dia_painter_free(painter);
    if (!surface)
        return dia_host_failed(wrong, path, "cannot be drawn");
    enum dia_status status = dia_picture_save(surface, path, wrong);
    cairo_surface_destroy(surface);
    return status;
}
