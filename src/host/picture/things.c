/* SPDX-License-Identifier: MIT */
#include <math.h>
#include <stdlib.h>

#include "things.h"

#define BETWEEN 30.0 /* mm from one thing to the next where the file does not say */

void dia_things_free(struct desk *desk)
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

struct desk *dia_things_lay_out(const struct dia_rig *rig)
{
    struct desk *desk = calloc(1, sizeof *desk);
    if (!desk)
        return NULL;
    if (collect(desk, rig) != 0) {
        dia_things_free(desk);
        return NULL;
    }
    measure(desk);
    place_others(desk);
    measure(desk);
    return desk;
}
