/* SPDX-License-Identifier: MIT */
#include <errno.h>

#include <cairo.h>

#include "glyphs_private.h"
#include "host_private.h"

/* All drawings as one picture: each with its name, frames side by side. */

#define WIDTH  1280
#define MARGIN 32.0
#define LABEL  18.0 /* room for a name */

/* Pixels of a dot: large where there are few. */
static double dot_size(const struct dia_drawings *drawings)
{
    return drawings->count <= 24 ? 14 : drawings->count <= 120 ? 8 : 5;
}

static void put_dots(cairo_t *cr, const struct dia_drawings *drawings, const struct dia_dots *item,
                     double x, double y, double dot)
{
    const uint8_t *cell = item->cells;
    for (uint32_t frame = 0; frame < item->frames; frame++, x += (item->columns + 1) * dot) {
        for (uint32_t k = 0; k < (uint32_t)item->columns * item->rows; k++, cell++) {
            struct dia_rgb c = *cell ? drawings->colours[*cell - 1] : (struct dia_rgb){34, 36, 42};
            if (item->code && *cell)
                c = (struct dia_rgb){255, 190, 70};
            cairo_set_source_rgb(cr, c.r / 255.0, c.g / 255.0, c.b / 255.0);
            cairo_rectangle(cr, x + k % item->columns * dot + 0.5,
                            y + k / item->columns * dot + 0.5, dot - 1, dot - 1);
            cairo_fill(cr);
        }
    }
}

/* Draws when there is something to draw on; how high it all is. */
static double lay_out(cairo_t *cr, const struct dia_drawings *drawings)
{
    double x = MARGIN, y = MARGIN, high = 0, dot = dot_size(drawings);
    char sign[8];
    for (uint32_t k = 0; k < drawings->count; k++) {
        const struct dia_dots *item = &drawings->items[k];
        const char *name = item->code ? dia_sign_text(item->code, sign) : item->name;
        cairo_text_extents_t extents;
        cairo_text_extents(cr, name, &extents);
        double wide = (item->columns + 1) * dot * item->frames - dot;
        wide = wide > extents.x_advance ? wide : extents.x_advance;
        if (x > MARGIN && x + wide > WIDTH - MARGIN) {
            x = MARGIN;
            y += high + LABEL + 14;
            high = 0;
        }
        cairo_set_source_rgb(cr, 0.6, 0.62, 0.66);
        cairo_move_to(cr, x, y + 11);
        cairo_show_text(cr, name);
        put_dots(cr, drawings, item, x, y + LABEL, dot);
        high = item->rows * dot > high ? item->rows * dot : high;
        x += wide + 20;
    }
    return y + high + LABEL + MARGIN;
}

static cairo_surface_t *paint(const struct dia_drawings *drawings, int height)
{
    cairo_surface_t *surface = cairo_image_surface_create(CAIRO_FORMAT_RGB24, WIDTH, height);
    cairo_t *cr = cairo_create(surface);
    cairo_select_font_face(cr, "DejaVu Sans", CAIRO_FONT_SLANT_NORMAL, CAIRO_FONT_WEIGHT_NORMAL);
    cairo_set_font_size(cr, 12);
    cairo_set_source_rgb(cr, 0.055, 0.06, 0.075);
    cairo_paint(cr);
    double needed = lay_out(cr, drawings);
    cairo_destroy(cr);
    if (height == 1 && needed > 1 && needed < 32000) {
        cairo_surface_destroy(surface);
        return paint(drawings, (int)needed);
    }
    return surface;
}

static cairo_status_t put(void *file, const unsigned char *bytes, unsigned int n)
{
    return fwrite(bytes, 1, n, file) == n ? CAIRO_STATUS_SUCCESS : CAIRO_STATUS_WRITE_ERROR;
}

enum dia_status dia_drawings_png_write(const struct dia_drawings *drawings, const char *path,
                                       struct dia_diagnostic *wrong)
{
    struct host_output out;
    enum dia_status status = dia_host_output_open(&out, path, wrong);
    if (status != DIA_OK)
        return status;
    cairo_surface_t *surface = paint(drawings, 1);
    if (cairo_image_surface_get_height(surface) <= 1)
        status = dia_host_wrong(wrong, "%s: the drawings do not fit one picture", path);
    else if (cairo_surface_write_to_png_stream(surface, put, out.file) != CAIRO_STATUS_SUCCESS)
        status = dia_host_failed(wrong, path, "cannot be written");
    cairo_surface_destroy(surface);
    if (status == DIA_OK)
        return dia_host_output_close(&out, wrong);
    dia_host_output_discard(&out);
    return status;
}
