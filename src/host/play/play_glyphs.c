/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "family.h"
#include "play_layers.h"
#include "player_private.h"

/*
 * Signs that the ROM of a character display lacks are drawn into its eight glyphs, as the face
 * cell has them, or else the face plain where it is narrow enough.
 */

static const struct dia_face *const faces[] = {&dia_face_cell, &dia_face_plain};
#define FACES (sizeof faces / sizeof faces[0])

static int rows_of(const struct dia_drawing_files *files, uint16_t sign, uint32_t ms,
                   uint8_t rows[8])
{
    const struct dia_dots *item = files ? dia_drawing_files_of_sign(files, sign) : NULL;
    if (sign >= PLAY_TALL && sign <= PLAY_TALL + DIA_TALL_POINT) {
        dia_tall_rows((uint8_t)(sign - PLAY_TALL), rows);
        return 1;
    }
    if (item)
        return dia_dots_cell(item, item->frames > 1 ? ms / item->each_ms % item->frames : 0, rows);
    for (size_t k = 0; k < FACES; k++) {
        if (dia_letters_rows(faces[k], sign, rows))
            return 1;
    }
    return 0;
}

int dia_play_shapes(struct dia_player *player)
{
    uint32_t cells = 0, room = 0;
    for (uint32_t i = 0; i < player->rig->device_count; i++)
        cells += player->rig->devices[i].rom != NULL;
    for (size_t f = 0; f < FACES; f++)
        for (uint8_t k = 0; k < faces[f]->count; k++)
            room += faces[f]->glyphs[k].count;
    if (cells == 0)
        return 0;
    player->shapes = calloc(room, sizeof *player->shapes);
    if (!player->shapes)
        return -1;
    for (size_t f = 0; f < FACES; f++) {
        for (uint8_t k = 0; k < faces[f]->count; k++) {
            const struct dia_glyphs *of = &faces[f]->glyphs[k];
            for (uint32_t i = 0; i < of->count; i++) {
                struct play_shape *shape = &player->shapes[player->shape_count];
                shape->sign = (uint16_t)(of->first + i);
                if (shape->sign > ' ' && shape->sign != 0xa0 &&
                    dia_letters_rows(faces[f], shape->sign, shape->rows))
                    player->shape_count++;
            }
        }
    }
    return 0;
}

void dia_play_glyphs_begin(struct play_device *device)
{
    device->glyphs = 0;
}

/* What shows instead: a block, where the ROM has one. */
static uint8_t instead(const struct dia_rig_device *device, const char **what)
{
    int16_t block = dia_rom_code(device->rom, 0x2588);
    *what = block < 0 ? "a question mark" : "a block";
    return (uint8_t)(block < 0 ? '?' : block);
}

/* How a message calls a sign. */
static void name_sign(const struct dia_drawing_files *files, uint16_t sign, char says[60])
{
    const struct dia_dots *item = files ? dia_drawing_files_of_sign(files, sign) : NULL;
    if (item)
        snprintf(says, 60, "%.50s", item->name);
    else
        dia_utf8_of(sign, says);
}

uint8_t dia_play_glyph(struct dia_player *player, uint32_t number, uint16_t sign,
                       const struct dia_drawing_files *files, uint32_t ms)
{
    struct play_device *device = &player->devices[number];
    const struct dia_rig_family *family = player->rig->devices[number].family;
    const char *name = player->rig->devices[number].name;
    uint8_t rows[8], code;
    char text[200], says[60];
    const char *what;
    uint8_t other = instead(&player->rig->devices[number], &what);
    name_sign(files, sign, says);
    if (!family->own || !rows_of(files, sign, ms, rows)) {
        if (files && dia_drawing_files_of_sign(files, sign))
            snprintf(text, sizeof text,
                     "shows %s for the drawing '%s': a cell has 5 by 8 dots, and it has more", what,
                     says);
        else
            snprintf(text, sizeof text,
                     "shows %s for '%s': its ROM lacks it, and the faces cell and plain have no "
                     "such sign of 5 dots",
                     what, says);
        dia_player_complain(player, name, "no-glyph", DIA_ERROR, text);
        return other;
    }
    if (family->own(device, rows, device->glyphs, &code) != DIA_OK) {
        snprintf(text, sizeof text,
                 "shows %s for '%s': it holds at most 8 signs at once that its ROM lacks", what,
                 says);
        dia_player_complain(player, name, "glyphs-full", DIA_ERROR, text);
        return other;
    }
    device->glyphs |= (uint8_t)(1u << (code & 7));
    return code;
}

uint16_t dia_player_cell(const struct dia_player *player, uint32_t device, uint8_t row,
                         uint8_t column)
{
    player = dia_play_of_device(player, &device);
    const struct dia_cells_shown *cells = dia_player_cells(player, device);
    uint8_t code = cells->code[row][column];
    uint16_t sign = dia_rom_sign(player->rig->devices[device].rom, code);
    if (code > 15)
        return sign ? sign : 0x2592; /* a shade */
    for (uint8_t piece = DIA_TALL_TOP; piece <= DIA_TALL_POINT; piece++) {
        static const uint16_t like[] = {0x2580, 0x2584, '=', 0x2022}; /* half blocks, a dot */
        uint8_t rows[8];
        dia_tall_rows(piece, rows);
        if (memcmp(rows, cells->glyph[code & 7], 8) == 0)
            return like[piece - DIA_TALL_TOP];
    }
    for (uint32_t k = 0; k < player->shape_count; k++) { /* what do these dots look like? */
        if (memcmp(player->shapes[k].rows, cells->glyph[code & 7], 8) == 0)
            return player->shapes[k].sign;
    }
    return 0x2592;
}
