/* SPDX-License-Identifier: MIT */
#include <math.h>
#include <stdlib.h>

#include "light.h"
#include "picture.h"

/*
 * The desk: every lane and device where it is, to one scale. What does not say where it is lies in
 * rows below the others. First the things are drawn as they are without light, then all that is lit
 * by itself; of that comes the glow.
 */
#define BETWEEN 30.0 /* mm from one thing to the next where the file does not say */

/* How far light spreads and how much of it: in the package, over the board, over the desk. A glow
 * is no smaller than so many pixels, so that it shows on pictures of large rigs too. All of it is a
 * choice, made by eye. */
static const struct {
    double mm, least_pixels, gain;
} glows[] = {{2.5, 0.9, 0.9}, {9, 3, 0.9}, {40, 14, 1.1}};
#define GLOWS (sizeof glows / sizeof glows[0])

struct thing {
    struct view view;
    const char *name;
    const struct dia_rig_device *device; /* NULL: a lane */
    uint32_t number;
    double x, y, width, height; /* mm; as it lies */
    uint8_t turn;
};

struct desk {
    struct thing things[DIA_RIG_LANES + DIA_RIG_DEVICES];
    uint32_t count;
    double left, top, width, height; /* mm */
};

static void free_desk(struct desk *desk)
{
    for (uint32_t i = 0; i < desk->count; i++)
        dia_view_free(&desk->things[i].view);
    free(desk);
}

static struct thing *new_thing(struct desk *desk, const char *name, const struct dia_rig_at *at)
{
    struct thing *thing = &desk->things[desk->count++];
    thing->name = name;
    thing->turn = at->turn;
    thing->x = at->given ? at->x_um / 1000.0 : NAN;
    thing->y = at->y_um / 1000.0;
    return thing;
}

static int collect(struct desk *desk, const struct dia_rig *rig)
{
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        struct thing *thing = new_thing(desk, rig->lanes[i].name, &rig->lanes[i].at);
        thing->number = i;
        dia_view_of_lane(&thing->view, rig, &rig->lanes[i]);
    }
    for (uint32_t i = 0; i < rig->device_count; i++) {
        struct thing *thing = new_thing(desk, rig->devices[i].name, &rig->devices[i].at);
        thing->number = i;
        thing->device = &rig->devices[i];
        dia_view_of_device(&thing->view, &rig->devices[i]);
    }
    for (uint32_t i = 0; i < desk->count; i++) {
        struct thing *thing = &desk->things[i];
        if (!thing->view.elements)
            return -1;
        thing->width = thing->turn % 2 ? thing->view.height : thing->view.width;
        thing->height = thing->turn % 2 ? thing->view.width : thing->view.height;
    }
    return 0;
}

/* What the desk reaches over, from those things that have a place. */
static void measure(struct desk *desk)
{
    double right = -1e9, bottom = -1e9;
    desk->left = desk->top = 1e9;
    for (uint32_t i = 0; i < desk->count; i++) {
        const struct thing *thing = &desk->things[i];
        if (isnan(thing->x))
            continue;
        desk->left = fmin(desk->left, thing->x);
        desk->top = fmin(desk->top, thing->y);
        right = fmax(right, thing->x + thing->width);
        bottom = fmax(bottom, thing->y + thing->height);
    }
    if (right < desk->left)
        desk->left = desk->top = right = bottom = 0;
    desk->width = right - desk->left;
    desk->height = bottom - desk->top;
}

/* Rows of those without a place, as wide as the widest thing or the desk so far. */
static void place_others(struct desk *desk)
{
    double widest = desk->width, left = desk->left, x = left, tallest = 0;
    double y = desk->top + desk->height + (desk->height > 0 ? BETWEEN : 0);
    for (uint32_t i = 0; i < desk->count; i++)
        widest = fmax(widest, desk->things[i].width);
    for (uint32_t i = 0; i < desk->count; i++) {
        struct thing *thing = &desk->things[i];
        if (!isnan(thing->x))
            continue;
        if (x > left && x + thing->width > left + widest) {
            x = left;
            y += tallest + BETWEEN;
            tallest = 0;
        }
        thing->x = x;
        thing->y = y;
        x += thing->width + BETWEEN;
        tallest = fmax(tallest, thing->height);
    }
}

static struct desk *lay_out(const struct dia_rig *rig)
{
    struct desk *desk = calloc(1, sizeof *desk);
    if (!desk)
        return NULL;
    if (collect(desk, rig) != 0) {
        free_desk(desk);
        return NULL;
    }
    measure(desk);
    place_others(desk);
    measure(desk);
    return desk;
}

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

/* Without its light. */
static void draw_body(cairo_t *cr, const struct thing *thing, const struct dia_rgb *seen,
                      const uint8_t (*drive)[4])
{
    static const struct dia_rgb board = {25, 26, 30}, dark = {0, 0, 0};
    stand_at(cr, thing);
    colour(cr, thing->device ? dia_view_ground(thing->device) : board);
    cairo_rectangle(cr, 0, 0, thing->view.width, thing->view.height);
    cairo_fill(cr);
    for (uint32_t i = 0; i < thing->view.count; i++) {
        const struct view_element *e = &thing->view.elements[i];
        if (e->shape == VIEW_CELL || e->w <= 0)
            continue;
        dia_picture_outline(cr, e, e->x, e->y, 1);
        cairo_set_source_rgb(cr, dia_picture_channel(e, dark.r), dia_picture_channel(e, dark.g),
                             dia_picture_channel(e, dark.b));
        cairo_fill(cr);
    }
    if (thing->device && dia_rig_lies(thing->device) == DIA_LIES_CELLS)
        dia_picture_cells(cr, &thing->view, drive, seen[0], 0, 0, 1);
    cairo_restore(cr);
}

/* Its light alone. */
static void draw_light(cairo_t *cr, const struct thing *thing, const struct dia_rgb *seen)
{
    stand_at(cr, thing);
    for (uint32_t i = 0; i < thing->view.count; i++) {
        const struct view_element *e = &thing->view.elements[i];
        if (e->shape == VIEW_CELL || (seen[i].r | seen[i].g | seen[i].b) == 0)
            continue;
        colour(cr, seen[i]);
        dia_picture_outline(cr, e, e->x, e->y, 1);
        cairo_fill(cr);
    }
    cairo_restore(cr);
}

static void name_it(cairo_t *cr, const struct desk *desk, const struct thing *thing, double scale,
                    double top)
{
    double x = PICTURE_MARGIN + (thing->x - desk->left) * scale;
    double y = top + (thing->y - desk->top) * scale;
    dia_picture_text(cr, x, y - 4, 11, 0.5, thing->name);
}

static int draw_things(const struct desk *desk, const struct dia_reel *reel, cairo_t *ground,
                       cairo_t *lit)
{
    for (uint32_t i = 0; i < desk->count; i++) {
        const struct thing *thing = &desk->things[i];
        struct dia_rgb *seen = thing->device ? dia_picture_seen_device(reel, 0, thing->number)
                                             : dia_picture_seen_lane(reel, 0, thing->number);
        if (!seen)
            return -1;
        draw_body(ground, thing, seen,
                  thing->device ? dia_reel_device(reel, 0, thing->number) : NULL);
        draw_light(lit, thing, seen);
        free(seen);
    }
    return 0;
}

/* Ground and light together, into the ground. */
static int shine(cairo_surface_t *ground, cairo_surface_t *lit, double scale)
{
    struct light all = {0}, light = {0};
    int failed = dia_light_take(&all, ground) != 0 || dia_light_take(&light, lit) != 0;
    if (!failed)
        dia_light_add(&all, &light);
    for (size_t k = 0; k < GLOWS && !failed; k++)
        failed = dia_light_add_glow(&all, &light, fmax(glows[k].mm * scale, glows[k].least_pixels),
                                    glows[k].gain) != 0;
    if (!failed)
        dia_light_put(&all, ground);
    dia_light_free(&all);
    dia_light_free(&light);
    return failed ? -1 : 0;
}

static int paint(const struct desk *desk, const struct dia_reel *reel, cairo_surface_t *ground,
                 cairo_surface_t *lit, double scale, double margin, double top)
{
    cairo_t *on[2] = {cairo_create(ground), cairo_create(lit)};
    cairo_set_source_rgb(on[0], 0.055, 0.06, 0.075);
    cairo_paint(on[0]);
    for (int k = 0; k < 2; k++) {
        cairo_translate(on[k], margin, top);
        cairo_scale(on[k], scale, scale);
        cairo_translate(on[k], -desk->left, -desk->top);
    }
    int failed = draw_things(desk, reel, on[0], on[1]) != 0;
    for (int k = 0; k < 2; k++) {
        failed |= cairo_status(on[k]) != CAIRO_STATUS_SUCCESS;
        cairo_destroy(on[k]);
    }
    return failed || shine(ground, lit, scale) != 0 ? -1 : 0;
}

cairo_surface_t *dia_picture_of_desk(const struct dia_reel *reel, int width, int headed)
{
    struct desk *desk = lay_out(reel->rig);
    if (!desk)
        return NULL;
    double margin = headed ? PICTURE_MARGIN : width / 32.0;
    double top = headed ? PICTURE_HEADER + 30 : margin;
    double scale = (width - 2 * margin) / fmax(desk->width, 1);
    int height = (int)fmin(top + desk->height * scale + margin, PICTURE_TALLEST + 1);
    if (height > PICTURE_TALLEST) {
        free_desk(desk);
        return NULL;
    }
    cairo_surface_t *ground = cairo_image_surface_create(CAIRO_FORMAT_RGB24, width, height);
    cairo_surface_t *lit = cairo_image_surface_create(CAIRO_FORMAT_RGB24, width, height);
    int failed = paint(desk, reel, ground, lit, scale, margin, top) != 0;
    cairo_surface_destroy(lit);
    if (!failed && headed) {
        cairo_t *cr = cairo_create(ground);
        dia_picture_header(cr, reel, width);
        for (uint32_t i = 0; i < desk->count; i++)
            name_it(cr, desk, &desk->things[i], scale, top);
        cairo_destroy(cr);
    }
    free_desk(desk);
    if (!failed)
        return ground;
    cairo_surface_destroy(ground);
    return NULL;
}
