/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include <diachrome/rig_layer.h>

#include "play_layers.h"
#include "play_pictures.h"
#include "player_private.h"

/* A part at work: a look that sees the whole of what it is joined to, and renders a stretch. */
struct joined {
    const struct dia_look *look;
    const void *values;
    struct dia_surface whole;
    uint32_t offset;
};

static void render_joined(const void *values, const struct dia_surface *surface, uint32_t ms,
                          uint32_t first, uint32_t n, struct dia_rgb *out)
{
    const struct joined *part = values;
    (void)surface;
    part->look->render(part->values, &part->whole, ms, part->offset + first, n, out);
}

/* Where a layer shows a sprite. */
struct shown_sprite {
    struct dia_sprite sprite;
    struct dia_figure figure;
    struct dia_drawing drawing;
};

#define MOST_PARTS 255 /* of all layers on one thing; a stack holds no more */

struct stacked {
    struct dia_layer layers[MOST_PARTS];
    struct dia_surface surfaces[MOST_PARTS];
    struct joined joined[MOST_PARTS];
    union dia_look_values values[MOST_PARTS];
    struct shown_sprite sprites[MOST_PARTS];
    struct play_picture pictures[MOST_PARTS];
    uint8_t count;
};

/* The drawing of a sprite, where and as the values of `draw` say. */
static const struct dia_drawing *sprite_drawing(struct shown_sprite *to,
                                                const struct dia_rig_layer *layer,
                                                const struct dia_draw *draw)
{
    const struct dia_rig_sprite *from = &layer->sprite;
    const struct dia_dots *drawn = layer->drawn.dots;
    to->sprite = (struct dia_sprite){from->columns, from->rows, 1, 0, from->cells, from->colours};
    if (drawn)
        to->sprite = (struct dia_sprite){drawn->columns, drawn->rows,  (uint8_t)drawn->frames,
                                         drawn->each_ms, drawn->cells, layer->drawn.of->colours};
    to->figure = (struct dia_figure){.kind = DIA_FIGURE_SPRITE,
                                     .at = {draw->x_um, draw->y_um},
                                     .size_um = draw->width_um,
                                     .sprite = &to->sprite};
    to->drawing = (struct dia_drawing){.figures = &to->figure,
                                       .count = 1,
                                       .mirror = (uint8_t)draw->mirror,
                                       .speed_x_um_s = draw->speed_x_um_s,
                                       .speed_y_um_s = draw->speed_y_um_s,
                                       .every_x_um = (uint32_t)draw->every_x_um,
                                       .every_y_um = (uint32_t)draw->every_y_um};
    return &to->drawing;
}

/* Where a figure or sprite is on its way. */
static void walk(const struct dia_rig_layer *layer, uint32_t ms, struct dia_draw *draw)
{
    struct dia_path path = layer->path;
    path.points = layer->path_points; /* layers are copied */
    struct dia_point at = dia_path_at(&path, ms - layer->start_ms + layer->ahead_ms);
    int32_t way_x = draw->to_x_um - draw->x_um, way_y = draw->to_y_um - draw->y_um;
    draw->x_um = at.x_um;
    draw->y_um = at.y_um;
    draw->to_x_um = at.x_um + way_x; /* the other end of a line comes with it */
    draw->to_y_um = at.y_um + way_y;
}

static uint32_t way_of(const struct stacked *stacked, uint8_t k, const struct dia_look *look)
{
    const struct dia_layer *layer = &stacked->layers[k];
    int joined = layer->values == &stacked->joined[k];
    return look->way_ms ? look->way_ms(&stacked->values[k],
                                       joined ? &stacked->joined[k].whole : layer->surface)
                        : 0;
}

static void stack_part(struct stacked *to, struct layers_content *c,
                       const struct dia_rig_layer *from, const struct dia_rig_part *part,
                       const struct dia_surface *surface, uint8_t is_device, uint32_t number)
{
    uint32_t ms = c->ms;
    if (to->count == MOST_PARTS)
        return;
    struct dia_layer *layer = &to->layers[to->count];
    struct dia_surface *of = &to->surfaces[to->count];
    struct joined *joined = &to->joined[to->count++];
    uint32_t count = part && part->count ? part->count : surface->count;
    *of = dia_surface_along(*surface, (enum dia_axis)from->axis);
    if (part && part->count)
        dia_surface_line(of, count, 0, surface->pitch_um);
    union dia_look_values *values = &to->values[to->count - 1];
    dia_rig_layer_values(from, of, values);
    if (from->path.count)
        walk(from, ms, &values->draw);
    /* dots have one colour, whatever it is */
    if (is_device && c->rig->devices[number].channels == 1 && from->look == &dia_look_text)
        values->lettering.palette = (struct dia_palette){.count = 1, .colours = {{255, 255, 255}}};
    dia_layer_init(layer, of, from->look->render, values);
    if (part && part->all && from->look != &dia_look_picture) {
        joined->look = from->look;
        joined->values = values;
        joined->offset = part->offset;
        dia_surface_line(&joined->whole, part->all, 0, part->pitch_um);
        dia_rig_layer_values(from, &joined->whole, values);
        if (from->path.count)
            walk(from, ms, &values->draw);
        layer->render = render_joined;
        layer->values = joined;
    }
    if (from->sprite.columns || from->drawn.dots) { /* joined or not: on each part by itself */
        layer->render = dia_drawing_render;
        layer->values = sprite_drawing(&to->sprites[to->count - 1], from, &values->draw);
    }
    if (from->look == &dia_look_picture) {
        layer->render = dia_play_picture_render;
        layer->values = &to->pictures[to->count - 1];
        dia_play_picture(&to->pictures[to->count - 1], from, part, surface, c->rig,
                         is_device ? &c->rig->devices[number] : NULL, number, &c->status);
    }
    layer->first = part ? part->first : 0;
    layer->blend = from->blend;
    layer->level = from->level;
    layer->mask = from->masked ? &from->mask : NULL;
    layer->start_ms = from->start_ms;
    layer->ahead_ms = from->ahead_ms;
    layer->length_ms = from->length_ms;
    layer->fade_in_ms = from->fade_in_ms;
    layer->fade_out_ms = from->fade_out_ms;
    uint32_t way = from->rests ? way_of(to, (uint8_t)(to->count - 1), from->look) : UINT32_MAX;
    if (ms - layer->start_ms + layer->ahead_ms > way) {
        layer->start_ms = ms - way;
        layer->ahead_ms = 0;
    }
}

static const char *name_of(const struct dia_rig *rig, uint8_t is_device, uint32_t number)
{
    return is_device ? rig->devices[number].name : rig->lanes[number].name;
}

static int is_on_desk(const struct dia_rig *rig, uint8_t is_device, uint32_t number)
{
    return is_device ? rig->devices[number].at.given : rig->lanes[number].at.given;
}

/* Of what was stacked last, if it is a text. */
static void has_room(const struct layers_content *c, const struct stacked *stacked,
                     const struct dia_rig_layer *layer, const char *where)
{
    const struct dia_layer *shown = &stacked->layers[stacked->count - 1];
    const struct dia_lettering *values = &stacked->values[stacked->count - 1].lettering;
    struct dia_bounds bounds;
    int32_t pitch = shown->surface->pitch_um;
    if (layer->look != &dia_look_text || !dia_play_text_stands(c, layer) ||
        shown->surface->axis == DIA_ANGLE)
        return;
    dia_surface_bounds(shown->surface, &bounds);
    struct dia_text_extent room = {(uint32_t)(bounds.width_um / pitch),
                                   (uint32_t)(bounds.height_um / pitch)};
    const struct dia_screen screen = {(uint16_t)(room.columns > 65535 ? 65535 : room.columns), 1,
                                      pitch};
    dia_play_warn_of_room(c, layer, where, dia_text_extent_of(&values->text, &screen), room);
}

/* All layers that have a part on a lane or device; only those that are on all of it, where its
 * elements are numbered in another way. */
static void stack_all(struct stacked *to, struct layers_content *c, uint8_t is_device,
                      uint32_t number, const struct dia_surface *surface, int only_whole)
{
    to->count = 0;
    for (uint32_t i = 0; i < c->count; i++) {
        const struct dia_rig_layer *layer = &c->layers[i];
        if (layer->look == &dia_look_text && is_device && c->rig->devices[number].digits)
            continue; /* digits show it as letters: play_texts.c */
        if (layer->on_desk && !is_on_desk(c->rig, is_device, number))
            continue;
        if (layer->parts == 0)
            stack_part(to, c, layer, NULL, surface, is_device, number);
        if (layer->parts == 0 && to->count)
            has_room(c, to, layer, name_of(c->rig, is_device, number));
        for (uint32_t k = 0; k < layer->parts; k++) {
            const struct dia_rig_part *part = &layer->part[k];
            if (part->is_device != is_device || part->number != number ||
                (only_whole && part->count))
                continue;
            stack_part(to, c, layer, part, surface, is_device, number);
            if (to->count)
                has_room(c, to, layer, name_of(c->rig, is_device, number));
        }
    }
}

/* The one layer there is: how long its way is here. */
static void measure(const struct layers_content *c, const struct stacked *stacked)
{
    for (uint8_t k = 0; k < stacked->count; k++) {
        uint32_t way = way_of(stacked, k, c->layers[0].look);
        *c->longest_ms = way > *c->longest_ms ? way : *c->longest_ms;
    }
}

/* Over the elements of a lane or device. */
static void render(struct layers_content *c, uint8_t is_device, uint32_t number,
                   const struct dia_surface *surface, int only_whole, struct dia_rgb *out)
{
    struct stacked stacked;
    stack_all(&stacked, c, is_device, number, surface, only_whole);
    if (c->longest_ms) {
        measure(c, &stacked);
        memset(out, 0, surface->count * sizeof *out); /* which nobody looks at */
        return;
    }
    struct dia_stack stack = {stacked.layers, stacked.count};
    dia_stack_render(&stack, c->ms, 0, surface->count, out);
}

/* Layers know lanes and devices by their numbers in the whole rig. */
static uint32_t place_of(const struct layers_content *c, uint32_t device)
{
    return c->player ? c->player->rig->devices[device].place : device;
}

static void layers_pixels(void *self, uint32_t lane, uint32_t count, struct dia_rgb *pixels)
{
    struct layers_content *c = self;
    lane = c->player->rig->lanes[lane].place;
    const struct dia_rig_lane *of = &c->rig->lanes[lane];
    struct dia_rig_lying lying;
    dia_rig_lie(c->rig, of, &lying);
    render(c, 0, lane, &lying.surface, 0, pixels);
    dia_gaps_open(pixels, count, of->layout.gaps, of->layout.gap_count);
}

/* Dots row after row; they lie in a grid. */
static void dots(struct layers_content *c, uint32_t device, uint8_t *levels)
{
    struct dia_rgb colours[DIA_RIG_LAMPS];
    struct rig_device_lying lying;
    if (dia_rig_lie_dots(&c->rig->devices[device], &lying) != DIA_OK)
        return;
    render(c, 1, device, &lying.surface, 0, colours);
    if (c->rig->devices[device].channels == 3) {
        memcpy(levels, colours, lying.surface.count * sizeof *colours);
        return;
    }
    for (uint32_t i = 0; i < lying.surface.count; i++)
        levels[i] = dia_lamp_of(colours[i]);
}

/* Segments of digits without a text are lamps where they lie. */
static void segments(struct layers_content *c, uint32_t device, uint8_t *levels)
{
    const struct dia_rig_device *from = &c->rig->devices[device];
    struct dia_rgb colours[DIA_RIG_LAMPS];
    struct rig_device_lying lying;
    if (dia_rig_lie_segments(from, &lying) != DIA_OK)
        return;
    render(c, 1, device, &lying.surface, from->lamps != lying.surface.count, colours);
    for (uint32_t i = 0; i < lying.surface.count; i++)
        levels[i] = dia_lamp_of(colours[i]);
}

/* Lamps show a look by its luminance; segments only where they have no text to show. */
static void layers_lamps(void *self, uint32_t device, uint32_t count, uint8_t *levels)
{
    struct layers_content *c = self;
    device = place_of(c, device);
    const struct dia_rig_device *from = &c->rig->devices[device];
    struct dia_rgb colours[DIA_RIG_LAMPS];
    if (from->digits && from->text[0][0] == 0 && !dia_play_whole_text(c, device, 0))
        segments(c, device, levels);
    if (count == from->digits * from->per_digit)
        return;
    if (dia_rig_lies(from) == DIA_LIES_DOTS) {
        dots(c, device, levels);
        return;
    }
    render(c, 1, device, &from->surface, 0, colours);
    for (uint32_t i = from->digits * from->per_digit; i < count; i++)
        levels[i] = dia_lamp_of(colours[from->place_of[i]]);
}

static const char *layers_text(void *self, uint32_t device, uint32_t row)
{
    return dia_play_whole_text(self, place_of(self, device), row);
}

static void layers_cells(void *self, uint32_t device, struct dia_cells_wanted *wanted)
{
    dia_play_whole_cells(self, place_of(self, device), wanted);
}

uint32_t dia_rig_layer_way_ms(const struct dia_rig *rig, const struct dia_rig_layer *layer)
{
    uint32_t longest_ms = 0;
    uint8_t levels[3 * DIA_RIG_LAMPS];
    struct layers_content measured = {
        .rig = rig, .layers = layer, .count = 1, .longest_ms = &longest_ms};
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        struct dia_rig_lying lying;
        struct stacked stacked;
        dia_rig_lie(rig, &rig->lanes[i], &lying);
        stack_all(&stacked, &measured, 0, i, &lying.surface, 0);
        measure(&measured, &stacked);
    }
    for (uint32_t i = 0; i < rig->device_count; i++) {
        memset(levels, 0, sizeof levels);
        layers_lamps(&measured, i, rig->devices[i].lamps, levels);
    }
    return longest_ms;
}

enum dia_status dia_player_show_layers(struct dia_player *player,
                                       const struct dia_rig_layer *layers, uint32_t count,
                                       uint32_t ms, uint32_t slot, uint64_t *frame_ns)
{
    if (player->nodes)
        return dia_play_nodes_layers(player->nodes, layers, count, ms, slot, frame_ns);
    struct layers_content shown = {.rig = dia_rig_whole(player->rig),
                                   .layers = layers,
                                   .count = count,
                                   .ms = ms,
                                   .player = player};
    struct dia_content content = {&shown, layers_pixels, layers_lamps, layers_text, layers_cells};
    enum dia_status status = dia_player_show_content(player, &content, slot, frame_ns);
    return shown.status != DIA_OK ? shown.status : status;
}

enum dia_status dia_player_show(struct dia_player *player, const struct dia_look *look,
                                const void *values, uint32_t ms, uint32_t slot, uint64_t *frame_ns)
{
    struct dia_rig_layer layer;
    dia_rig_layer_init(&layer, look);
    memcpy(&layer.values, values, look->size);
    if (look == &dia_look_text) { /* a layer has its text beside it */
        const char *says = layer.values.lettering.text.says;
        snprintf(layer.says, sizeof layer.says, "%s", says ? says : "");
        memcpy(layer.says_on_digits, layer.says, sizeof layer.says);
    }
    return dia_player_show_layers(player, &layer, 1, ms, slot, frame_ns);
}
