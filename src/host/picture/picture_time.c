/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <diachrome/quantity.h>

#include "picture.h"

/* Place from left to right, time downwards: each frame is a line of the picture. */
#define LEFT   110
#define SPAN   (PICTURE_WIDTH - LEFT - PICTURE_MARGIN)
#define HEIGHT 560 /* of the frames of a lane, where they are fewer than that */
#define TICK   6

/* A grid is shown by its top row. */
static uint32_t places(const struct dia_reel *reel, uint32_t lane)
{
    return reel->rig->lanes[lane].layout.surface.count;
}

/* Pixels of a lane that go into one dot of the image: an image can only be so wide. */
static int pixels_a_dot(const struct dia_reel *reel, uint32_t lane)
{
    return (int)(places(reel, lane) / 8192u) + 1;
}

static struct dia_rgb seen_at(const struct dia_rig_lane *lane, const uint8_t (*drive)[4], int x,
                              uint32_t n)
{
    if (lane->layout.shape == DIA_SHAPE_GRID)
        return dia_seen(drive + dia_grid_element(&lane->layout.grid, (uint16_t)x, 0), 1,
                        dia_scale_of(&lane->part));
    return dia_seen(drive + x, n, dia_scale_of(&lane->part));
}

static cairo_surface_t *frames_as_image(const struct dia_reel *reel, uint32_t lane)
{
    int count = (int)places(reel, lane), each = pixels_a_dot(reel, lane);
    int width = (count + each - 1) / each, height = (int)reel->frames;
    cairo_surface_t *image = cairo_image_surface_create(CAIRO_FORMAT_RGB24, width, height);
    if (cairo_surface_status(image) != CAIRO_STATUS_SUCCESS)
        return image;
    unsigned char *bytes = cairo_image_surface_get_data(image);
    int stride = cairo_image_surface_get_stride(image);
    for (int y = 0; y < height; y++) {
        const uint8_t(*drive)[4] = dia_reel_lane(reel, (uint32_t)y, lane);
        uint32_t *line = (uint32_t *)(void *)(bytes + (size_t)y * (size_t)stride);
        for (int x = 0; x < width; x++) {
            int n = count - x * each < each ? count - x * each : each;
            struct dia_rgb seen = seen_at(&reel->rig->lanes[lane], drive, x * each, (uint32_t)n);
            line[x] = (uint32_t)seen.r << 16 | (uint32_t)seen.g << 8 | seen.b;
        }
    }
    cairo_surface_mark_dirty(image);
    return image;
}

static void paint(cairo_t *cr, const struct dia_reel *reel, uint32_t lane, double y, double height)
{
    cairo_surface_t *image = frames_as_image(reel, lane);
    cairo_save(cr);
    cairo_rectangle(cr, LEFT, y, SPAN, height);
    cairo_clip(cr);
    cairo_translate(cr, LEFT, y);
    cairo_scale(cr, (double)SPAN / places(reel, lane) * pixels_a_dot(reel, lane),
                height / reel->frames);
    cairo_set_source_surface(cr, image, 0, 0);
    /* lanes longer than the picture is wide are averaged, the others keep their edges */
    cairo_pattern_set_filter(cairo_get_source(cr),
                             places(reel, lane) > SPAN ? CAIRO_FILTER_GOOD : CAIRO_FILTER_NEAREST);
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
        picture_text_to(cr, LEFT - TICK - 4, at + 4, 11, 0.6, text);
    }
}

static void place_axis(cairo_t *cr, const struct dia_rig_lane *lane, double y)
{
    double from = lane->layout.surface.start_um / 1e3;
    double length = (double)lane->layout.surface.count * lane->layout.surface.pitch_um / 1e3;
    double step = round_step(length);
    for (int i = 0; i * step <= length * 1.0001; i++) {
        char text[32];
        double at = LEFT + SPAN * (i * step) / length;
        snprintf(text, sizeof text, "%.6g mm", from + i * step);
        tick(cr, at, y, 0, TICK);
        if (at + 60 < PICTURE_WIDTH)
            picture_text(cr, at - 12, y + TICK + 13, 11, 0.6, text);
        else
            picture_text_to(cr, PICTURE_WIDTH - 12, y + TICK + 13, 11, 0.6, text);
    }
}

double picture_lane_in_time(cairo_t *cr, const struct dia_reel *reel, uint32_t number, double y)
{
    const struct dia_rig_lane *lane = &reel->rig->lanes[number];
    double height = reel->frames < HEIGHT ? HEIGHT : reel->frames;
    if (reel->frames < HEIGHT / 24)
        height = reel->frames * 24.0; /* few frames stay bands, not blocks */
    if (cr) {
        char title[160];
        snprintf(title, sizeof title, "%s: %u x %s", lane->name, (unsigned)lane->count,
                 lane->part.name);
        picture_text(cr, PICTURE_MARGIN, y + 22, 13, 0.8, title);
        paint(cr, reel, number, y + 36, height);
        time_axis(cr, reel, y + 36, height);
        place_axis(cr, lane, y + 36 + height);
    }
    return y + 36 + height + 40;
}
