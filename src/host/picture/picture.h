/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_PICTURE_H
#define DIA_HOST_PICTURE_H

#include <cairo.h>

#include <diachrome/reel.h>

#include "view.h"

/* Pictures are 1280 wide, as high as they need, on a dark ground. */
#define PICTURE_WIDTH  1280
#define PICTURE_MARGIN 40

/* One frame of a reel by itself. NULL: no memory, or too high. The caller destroys it. */
cairo_surface_t *picture_of_frame(const struct dia_reel *reel, uint32_t frame);

/* Text with its baseline at x, y; size in pixels, level 0..1 of white. */
void picture_text(cairo_t *cr, double x, double y, double size, double level, const char *text);

/* The same, ending at x. */
void picture_text_to(cairo_t *cr, double x, double y, double size, double level, const char *text);

/* One frame: draws from y downwards, or only measures when cr is NULL. Returns the next y. */
double picture_lane(cairo_t *cr, const struct dia_reel *reel, uint32_t lane, double y);

/* A light with its glow around it; strength 0..1. */
void picture_glow(cairo_t *cr, double x, double y, double radius, double strength,
                  struct dia_rgb seen);

/* A thing as it looks from the front, and how large that comes out, in pixels. */
void picture_view(cairo_t *cr, const struct view *view, const struct dia_rgb *seen,
                  struct dia_rgb ground, double left, double top);

/* The characters on its cells, from the drives of a reel. */
void picture_cells(cairo_t *cr, const struct view *view, const uint8_t (*drive)[4],
                   struct dia_rgb ink, double left, double top);
double picture_view_scale(const struct view *view);
double picture_view_width(const struct view *view);

/* All frames of a lane, time downwards; the same way. */
double picture_lane_in_time(cairo_t *cr, const struct dia_reel *reel, uint32_t lane, double y);

/* The same for lamps in a line. */
double picture_lamps_in_time(cairo_t *cr, const struct dia_reel *reel, uint32_t device, double y);

#endif
