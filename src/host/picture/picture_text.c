/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include <diachrome/quantity.h>

#include "picture.h"

void dia_picture_text(cairo_t *cr, double x, double y, double size, double level, const char *text)
{
    cairo_select_font_face(cr, "DejaVu Sans", CAIRO_FONT_SLANT_NORMAL, CAIRO_FONT_WEIGHT_NORMAL);
    cairo_set_font_size(cr, size);
    cairo_set_source_rgb(cr, level, level, level);
    cairo_move_to(cr, x, y);
    cairo_show_text(cr, text);
}

void dia_picture_text_to(cairo_t *cr, double x, double y, double size, double level,
                         const char *text)
{
    cairo_text_extents_t extents;
    cairo_select_font_face(cr, "DejaVu Sans", CAIRO_FONT_SLANT_NORMAL, CAIRO_FONT_WEIGHT_NORMAL);
    cairo_set_font_size(cr, size);
    cairo_text_extents(cr, text, &extents);
    dia_picture_text(cr, x - extents.x_advance, y, size, level, text);
}

static uint32_t most_given(const struct dia_reel *reel)
{
    uint32_t most = 0;
    for (uint32_t i = 0; i < reel->frames; i++)
        most = reel->gives_ua[i] > most ? reel->gives_ua[i] : most;
    return most;
}

/* "1.24 A", "17 mA", "0.4 mA": with what there is to tell of a small one. */
static void write_current(uint32_t ua, char *text, size_t size)
{
    if (ua >= 999500)
        snprintf(text, size, "%.2f A", ua / 1e6);
    else
        snprintf(text, size, "%.*f mA", ua != 0 && ua < 9950, ua / 1e3);
}

void dia_picture_header(cairo_t *cr, const struct dia_reel *reel, double width)
{
    char line[160], from[40], to[40], current[40];
    uint64_t last_us = reel->time_us[reel->frames - 1];
    dia_quantity_write((int64_t)(reel->time_us[0] / 1000), DIA_TIME, from, sizeof from);
    dia_quantity_write((int64_t)(last_us / 1000), DIA_TIME, to, sizeof to);
    dia_picture_text(cr, PICTURE_MARGIN, 40, 18, 0.92, reel->rig->name);
    if (reel->frames == 1)
        snprintf(line, sizeof line, "%s at %s", reel->look, from);
    else
        snprintf(line, sizeof line, "%s from %s to %s, %u frames", reel->look, from, to,
                 (unsigned)reel->frames);
    if (reel->shutter_us)
        snprintf(line + strlen(line), sizeof line - strlen(line), ", a camera's shutter of %.3g ms",
                 reel->shutter_us / 1e3);
    dia_picture_text(cr, PICTURE_MARGIN, 62, 13, 0.6, line);
    write_current(most_given(reel), current, sizeof current);
    snprintf(line, sizeof line, "%s %s from %s", reel->frames == 1 ? "draws" : "draws up to",
             current, reel->supplies == 1 ? "the supply" : "the supplies");
    dia_picture_text_to(cr, width - PICTURE_MARGIN, 62, 13, 0.6, line);
}
