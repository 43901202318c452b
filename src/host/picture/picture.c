/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <stdio.h>
#include <stdlib.h>

#include "host_private.h"
#include "picture.h"

#define MOST_FRAMES 4000

/* A row of things side by side. */
struct flow {
    double x, y, bottom;
};

static void end_row(struct flow *flow)
{
    flow->y = flow->bottom;
    flow->x = PICTURE_MARGIN;
}

/* Room for the next thing, in a new row where this one is full. */
static void make_room(struct flow *flow, const struct view *view, double *left, double *top)
{
    double width = dia_picture_view_width(view),
           height = view->height * dia_picture_view_scale(view);
    if (flow->x + width > PICTURE_WIDTH - PICTURE_MARGIN)
        end_row(flow);
    *left = flow->x;
    *top = flow->y + 36;
    flow->x += width + 36;
    if (flow->y + height + 60 > flow->bottom)
        flow->bottom = flow->y + height + 60;
}

static int lane_tile(cairo_t *cr, struct flow *flow, const struct dia_reel *reel, uint32_t number)
{
    static const struct dia_rgb ground = {22, 23, 27};
    const struct dia_rig_lane *lane = &reel->rig->lanes[number];
    char title[160];
    struct view view;
    double left, top;
    struct dia_rgb *seen = dia_picture_seen_lane(reel, 0, number);
    dia_view_of_lane(&view, reel->rig, lane);
    int there = seen && view.elements;
    if (there) {
        make_room(flow, &view, &left, &top);
        if (cr) {
            snprintf(title, sizeof title, "%s: %u x %s", lane->name, (unsigned)lane->count,
                     lane->part.name);
            dia_picture_text(cr, left, top - 14, 13, 0.8, title);
            dia_picture_view(cr, &view, seen, ground, left, top);
        }
    }
    dia_view_free(&view);
    free(seen);
    return there ? 0 : -1;
}

static void paint_device(cairo_t *cr, const struct dia_reel *reel,
                         const struct dia_rig_device *device, const struct view *view,
                         const uint8_t (*drive)[4], const struct dia_rgb *seen, double left,
                         double top)
{
    char title[160];
    dia_rig_title(device, title, sizeof title);
    dia_picture_text(cr, left, top - 14, 13, 0.8, title);
    dia_picture_view(cr, view, seen, dia_view_ground(device), left, top);
    if (dia_rig_lies(device) == DIA_LIES_CELLS)
        dia_picture_cells(cr, view, reel, drive, seen[0], left, top, dia_picture_view_scale(view));
}

static int device_tile(cairo_t *cr, struct flow *flow, const struct dia_reel *reel, uint32_t number)
{
    const struct dia_rig_device *device = &reel->rig->devices[number];
    const uint8_t(*drive)[4] = dia_reel_device(reel, 0, number);
    struct view view;
    double left, top;
    struct dia_rgb *seen = dia_picture_seen_device(reel, 0, number);
    dia_view_of_device(&view, device);
    int there = seen && view.elements;
    if (there)
        make_room(flow, &view, &left, &top);
    if (there && cr)
        paint_device(cr, reel, device, &view, drive, seen, left, top);
    dia_view_free(&view);
    free(seen);
    return there ? 0 : -1;
}

/* One frame: lines over the whole width, the others side by side. */
static double draw_frame(cairo_t *cr, const struct dia_reel *reel)
{
    struct flow flow = {PICTURE_MARGIN, PICTURE_HEADER, PICTURE_HEADER};
    for (uint32_t lane = 0; lane < reel->rig->lane_count; lane++) {
        const struct dia_rig_layout *layout = &reel->rig->lanes[lane].layout;
        if (layout->shape == DIA_SHAPE_LINE && layout->gap_count == 0) {
            end_row(&flow);
            flow.bottom = dia_picture_lane(cr, reel, lane, flow.y);
            end_row(&flow);
        } else if (lane_tile(cr, &flow, reel, lane) != 0) {
            return -1;
        }
    }
    for (uint32_t i = 0; i < reel->rig->device_count; i++) {
        if (device_tile(cr, &flow, reel, i) != 0)
            return -1;
    }
    end_row(&flow);
    return flow.y;
}

/* Returns the height, or -1 when memory ran out. */
static double draw(cairo_t *cr, const struct dia_reel *reel)
{
    double y = PICTURE_HEADER;
    if (reel->frames == 1)
        return draw_frame(cr, reel);
    for (uint32_t lane = 0; lane < reel->rig->lane_count; lane++)
        y = dia_picture_lane_in_time(cr, reel, lane, y);
    for (uint32_t i = 0; i < reel->rig->device_count; i++) {
        if (dia_rig_lies(&reel->rig->devices[i]) == DIA_LIES_LINE)
            y = dia_picture_lamps_in_time(cr, reel, i, y);
    }
    return y + PICTURE_MARGIN / 2.0;
}

/* The reel, or one frame of it, on a ground of its own. NULL: no memory. */
static cairo_surface_t *paint(const struct dia_reel *reel, int height)
{
    cairo_surface_t *surface =
        cairo_image_surface_create(CAIRO_FORMAT_RGB24, PICTURE_WIDTH, height);
    cairo_t *cr = cairo_create(surface);
    cairo_set_source_rgb(cr, 0.055, 0.06, 0.075);
    cairo_paint(cr);
    dia_picture_header(cr, reel, PICTURE_WIDTH);
    int failed = draw(cr, reel) < 0 || cairo_status(cr) != CAIRO_STATUS_SUCCESS;
    cairo_destroy(cr);
    if (!failed)
        return surface;
    cairo_surface_destroy(surface);
    return NULL;
}

struct dia_reel dia_picture_one(const struct dia_reel *reel, uint32_t frame)
{
    struct dia_reel one = *reel;
    one.drive += (size_t)frame * reel->pixels;
    one.time_us += frame;
    one.gives_ua += frame;
    one.frames = 1;
    return one;
}

cairo_surface_t *dia_picture_of_frame(const struct dia_reel *reel, uint32_t frame)
{
    struct dia_reel one = dia_picture_one(reel, frame);
    if (reel->view == DIA_VIEW_DESK)
        return dia_picture_of_desk(&one, (int)reel->width, 1);
    int height = (int)draw(NULL, &one);
    return height < 0 || height > PICTURE_TALLEST ? NULL : paint(&one, height);
}

static cairo_status_t put(void *file, const unsigned char *bytes, unsigned int n)
{
    return fwrite(bytes, 1, n, file) == n ? CAIRO_STATUS_SUCCESS : CAIRO_STATUS_WRITE_ERROR;
}

enum dia_status dia_picture_save(cairo_surface_t *surface, const char *path,
                                 struct dia_diagnostic *wrong)
{
    struct host_output out;
    enum dia_status status = dia_host_output_open(&out, path, wrong);
    if (status != DIA_OK)
        return status;
    if (cairo_surface_write_to_png_stream(surface, put, out.file) != CAIRO_STATUS_SUCCESS) {
        status = dia_host_failed(wrong, path, "cannot be written");
        dia_host_output_discard(&out);
        return status;
    }
    return dia_host_output_close(&out, wrong);
}

enum dia_status dia_reel_write_png(const struct dia_reel *reel, const char *path,
                                   struct dia_diagnostic *wrong)
{
    if (reel->frames > MOST_FRAMES)
        return dia_host_wrong(wrong, "a picture holds at most %d frames; these are %u", MOST_FRAMES,
                              (unsigned)reel->frames);
    int height = reel->frames > 1 ? (int)draw(NULL, reel) : 0;
    if (reel->frames > 1 && height <= PICTURE_HEADER + PICTURE_MARGIN)
        return dia_host_wrong(wrong,
                              "several frames are drawn for lanes and for lamps in a line; this "
                              "rig has none: render one frame, or a sheet");
    if (height > PICTURE_TALLEST)
        return dia_host_wrong(wrong, "the picture would be %d high; show fewer frames or lanes",
                              height);
    errno = ENOMEM;
    cairo_surface_t *surface =
        reel->frames > 1 ? paint(reel, height) : dia_picture_of_frame(reel, 0);
    if (!surface)
        return dia_host_failed(wrong, path, "cannot be drawn");
    enum dia_status status = dia_picture_save(surface, path, wrong);
    cairo_surface_destroy(surface);
    return status;
}
