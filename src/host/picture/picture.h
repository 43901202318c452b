/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_PICTURE_H
#define DIA_HOST_PICTURE_H

#include <cairo.h>

#include <diachrome/reel.h>

#include "view.h"

/* Pictures are 1280 wide, as high as they need, on a dark ground. */
#define PICTURE_WIDTH  1280
#define PICTURE_MARGIN 40

/* Writes a picture as PNG, whole or not at all. */
enum dia_status dia_picture_save(cairo_surface_t *surface, const char *path,
                                 struct dia_diagnostic *wrong);

/* One frame of a reel by itself. NULL: no memory, or too high. The caller destroys it. */
cairo_surface_t *dia_picture_of_frame(const struct dia_reel *reel, uint32_t frame);

/* Text with its baseline at x, y; size in pixels, level 0..1 of white. */
void dia_picture_text(cairo_t *cr, double x, double y, double size, double level, const char *text);

/* The same, ending at x. */
void dia_picture_text_to(cairo_t *cr, double x, double y, double size, double level,
                         const char *text);

/* One frame: draws from y downwards, or only measures when cr is NULL. Returns the next y. */
double dia_picture_lane(cairo_t *cr, const struct dia_reel *reel, uint32_t lane, double y);

/* A light with its glow around it; strength 0..1. */
void dia_picture_glow(cairo_t *cr, double x, double y, double radius, double strength,
                      struct dia_rgb seen);

/* The shape of an element around x, y, as a path. */
void dia_picture_outline(cairo_t *cr, const struct view_element *e, double x, double y,
                         double scale);

/* A channel of an element, 0..1: a dark lamp is still to be seen on its ground. */
double dia_picture_channel(const struct view_element *e, uint8_t code);

/* A thing as it looks from the front, and how large that comes out, in pixels. */
void dia_picture_view(cairo_t *cr, const struct view *view, const struct dia_rgb *seen,
                      struct dia_rgb ground, double left, double top);

/* The characters on its cells, from the drives of a reel. */
void dia_picture_cells(cairo_t *cr, const struct view *view, const struct dia_reel *reel,
                       const uint8_t (*drive)[4], struct dia_rgb ink, double left, double top,
                       double scale);

double dia_picture_view_scale(const struct view *view);
double dia_picture_view_width(const struct view *view);

/*
 * The whole rig to scale, as it is on the desk, in the first frame of a reel: width pixels wide, as
 * high as it needs, with what it is at the top where headed. NULL: no memory, or too high.
 */
cairo_surface_t *dia_picture_of_desk(const struct dia_reel *reel, int width, int headed);

/* The same, frame after frame of one rig: what does not change is drawn once. The picture is the
 * painter's, until it paints the next. NULL: no memory, or too high. */
struct dia_painter;
struct dia_painter *dia_painter_new(const struct dia_rig *rig, int width, int headed);
cairo_surface_t *dia_painter_paint(struct dia_painter *painter, const struct dia_reel *reel);
void dia_painter_free(struct dia_painter *painter);

/* A reel of one frame of another; it owns nothing. */
struct dia_reel dia_picture_one(const struct dia_reel *reel, uint32_t frame);

/* What is at the top of each picture of that width. */
void dia_picture_header(cairo_t *cr, const struct dia_reel *reel, double width);
#define PICTURE_HEADER  76
#define PICTURE_TALLEST 32000

/* What an eye sees of each element of a lane or device in a frame, on the heap; NULL: no memory. */
struct dia_rgb *dia_picture_seen_lane(const struct dia_reel *reel, uint32_t frame, uint32_t lane);
struct dia_rgb *dia_picture_seen_device(const struct dia_reel *reel, uint32_t frame,
                                        uint32_t device);

/* All frames of a lane, time downwards; the same way. */
double dia_picture_lane_in_time(cairo_t *cr, const struct dia_reel *reel, uint32_t lane, double y);

/* The same for lamps in a line. */
double dia_picture_lamps_in_time(cairo_t *cr, const struct dia_reel *reel, uint32_t device,
                                 double y);

#endif
