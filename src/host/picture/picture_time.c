/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <diachrome/quantity.h>

#include "picture.h"

/* Place from left to right, time downwards: each frame is a line of the picture. */
#define LEFT   110
#define SPAN   (PICTURE_WIDTH - LEFT - PICTURE_MARGIN)
#define HEIGHT 560 /* of the frames of a lane, where they are fewer than that */
#define TICK   6

/* What is shown: a lane, a grid by its top row; or a row of lamps. */
struct row {
    const struct dia_reel *reel;
    const struct dia_rig_lane *lane;     /* or */
    const struct dia_rig_device *device; /* the other NULL */
    uint32_t number;
    const struct dia_surface *surface;
};

/* Places that go into one dot of the image: an image can only be so wide. */
static int places_a_dot(const struct row *row)
{
    return (int)(row->surface->count / 8192u) + 1;
}

/* n places together, from one on; they are one wherever they do not lie in the chain's order. */
static struct dia_rgb seen_at(const struct row *row, uint32_t frame, uint32_t place, uint32_t n)
{
    if (row->device) {
        const uint8_t *drive = dia_reel_device(row->reel, frame, row->number)[place];
        return dia_view_seen(row->device, drive);
    }
    const uint8_t(*drive)[4] = dia_reel_lane(row->reel, frame, row->number);
    if (row->lane->layout.grid.wiring.first != DIA_TOP_LEFT ||
        row->lane->layout.shape == DIA_SHAPE_GRID) {
        drive += dia_rig_pixel_at(row->lane, place);
        n = 1;
    } else {
        drive += place;
    }
    return dia_seen(drive, n, dia_scale_of(&row->lane->part));
}

static cairo_surface_t *frames_as_image(const struct row *row)
{
    int count = (int)row->surface->count, each = places_a_dot(row);
    int width = (count + each - 1) / each, height = (int)row->reel->frames;
    cairo_surface_t *image = cairo_image_surface_create(CAIRO_FORMAT_RGB24, width, height);
    if (cairo_surface_status(image) != CAIRO_STATUS_SUCCESS)
        return image;
    unsigned char *bytes = cairo_image_surface_get_data(image);
    int stride = cairo_image_surface_get_stride(image);
    for (int y = 0; y < height; y++) {
        uint32_t *line = (uint32_t *)(void *)(bytes + (size_t)y * (size_t)stride);
        for (int x = 0; x < width; x++) {
            int n = count - x * each < each ? count - x * each : each;
            struct dia_rgb seen = seen_at(row, (uint32_t)y, (uint32_t)(x * each), (uint32_t)n);
            line[x] = (uint32_t)seen.r << 16 | (uint32_t)seen.g << 8 | seen.b;
        }
    }
    cairo_surface_mark_dirty(image);
    return image;
}

static void paint(cairo_t *cr, const struct row *row, double y, double height)
{
    cairo_surface_t *image = frames_as_image(row);
    cairo_save(cr);
    cairo_rectangle(cr, LEFT, y, SPAN, height);
    cairo_clip(cr);
    cairo_translate(cr, LEFT, y);
    cairo_scale(cr, (double)SPAN / row->surface->count * places_a_dot(row),
                height / row->reel->frames);
    cairo_set_source_surface(cr, image, 0, 0);
    /* lanes longer than the picture is wide are averaged, the others keep their edges */
    cairo_pattern_set_filter(cairo_get_source(cr),
                             row->surface->count > SPAN ? CAIRO_FILTER_GOOD : CAIRO_FILTER_NEAREST);
    cairo_paint(cr);
    cairo_restore(cr);
    cairo_surface_destroy(image);
}

static void tick(cairo_t *cr, double x, double y, double dx, double dy)
{
    cairo_set_source_rgb(cr, 0.45, 0.45, 0.45);
    cairo_set_line_width(cr, 1);
    cairo_move_to(cr, x, y);
    cairo_line_to(cr, x + dx, y + dy);
    cairo_stroke(cr);
}

/* The round step (1, 2 or 5 times a power of ten) that makes 4 to 10 of a length. */
static double round_step(double length)
{
    double step = 1e-6;
    static const double next[] = {2, 2.5, 2};
    for (int i = 0; length / step > 9; i++)
        step *= next[i % 3];
    return step;
}

static void time_axis(cairo_t *cr, const struct dia_reel *reel, double y, double height)
{
    /* each line of the picture lasts one frame, so the axis ends a frame after the last */
    double from = (double)reel->time_us[0] / 1e6;
    double length = (double)(reel->time_us[reel->frames - 1] - reel->time_us[0]) / 1e6;
    length *= (double)reel->frames / (reel->frames - 1.0);
    double step = round_step(length);
    for (int i = 0; i * step <= length * 1.0001; i++) {
        char text[32];
        double at = y + height * (i * step) / length;
        snprintf(text, sizeof text, "%.6g s", from + i * step);
        tick(cr, LEFT - TICK, at, TICK, 0);
        dia_picture_text_to(cr, LEFT - TICK - 4, at + 4, 11, 0.6, text);
    }
}

static void place_axis(cairo_t *cr, const struct dia_surface *surface, double y)
{
    double from = surface->start_um / 1e3;
    double length = (double)surface->count * surface->pitch_um / 1e3;
    double step = round_step(length);
    for (int i = 0; i * step <= length * 1.0001; i++) {
        char text[32];
        double at = LEFT + SPAN * (i * step) / length;
        snprintf(text, sizeof text, "%.6g mm", from + i * step);
        tick(cr, at, y, 0, TICK);
        if (at + 60 < PICTURE_WIDTH)
            dia_picture_text(cr, at - 12, y + TICK + 13, 11, 0.6, text);
        else
            dia_picture_text_to(cr, PICTURE_WIDTH - 12, y + TICK + 13, 11, 0.6, text);
    }
}

static double row_in_time(cairo_t *cr, const struct row *row, const char *title, double y)
{
    const struct dia_reel *reel = row->reel;
    double height = reel->frames < HEIGHT ? HEIGHT : reel->frames;
    if (reel->frames < HEIGHT / 24)
        height = reel->frames * 24.0; /* few frames stay bands, not blocks */
    if (cr) {
        dia_picture_text(cr, PICTURE_MARGIN, y + 22, 13, 0.8, title);
        paint(cr, row, y + 36, height);
        time_axis(cr, reel, y + 36, height);
        place_axis(cr, row->surface, y + 36 + height);
    }
    return y + 36 + height + 40;
}

double dia_picture_lane_in_time(cairo_t *cr, const struct dia_reel *reel, uint32_t number, double y)
{
    const struct dia_rig_lane *lane = &reel->rig->lanes[number];
    struct row row = {reel, lane, NULL, number, &lane->layout.surface};
    char title[160];
    snprintf(title, sizeof title, "%s: %u x %s", lane->name, (unsigned)lane->count,
             lane->part.name);
    return row_in_time(cr, &row, title, y);
}

double dia_picture_lamps_in_time(cairo_t *cr, const struct dia_reel *reel, uint32_t number,
                                 double y)
{
    const struct dia_rig_device *device = &reel->rig->devices[number];
    struct row row = {reel, NULL, device, number, &device->surface};
    char title[160];
    snprintf(title, sizeof title, "%s: %u x %s", device->name, (unsigned)device->count,
             device->chip);
    return row_in_time(cr, &row, title, y);
}
