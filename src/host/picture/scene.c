/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include <diachrome/face.h>
#include <diachrome/letters.h>
#include <diachrome/scene.h>

#include "things.h"

_Static_assert((int)DIA_SCENE_CELL == (int)VIEW_CELL && (int)DIA_SCENE_BAR == (int)VIEW_BAR,
               "the shapes are the same");

/* An element of a thing where it lies, as view.h has it before the thing is turned. */
static struct dia_scene_element on_desk(const struct desk *desk, const struct thing *thing,
                                        const struct view_element *e)
{
    double x = e->x, y = e->y, w = thing->width, h = thing->height;
    double turned_x = thing->turn == 0   ? x
                      : thing->turn == 1 ? w - y
                      : thing->turn == 2 ? w - x
                                         : y;
    double turned_y = thing->turn == 0   ? y
                      : thing->turn == 1 ? x
                      : thing->turn == 2 ? h - y
                                         : h - x;
    return (struct dia_scene_element){.x = (float)(thing->x - desk->left + turned_x),
                                      .y = (float)(thing->y - desk->top + turned_y),
                                      .w = e->w,
                                      .h = e->h,
                                      .shape = e->shape,
                                      .turn = thing->turn};
}

static int is_cells(const struct thing *thing)
{
    return thing->device && dia_rig_lies(thing->device) == DIA_LIES_CELLS;
}

static void put_thing(struct dia_scene *scene, const struct desk *desk, const struct thing *thing)
{
    static const struct dia_rgb board = {25, 26, 30};
    struct dia_scene_thing *to = &scene->things[scene->thing_count++];
    *to = (struct dia_scene_thing){.name = thing->name,
                                   .is_device = thing->device != NULL,
                                   .number = thing->number,
                                   .x = (float)(thing->x - desk->left),
                                   .y = (float)(thing->y - desk->top),
                                   .width = (float)thing->width,
                                   .height = (float)thing->height,
                                   .ground = thing->device ? dia_view_ground(thing->device) : board,
                                   .first = scene->count,
                                   .count = thing->view.count,
                                   .at = scene->bytes};
    for (uint32_t i = 0; i < thing->view.count; i++)
        scene->elements[scene->count++] = on_desk(desk, thing, &thing->view.elements[i]);
    scene->bytes += thing->view.count * (is_cells(thing) ? DIA_SCENE_CELL_BYTES : 3u);
}

struct dia_scene *dia_scene_new(const struct dia_rig *rig)
{
    struct dia_scene *scene = calloc(1, sizeof *scene);
    struct desk *desk = dia_things_lay_out(rig);
    uint32_t count = 0;
    for (uint32_t i = 0; desk && i < desk->count; i++)
        count += desk->things[i].view.count;
    if (scene && desk) {
        scene->things = calloc(desk->count + 1, sizeof *scene->things);
        scene->elements = calloc(count + 1, sizeof *scene->elements);
        scene->width = (float)desk->width;
        scene->height = (float)desk->height;
    }
    int whole = scene && desk && scene->things && scene->elements;
    for (uint32_t i = 0; whole && i < desk->count; i++)
        put_thing(scene, desk, &desk->things[i]);
    if (desk)
        dia_things_free(desk);
    if (whole)
        return scene;
    dia_scene_free(scene);
    return NULL;
}

void dia_scene_free(struct dia_scene *scene)
{
    if (!scene)
        return;
    free(scene->things);
    free(scene->elements);
    free(scene);
}

/* The dots of a cell: those of its glyph, or as the sheet has the sign; a shade where it is none.
 */
static void see_cell(const struct dia_player *player, const struct dia_cells_shown *cells,
                     uint32_t device, uint8_t row, uint8_t column, uint8_t *to)
{
    static const uint8_t shade[8] = {0x15, 0x0a, 0x15, 0x0a, 0x15, 0x0a, 0x15, 0x0a};
    uint8_t code = cells->code[row][column], on = cells->on;
    int here = cells->cursor_row == row && cells->cursor_column == column;
    memset(to, 0, DIA_SCENE_CELL_BYTES);
    if (cells->contrast == DIA_CONTRAST_DARK ||
        (cells->contrast == DIA_CONTRAST_GOOD &&
         ((cells->blocks && row % 2 == 0) || (on && here && cells->block)))) {
        memset(to, 0x1f, DIA_SCENE_CELL_BYTES);
        to[0] = 1;
        return;
    }
    if (!on || cells->contrast != DIA_CONTRAST_GOOD)
        return;
    to[0] = 1;
    if (code < 16)
        memcpy(to + 1, cells->glyph[code & 7], 8);
    else if (!dia_letters_rows(&dia_face_cell, dia_player_cell(player, device, row, column),
                               to + 1))
        memcpy(to + 1, shade, 8);
    if (here && cells->underline)
        to[8] = 0x1f;
}

static void see_device(const struct dia_scene_thing *thing, const struct dia_player *player,
                       uint8_t *to)
{
    const struct dia_rig_device *device = &dia_player_desk(player)->devices[thing->number];
    if (dia_rig_lies(device) != DIA_LIES_CELLS) {
        for (uint32_t i = 0; i < thing->count; i++) {
            struct dia_rgb seen = dia_player_lamp_seen(player, thing->number, i);
            memcpy(to + 3 * i, &seen, 3);
        }
        return;
    }
    const struct dia_cells_shown *cells = dia_player_cells(player, thing->number);
    for (uint8_t row = 0; row < cells->rows; row++) {
        for (uint8_t column = 0; column < cells->columns; column++, to += DIA_SCENE_CELL_BYTES)
            see_cell(player, cells, thing->number, row, column, to);
    }
}

void dia_scene_see(const struct dia_scene *scene, const struct dia_player *player, uint8_t *bytes)
{
    for (uint32_t t = 0; t < scene->thing_count; t++) {
        const struct dia_scene_thing *thing = &scene->things[t];
        uint8_t *to = bytes + thing->at;
        if (thing->is_device) {
            see_device(thing, player, to);
            continue;
        }
        for (uint32_t i = 0; i < thing->count; i++) {
            struct dia_rgb seen = dia_player_seen(player, thing->number, i);
            memcpy(to + 3 * i, &seen, 3);
        }
    }
}
