/* SPDX-License-Identifier: MIT */
#include <math.h>
#include <stdlib.h>
#include <string.h>

#include "camera.h"
#include "light.h"
#include "masks.h"
#include "picture.h"
#include "things.h"

/*
 * The desk: every lane and device to one scale. What does not change is drawn once: the things as
 * they are without light, and what each element covers. Then each frame has its light, and the glow
 * of that.
 */

/* How far light spreads and how much of it: in the package, over the board, over the desk. A glow
 * is no smaller than so many pixels, so that it shows on pictures of large rigs too. All of it is a
 * choice, made by eye. */
static const struct {
    double mm, least_pixels, gain;
} glows[] = {{2.5, 0.9, 0.9}, {9, 3, 0.9}, {40, 14, 1.1}};
_Static_assert(sizeof glows / sizeof glows[0] == SHINE_GLOWS, "all of them are drawn");

/* From here on, millimetres of the thing itself are drawn. */
static void stand_at(cairo_t *cr, const struct thing *thing)
{
    cairo_save(cr);
    cairo_translate(cr, thing->x, thing->y);
    if (thing->turn == 1)
        cairo_translate(cr, thing->width, 0);
    else if (thing->turn == 2)
        cairo_translate(cr, thing->width, thing->height);
    else if (thing->turn == 3)
        cairo_translate(cr, 0, thing->height);
    cairo_rotate(cr, thing->turn * acos(-1.0) / 2);
}

static void colour(cairo_t *cr, struct dia_rgb c)
{
    cairo_set_source_rgb(cr, c.r / 255.0, c.g / 255.0, c.b / 255.0);
}

/* Without its light, and without what changes on it. */
static void draw_body(cairo_t *cr, const struct thing *thing)
{
    static const struct dia_rgb board = {25, 26, 30};
    stand_at(cr, thing);
    colour(cr, thing->device ? dia_view_ground(thing->device) : board);
    cairo_rectangle(cr, 0, 0, thing->view.width, thing->view.height);
    cairo_fill(cr);
    for (uint32_t i = 0; i < thing->view.count; i++) {
        const struct view_element *e = &thing->view.elements[i];
        double dark = dia_picture_channel(e, 0);
        if (e->shape == VIEW_CELL || e->w <= 0)
            continue;
        dia_picture_outline(cr, e, e->x, e->y, 1);
        cairo_set_source_rgb(cr, dark, dark, dark);
        cairo_fill(cr);
    }
    cairo_restore(cr);
}

static int has_cells(const struct thing *thing)
{
    return thing->device && dia_rig_lies(thing->device) == DIA_LIES_CELLS;
}

/* ---- frame after frame ----------------------------------------------------------------------- */

struct dia_painter {
    struct desk *desk;
    double margin, top, scale;
    int width, height, headed;
    struct shine *shine;
    cairo_surface_t *bodies; /* what never changes */
    cairo_surface_t *ground; /* the same with what stands on the cells */
    cairo_surface_t *picture;
    struct masks masks[DIA_RIG_LANES + DIA_RIG_DEVICES]; /* of the elements of each thing */
    uint8_t (*cells)[4]; /* what stands on them, display after display */
    int any_cells;       /* 0: before the first frame */
};

/* From here on, millimetres of the desk are drawn. */
static cairo_t *begin(const struct dia_painter *painter, cairo_surface_t *on)
{
    cairo_t *cr = cairo_create(on);
    cairo_translate(cr, painter->margin, painter->top);
    cairo_scale(cr, painter->scale, painter->scale);
    cairo_translate(cr, -painter->desk->left, -painter->desk->top);
    return cr;
}

static int end(cairo_t *cr)
{
    int failed = cairo_status(cr) != CAIRO_STATUS_SUCCESS;
    cairo_destroy(cr);
    return failed ? -1 : 0;
}

static int draw_bodies(struct dia_painter *painter)
{
    cairo_t *cr = cairo_create(painter->bodies);
    cairo_set_source_rgb(cr, 0.055, 0.06, 0.075);
    cairo_paint(cr);
    cairo_destroy(cr);
    cr = begin(painter, painter->bodies);
    for (uint32_t i = 0; i < painter->desk->count; i++)
        draw_body(cr, &painter->desk->things[i]);
    return end(cr);
}

/* Keeps what stands on the cells. 1: it is not what stood there. */
static int cells_changed(struct dia_painter *painter, const struct dia_reel *reel)
{
    uint8_t(*kept)[4] = painter->cells;
    int changed = !painter->any_cells;
    for (uint32_t i = 0; i < painter->desk->count; i++) {
        const struct thing *thing = &painter->desk->things[i];
        if (!has_cells(thing))
            continue;
        const uint8_t(*drive)[4] = dia_reel_device(reel, 0, thing->number);
        size_t size = thing->view.count * sizeof *kept;
        changed |= memcmp(kept, drive, size) != 0;
        memcpy(kept, drive, size);
        kept += thing->view.count;
    }
    painter->any_cells = 1;
    return changed;
}

static int draw_ground(struct dia_painter *painter, const struct dia_reel *reel)
{
    static const struct dia_rgb ink = {16, 20, 14};
    if (!cells_changed(painter, reel))
        return 0;
    cairo_t *cr = cairo_create(painter->ground);
    cairo_set_source_surface(cr, painter->bodies, 0, 0);
    cairo_paint(cr);
    cairo_destroy(cr);
    cr = begin(painter, painter->ground);
    for (uint32_t i = 0; i < painter->desk->count; i++) {
        const struct thing *thing = &painter->desk->things[i];
        if (!has_cells(thing))
            continue;
        stand_at(cr, thing);
        dia_picture_cells(cr, &thing->view, reel, dia_reel_device(reel, 0, thing->number), ink, 0,
                          0, 1);
        cairo_restore(cr);
    }
    int failed = end(cr);
    dia_shine_ground(painter->shine, painter->ground);
    return failed;
}

/* What each element covers, drawn by itself on a small picture. */
static int draw_masks(struct dia_painter *painter)
{
    for (uint32_t i = 0; i < painter->desk->count; i++) {
        const struct thing *thing = &painter->desk->things[i];
        if (has_cells(thing))
            continue;
        cairo_t *cr = begin(painter, painter->picture);
        stand_at(cr, thing);
        int failed = dia_masks_draw(&painter->masks[i], cr, &thing->view, painter->width,
                                    painter->height) != 0;
        cairo_restore(cr);
        if (end(cr) != 0 || failed)
            return -1;
    }
    return 0;
}

static int light(struct dia_painter *painter, const struct dia_reel *reel)
{
    dia_shine_dark(painter->shine);
    for (uint32_t i = 0; i < painter->desk->count; i++) {
        const struct thing *thing = &painter->desk->things[i];
        if (has_cells(thing))
            continue;
        struct dia_rgb *seen = thing->device ? dia_picture_seen_device(reel, 0, thing->number)
                                             : dia_picture_seen_lane(reel, 0, thing->number);
        if (!seen)
            return -1;
        for (uint32_t k = 0; k < thing->view.count; k++) {
            struct shine_lamp lamp = dia_masks_lamp(&painter->masks[i], k);
            struct camera_lamp taken;
            if ((seen[k].r | seen[k].g | seen[k].b) == 0)
                continue;
            if (reel->shutter_us == 0) {
                dia_shine_light(painter->shine, &lamp, seen[k]);
                continue;
            }
            if (thing->device)
                dia_camera_of_lamp(&taken, reel, thing->number, k, seen[k], painter->height);
            else
                dia_camera_of_pixel(&taken, reel, thing->number, k, painter->height);
            dia_shine_light_rows(painter->shine, &lamp, dia_camera_row, &taken);
        }
        free(seen);
    }
    return 0;
}

static void name_it(cairo_t *cr, const struct dia_painter *painter, const struct thing *thing)
{
    double x = painter->margin + (thing->x - painter->desk->left) * painter->scale;
    double y = painter->top + (thing->y - painter->desk->top) * painter->scale;
    dia_picture_text(cr, x, y - 4, 11, 0.5, thing->name);
}

cairo_surface_t *dia_painter_paint(struct dia_painter *painter, const struct dia_reel *reel)
{
    if (draw_ground(painter, reel) != 0 || light(painter, reel) != 0)
        return NULL;
    dia_shine_draw(painter->shine, painter->picture);
    if (painter->headed) {
        cairo_t *cr = cairo_create(painter->picture);
        dia_picture_header(cr, reel, painter->width);
        for (uint32_t i = 0; i < painter->desk->count; i++)
            name_it(cr, painter, &painter->desk->things[i]);
        if (end(cr) != 0)
            return NULL;
    }
    cairo_surface_flush(painter->picture);
    return painter->picture;
}

static cairo_surface_t *surface(const struct dia_painter *painter)
{
    return cairo_image_surface_create(CAIRO_FORMAT_RGB24, painter->width, painter->height);
}

static int make(struct dia_painter *painter)
{
    struct shine_glow spreads[SHINE_GLOWS];
    uint32_t cells = 0;
    for (size_t k = 0; k < SHINE_GLOWS; k++)
        spreads[k] = (struct shine_glow){fmax(glows[k].mm * painter->scale, glows[k].least_pixels),
                                         glows[k].gain};
    for (uint32_t i = 0; i < painter->desk->count; i++)
        cells += has_cells(&painter->desk->things[i]) ? painter->desk->things[i].view.count : 0;
    painter->shine = dia_shine_new(painter->width, painter->height, spreads);
    painter->cells = calloc(cells + 1, sizeof *painter->cells);
    painter->bodies = surface(painter);
    painter->ground = surface(painter);
    painter->picture = surface(painter);
    return painter->shine && painter->cells && draw_bodies(painter) == 0 ? draw_masks(painter) : -1;
}

struct dia_painter *dia_painter_new(const struct dia_rig *rig, int width, int headed)
{
    struct dia_painter *painter = calloc(1, sizeof *painter);
    if (!painter)
        return NULL;
    painter->desk = dia_things_lay_out(rig);
    if (painter->desk) {
        const struct desk *desk = painter->desk;
        painter->width = width;
        painter->headed = headed;
        painter->margin = headed ? PICTURE_MARGIN : width / 32.0;
        painter->top = headed ? PICTURE_HEADER + 30 : painter->margin;
        painter->scale = (width - 2 * painter->margin) / fmax(desk->width, 1);
        painter->height = (int)fmin(painter->top + desk->height * painter->scale + painter->margin,
                                    PICTURE_TALLEST + 1);
    }
    if (painter->desk && painter->height <= PICTURE_TALLEST && make(painter) == 0)
        return painter;
    dia_painter_free(painter);
    return NULL;
}

void dia_painter_free(struct dia_painter *painter)
{
    if (!painter)
        return;
    if (painter->desk)
        dia_things_free(painter->desk);
    dia_shine_free(painter->shine);
    free(painter->cells);
    cairo_surface_destroy(painter->bodies);
    cairo_surface_destroy(painter->ground);
    for (size_t k = 0; k < sizeof painter->masks / sizeof painter->masks[0]; k++)
        dia_masks_free(&painter->masks[k]);
    cairo_surface_destroy(painter->picture);
    free(painter);
}

cairo_surface_t *dia_picture_of_desk(const struct dia_reel *reel, int width, int headed)
{
    struct dia_painter *painter = dia_painter_new(reel->rig, width, headed);
    cairo_surface_t *picture = painter ? dia_painter_paint(painter, reel) : NULL;
    if (picture)
        cairo_surface_reference(picture);
    dia_painter_free(painter);
    return picture;
}
