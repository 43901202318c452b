/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <diachrome/quantity.h>

#include "picture.h"

/*
 * A lane that is a line: a dark band with the pixels on it to scale, each a small square with a
 * glow around it; glows add up as light does. Long lanes go on in the next row.
 */
#define PER_ROW 120
#define ROWS    20 /* from there on rows get longer, down to a dot a pixel */
#define SPAN    (PICTURE_WIDTH - 2 * PICTURE_MARGIN)

static void pixel(cairo_t *cr, double x, double y, double size, struct dia_rgb seen)
{
    cairo_set_operator(cr, CAIRO_OPERATOR_OVER);
    cairo_set_source_rgb(cr, seen.r / 255.0, seen.g / 255.0, seen.b / 255.0);
    cairo_rectangle(cr, x - size / 2, y - size / 2, size, size);
    cairo_fill(cr);
}

static void band(cairo_t *cr, double y, double width, double height)
{
    cairo_set_source_rgb(cr, 0.1, 0.105, 0.12);
    cairo_rectangle(cr, PICTURE_MARGIN, y - height / 2, width, height);
    cairo_fill(cr);
}

static struct dia_rgb seen_at(const struct dia_rig_lane *lane, const uint8_t (*drive)[4],
                              uint32_t place)
{
    return dia_seen(drive + dia_rig_pixel_at(lane, place), 1, dia_scale_of(&lane->part));
}

/* n places of a lane, from the first. */
static void row(cairo_t *cr, const struct dia_rig_lane *lane, const uint8_t (*drive)[4],
                uint32_t first, uint32_t n, double cell, double y)
{
    double size = cell * 0.5 < 12 ? cell * 0.5 : 12;
    double reach = cell * 2.2 < 26 ? cell * 2.2 : 26;
    band(cr, y, n * cell, size * 2);
    for (uint32_t i = 0; i < n; i++)
        pixel(cr, PICTURE_MARGIN + (i + 0.5) * cell, y, size, seen_at(lane, drive, first + i));
    cairo_set_operator(cr, CAIRO_OPERATOR_ADD);
    for (uint32_t i = 0; i < n; i++)
        dia_picture_glow(cr, PICTURE_MARGIN + (i + 0.5) * cell, y, reach, 1,
                         seen_at(lane, drive, first + i));
    cairo_set_operator(cr, CAIRO_OPERATOR_OVER);
}

static void ends(cairo_t *cr, const struct dia_rig_lane *lane, uint32_t first, uint32_t n,
                 double width, double y)
{
    char text[80], place[40];
    dia_quantity_write(dia_surface_place_um(&lane->layout.surface, first), DIA_LENGTH, place,
                       sizeof place);
    snprintf(text, sizeof text, "pixel %u, %s", (unsigned)dia_rig_pixel_at(lane, first), place);
    dia_picture_text(cr, PICTURE_MARGIN, y, 11, 0.45, text);
    if (n < 12)
        return; /* no room for both ends */
    dia_quantity_write(dia_surface_place_um(&lane->layout.surface, first + n - 1), DIA_LENGTH,
                       place, sizeof place);
    snprintf(text, sizeof text, "pixel %u, %s", (unsigned)dia_rig_pixel_at(lane, first + n - 1),
             place);
    dia_picture_text_to(cr, PICTURE_MARGIN + width, y, 11, 0.45, text);
}

static uint32_t row_length(uint32_t count)
{
    uint32_t length = (count + ROWS - 1) / ROWS;
    length = length < PER_ROW ? PER_ROW : length > SPAN ? SPAN : length;
    return count < length ? count : length;
}

double dia_picture_lane(cairo_t *cr, const struct dia_reel *reel, uint32_t number, double y)
{
    const struct dia_rig_lane *lane = &reel->rig->lanes[number];
    const uint8_t(*drive)[4] = dia_reel_lane(reel, 0, number);
    uint32_t per_row = row_length(lane->count);
    double cell = (double)SPAN / per_row;
    if (cell > 60)
        cell = 60;
    if (cr) {
        char title[160];
        snprintf(title, sizeof title, "%s: %u x %s", lane->name, (unsigned)lane->count,
                 lane->part.name);
        dia_picture_text(cr, PICTURE_MARGIN, y + 22, 13, 0.8, title);
    }
    y += 62;
    for (uint32_t first = 0; first < lane->count; first += per_row, y += 76) {
        uint32_t n = lane->count - first < per_row ? lane->count - first : per_row;
        if (cr) {
            row(cr, lane, drive, first, n, cell, y);
            ends(cr, lane, first, n, n * cell, y + 38);
        }
    }
    return y;
}
