/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include "picture.h"

/* Things that are no line stand side by side, each as large as its part of the row allows. */
#define TALLEST 190
#define WIDEST  (PICTURE_WIDTH - 2 * PICTURE_MARGIN)
#define LEAST   150 /* wide, so that the title has room */

double dia_picture_view_scale(const struct view *view)
{
    double scale = TALLEST / view->height;
    if (scale > view->most)
        scale = view->most;
    return view->width * scale > WIDEST ? WIDEST / view->width : scale;
}

double dia_picture_view_width(const struct view *view)
{
    double width = view->width * dia_picture_view_scale(view);
    return width < LEAST ? LEAST : width;
}

void dia_picture_glow(cairo_t *cr, double x, double y, double radius, double strength,
                      struct dia_rgb seen)
{
    double r = seen.r / 255.0, g = seen.g / 255.0, b = seen.b / 255.0;
    cairo_pattern_t *pattern = cairo_pattern_create_radial(x, y, 0, x, y, radius);
    cairo_pattern_add_color_stop_rgba(pattern, 0.0, r, g, b, 0.5 * strength);
    cairo_pattern_add_color_stop_rgba(pattern, 0.3, r, g, b, 0.18 * strength);
    cairo_pattern_add_color_stop_rgba(pattern, 1.0, r, g, b, 0.0);
    cairo_set_source(cr, pattern);
    cairo_rectangle(cr, x - radius, y - radius, 2 * radius, 2 * radius);
    cairo_fill(cr);
    cairo_pattern_destroy(pattern);
}

static void bar(cairo_t *cr, double x, double y, double w, double h)
{
    double end = (w < h ? w : h) / 2;
    if (w > h) {
        cairo_move_to(cr, x - w / 2, y);
        cairo_line_to(cr, x - w / 2 + end, y - end);
        cairo_line_to(cr, x + w / 2 - end, y - end);
        cairo_line_to(cr, x + w / 2, y);
        cairo_line_to(cr, x + w / 2 - end, y + end);
        cairo_line_to(cr, x - w / 2 + end, y + end);
    } else {
        cairo_move_to(cr, x, y - h / 2);
        cairo_line_to(cr, x + end, y - h / 2 + end);
        cairo_line_to(cr, x + end, y + h / 2 - end);
        cairo_line_to(cr, x, y + h / 2);
        cairo_line_to(cr, x - end, y + h / 2 - end);
        cairo_line_to(cr, x - end, y - h / 2 + end);
    }
    cairo_close_path(cr);
}

/* From one corner to the other, as wide as a bar is. */
static void diagonal(cairo_t *cr, double x, double y, double w, double h)
{
    double thick = h * 0.34, left = x - w / 2, right = x + w / 2, top = y - h / 2,
           bottom = y + h / 2;
    cairo_move_to(cr, left, top);
    cairo_line_to(cr, left, top + thick);
    cairo_line_to(cr, right, bottom);
    cairo_line_to(cr, right, bottom - thick);
    cairo_close_path(cr);
}

void dia_picture_outline(cairo_t *cr, const struct view_element *e, double x, double y,
                         double scale)
{
    double w = e->w * scale, h = e->h * scale;
    if (e->shape == VIEW_ROUND)
        cairo_arc(cr, x, y, w / 2, 0, 6.2832);
    else if (e->shape == VIEW_BAR)
        bar(cr, x, y, w, h);
    else if (e->shape == VIEW_FALLS || e->shape == VIEW_RISES)
        diagonal(cr, x, y, e->shape == VIEW_FALLS ? w : -w, h);
    else
        cairo_rectangle(cr, x - w / 2, y - h / 2, w, h);
}

/* A dark lamp is still to be seen on its ground. */
double dia_picture_channel(const struct view_element *e, uint8_t code)
{
    double least = e->shape == VIEW_SQUARE ? 0 : 0.13;
    return code / 255.0 < least ? least : code / 255.0;
}

void dia_picture_view(cairo_t *cr, const struct view *view, const struct dia_rgb *seen,
                      struct dia_rgb ground, double left, double top)
{
    double scale = dia_picture_view_scale(view);
    cairo_set_source_rgb(cr, ground.r / 255.0, ground.g / 255.0, ground.b / 255.0);
    cairo_rectangle(cr, left, top, view->width * scale, view->height * scale);
    cairo_fill(cr);
    for (uint32_t i = 0; i < view->count; i++) {
        const struct view_element *e = &view->elements[i];
        if (e->shape == VIEW_CELL)
            continue;
        dia_picture_outline(cr, e, left + e->x * scale, top + e->y * scale, scale);
        cairo_set_source_rgb(cr, dia_picture_channel(e, seen[i].r),
                             dia_picture_channel(e, seen[i].g), dia_picture_channel(e, seen[i].b));
        cairo_fill(cr);
    }
    cairo_save(cr); /* glows stay inside the thing and a little around it */
    cairo_rectangle(cr, left - 12, top - 6, view->width * scale + 24, view->height * scale + 12);
    cairo_clip(cr);
    cairo_set_operator(cr, CAIRO_OPERATOR_ADD);
    for (uint32_t i = 0; i < view->count; i++) {
        const struct view_element *e = &view->elements[i];
        double size = (e->w > e->h ? e->w : e->h) * scale;
        if (e->shape == VIEW_CELL || (seen[i].r | seen[i].g | seen[i].b) == 0)
            continue;
        dia_picture_glow(cr, left + e->x * scale, top + e->y * scale,
                         size * (e->shape == VIEW_SQUARE ? 2.2 : 1.2),
                         e->shape == VIEW_SQUARE ? 1 : 0.6, seen[i]);
    }
    cairo_restore(cr);
}

/* The dots of what a cell shows. 0: nobody has them, so it is written. */
static int dots_of(const struct dia_reel *reel, uint16_t sign, uint8_t rows[8])
{
    if (sign >= DIA_REEL_GLYPH && sign - DIA_REEL_GLYPH < reel->glyph_count) {
        memcpy(rows, reel->glyphs[sign - DIA_REEL_GLYPH], 8);
        return 1;
    }
    return dia_letters_rows(&dia_face_cell, sign, rows);
}

/* Five by eight of them, with gaps as a display has them. */
static void put_dots(cairo_t *cr, const uint8_t rows[8], double x, double y, double w, double h)
{
    double across = w / 5, down = h / 8;
    for (int row = 0; row < 8; row++) {
        for (int k = 0; k < 5; k++) {
            if (rows[row] >> (4 - k) & 1)
                cairo_rectangle(cr, x - w / 2 + k * across, y - h / 2 + row * down, across * 0.92,
                                down * 0.92);
        }
    }
    cairo_fill(cr);
}

static void written(cairo_t *cr, uint16_t sign, double x, double y, double h)
{
    cairo_text_extents_t extents;
    char text[8];
    const char *shape = dia_utf8_of(sign, text);
    cairo_text_extents(cr, shape, &extents);
    cairo_move_to(cr, x - extents.x_advance / 2, y + h * 0.3);
    cairo_show_text(cr, shape);
}

static void cell(cairo_t *cr, const struct dia_reel *reel, const uint8_t drive[4], double x,
                 double y, double w, double h)
{
    uint16_t sign = (uint16_t)(drive[2] << 8 | drive[3]);
    uint8_t rows[8];
    if (drive[1] & (DIA_CELL_SOLID | DIA_CELL_BLOCK)) {
        cairo_rectangle(cr, x - w / 2, y - h / 2, w, h);
        cairo_fill(cr);
        return;
    }
    if (!(drive[1] & DIA_CELL_ON))
        return;
    if (dots_of(reel, sign, rows))
        put_dots(cr, rows, x, y, w, h);
    else
        written(cr, sign, x, y, h);
    if (drive[1] & DIA_CELL_UNDERLINE) {
        cairo_rectangle(cr, x - w / 2, y + h * 0.375, w, h * 0.115);
        cairo_fill(cr);
    }
}

void dia_picture_cells(cairo_t *cr, const struct view *view, const struct dia_reel *reel,
                       const uint8_t (*drive)[4], struct dia_rgb ink, double left, double top,
                       double scale)
{
    cairo_select_font_face(cr, "DejaVu Sans Mono", CAIRO_FONT_SLANT_NORMAL,
                           CAIRO_FONT_WEIGHT_NORMAL);
    cairo_set_font_size(cr, view->elements[0].h * scale);
    for (uint32_t i = 0; i < view->count; i++) {
        const struct view_element *e = &view->elements[i];
        double x = left + e->x * scale, y = top + e->y * scale;
        cairo_set_source_rgba(cr, 0, 0, 0, 0.07); /* the dots that are not dark */
        cairo_rectangle(cr, x - e->w * scale / 2, y - e->h * scale / 2, e->w * scale, e->h * scale);
        cairo_fill(cr);
        cairo_set_source_rgb(cr, ink.r / 255.0, ink.g / 255.0, ink.b / 255.0);
        cell(cr, reel, drive[i], x, y, e->w * scale, e->h * scale);
    }
}
