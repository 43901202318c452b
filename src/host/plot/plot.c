/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <math.h>
#include <stdlib.h>

#include <diachrome/plot.h>
#include <diachrome/quantity.h>

#include "host_private.h"
#include "picture.h"

#define HEIGHT 480
#define LEFT   84
#define TOP    96
#define WIDE   (PICTURE_WIDTH - LEFT - PICTURE_MARGIN)
#define HIGH   (HEIGHT - TOP - 56)

/* 1, 2 or 5 times a power of ten seconds, so that there are five to twelve lines. */
static double tick(double seconds)
{
    double step = pow(10, floor(log10(seconds / 5)));
    return seconds / step > 25 ? 5 * step : seconds / step > 12 ? 2 * step : step;
}

static void grid(cairo_t *cr, const struct dia_plot *plot)
{
    char text[40];
    double from = (double)plot->from_us / 1e6;
    double to = from + (double)plot->step_us * (plot->count > 1 ? plot->count - 1 : 1) / 1e6;
    double step = fmax(tick(to - from), 0.001);
    cairo_set_line_width(cr, 1);
    for (int k = 0; k <= 4; k++) {
        double y = TOP + HIGH * k / 4.0;
        cairo_set_source_rgb(cr, 0.17, 0.175, 0.19);
        cairo_move_to(cr, LEFT, y);
        cairo_line_to(cr, LEFT + WIDE, y);
        cairo_stroke(cr);
        snprintf(text, sizeof text, "%.0f", plot->most * (4.0 - k) / 4);
        dia_picture_text_to(cr, LEFT - 10, y + 4, 11, 0.55, text);
    }
    for (double t = ceil(from / step) * step; t <= to + step * 1e-6; t += step) {
        double x = LEFT + WIDE * (t - from) / (to - from);
        cairo_set_source_rgb(cr, 0.17, 0.175, 0.19);
        cairo_move_to(cr, x, TOP);
        cairo_line_to(cr, x, TOP + HIGH);
        cairo_stroke(cr);
        dia_quantity_write(llround(t * 1000), DIA_TIME, text, sizeof text);
        dia_picture_text(cr, x + 3, TOP + HIGH + 18, 11, 0.55, text);
    }
    cairo_new_path(cr); /* texts leave a point behind */
}

/* Values hold from their moment to the next. */
static void each_moment(cairo_t *cr, const struct dia_plot *plot, const uint16_t *values)
{
    double step = (double)WIDE / (plot->count > 1 ? plot->count - 1 : 1);
    for (uint32_t i = 0; i < plot->count; i++) {
        double y = TOP + HIGH * (1 - (double)values[i] / plot->most);
        cairo_line_to(cr, LEFT + i * step, y);
        if (i + 1 < plot->count && step > 4)
            cairo_line_to(cr, LEFT + (i + 1) * step, y);
    }
    cairo_stroke(cr);
}

/* Of the moments of each column the least, the most and the mean. */
static void envelope(cairo_t *cr, const struct dia_plot *plot, const uint16_t *values,
                     struct dia_rgb c)
{
    double means[WIDE];
    cairo_set_source_rgba(cr, c.r / 255.0, c.g / 255.0, c.b / 255.0, 0.35);
    for (int x = 0; x < WIDE; x++) {
        uint32_t first = (uint32_t)((uint64_t)plot->count * (unsigned)x / WIDE);
        uint32_t end = (uint32_t)((uint64_t)plot->count * (unsigned)(x + 1) / WIDE);
        uint16_t least = values[first], most = least;
        double sum = 0;
        for (uint32_t i = first; i < end; i++) {
            least = values[i] < least ? values[i] : least;
            most = values[i] > most ? values[i] : most;
            sum += values[i];
        }
        means[x] = TOP + HIGH * (1 - sum / (end - first) / plot->most);
        double high = HIGH * (double)(most - least) / plot->most;
        cairo_rectangle(cr, LEFT + x, TOP + HIGH * (1 - (double)most / plot->most), 1, high);
    }
    cairo_fill(cr);
    cairo_set_source_rgb(cr, c.r / 255.0, c.g / 255.0, c.b / 255.0);
    for (int x = 0; x < WIDE; x++)
        cairo_line_to(cr, LEFT + x + 0.5, means[x]);
    cairo_stroke(cr);
}

static void curve(cairo_t *cr, const struct dia_plot *plot, uint8_t number)
{
    struct dia_rgb c = plot->curve[number].colour;
    cairo_set_source_rgb(cr, c.r / 255.0, c.g / 255.0, c.b / 255.0);
    cairo_set_line_width(cr, 1.6);
    cairo_set_operator(cr, CAIRO_OPERATOR_ADD); /* where curves meet, their colours mix */
    if (plot->count > WIDE)
        envelope(cr, plot, plot->curve[number].values, c);
    else
        each_moment(cr, plot, plot->curve[number].values);
    cairo_set_operator(cr, CAIRO_OPERATOR_OVER);
}

static int is_coarse(const uint16_t *values, uint32_t count)
{
    uint16_t least = values[0], most = least;
    uint64_t way = 0;
    for (uint32_t i = 1; i < count; i++) {
        least = values[i] < least ? values[i] : least;
        most = values[i] > most ? values[i] : most;
        way += (uint64_t)abs(values[i] - values[i - 1]);
    }
    return count > 8 && 4 * way > (uint64_t)(most - least) * (count - 1);
}

int dia_plot_is_coarse(const struct dia_plot *plot)
{
    int coarse = 0;
    for (uint8_t k = 0; k < plot->curves && plot->count; k++)
        coarse |= is_coarse(plot->curve[k].values, plot->count);
    return coarse;
}

static void names(cairo_t *cr, const struct dia_plot *plot)
{
    double x = PICTURE_WIDTH - PICTURE_MARGIN;
    for (int k = plot->curves - 1; k >= 0; k--) {
        struct dia_rgb c = plot->curve[k].colour;
        cairo_text_extents_t extents;
        dia_picture_text_to(cr, x, 40, 13, 0.8, plot->curve[k].name);
        cairo_text_extents(cr, plot->curve[k].name, &extents);
        x -= extents.x_advance + 22;
        cairo_set_source_rgb(cr, c.r / 255.0, c.g / 255.0, c.b / 255.0);
        cairo_rectangle(cr, x, 34, 14, 3);
        cairo_fill(cr);
        x -= 18;
    }
}

enum dia_status dia_plot_write_png(const struct dia_plot *plot, const char *path,
                                   struct dia_diagnostic *wrong)
{
    cairo_surface_t *surface =
        cairo_image_surface_create(CAIRO_FORMAT_RGB24, PICTURE_WIDTH, HEIGHT);
    cairo_t *cr = cairo_create(surface);
    cairo_set_source_rgb(cr, 0.055, 0.06, 0.075);
    cairo_paint(cr);
    dia_picture_text(cr, PICTURE_MARGIN, 40, 18, 0.92, plot->title);
    dia_picture_text(cr, PICTURE_MARGIN, 62, 13, 0.6, plot->about);
    if (dia_plot_is_coarse(plot))
        dia_picture_text(cr, PICTURE_MARGIN, 82, 13, 0.8, DIA_PLOT_COARSE);
    else if (plot->count > WIDE)
        dia_picture_text(cr, PICTURE_MARGIN, 82, 13, 0.6,
                         "line: the mean of a column; shade: from its least to its most");
    grid(cr, plot);
    for (uint8_t k = 0; k < plot->curves; k++)
        curve(cr, plot, k);
    names(cr, plot);
    int failed = cairo_status(cr) != CAIRO_STATUS_SUCCESS;
    cairo_destroy(cr);
    errno = ENOMEM;
    enum dia_status status = failed ? dia_host_failed(wrong, path, "cannot be drawn")
                                    : dia_picture_save(surface, path, wrong);
    cairo_surface_destroy(surface);
    return status;
}
