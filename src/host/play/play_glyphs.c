/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include "family.h"
#include "play_layers.h"
#include "player_private.h"
#include "rig_rom.h"

/*
 * Signs that the ROM of a character display lacks are drawn into its eight glyphs, as the face
 * plain has them. A sign keeps its place as long as it shows; a new one takes a place that was free
 * in the frame before too, if there is one, so that no cell shows it too early.
 */
#define NO_GLYPH 0xff /* the ROM's full block */

/* Five bits a row, bit 4 at the left. 0: the face has it not, or wider. */
static int rows_of(uint16_t sign, uint8_t rows[8])
{
    static const struct dia_screen cell = {5, 8, 1000};
    uint8_t columns[5];
    char says[8];
    if (!dia_face_has(&dia_face_plain, sign) || dia_face_width(&dia_face_plain, sign) > 5)
        return 0;
    struct dia_text text = {.says = dia_utf8_of(sign, says), .face = &dia_face_plain};
    text.form.align = DIA_TEXT_CENTRED;
    dia_text_columns(&text, &cell, 0, 0, 5, 0, columns);
    memset(rows, 0, 8);
    for (uint8_t row = 0; row < 8; row++) {
        for (uint8_t k = 0; k < 5; k++)
            rows[row] = (uint8_t)(rows[row] << 1 | (columns[k] >> row & 1));
    }
    return 1;
}

void dia_play_glyphs_begin(struct play_device *device)
{
    device->glyphs_before = device->glyphs;
    device->glyphs = 0;
}

uint8_t dia_play_glyph(struct dia_player *player, uint32_t number, uint16_t sign)
{
    struct play_device *device = &player->devices[number];
    const struct dia_rig_family *family = player->rig->devices[number].family;
    const char *name = player->rig->devices[number].name;
    uint8_t rows[8], place = 8;
    char text[160], says[8];
    dia_utf8_of(sign, says);
    for (uint8_t k = 0; k < 8; k++) {
        if (device->glyph_of[k] == sign) {
            device->glyphs |= (uint8_t)(1u << k);
            return (uint8_t)(8 + k);
        }
    }
    if (!family->glyph || !rows_of(sign, rows)) {
        snprintf(
            text, sizeof text,
            "shows a block for '%s': its ROM lacks it, and the face plain has no such sign of 5 "
            "dots",
            says);
        dia_player_complain(player, name, "no-glyph", DIA_ERROR, text);
        return NO_GLYPH;
    }
    for (uint8_t taken = device->glyphs | device->glyphs_before, k = 0; k < 8 && place == 8; k++)
        place = taken >> k & 1 ? 8 : k;
    for (uint8_t k = 0; k < 8 && place == 8; k++)
        place = device->glyphs >> k & 1 ? 8 : k;
    if (place == 8) {
        snprintf(text, sizeof text,
                 "shows a block for '%s': it holds at most 8 signs at once that its ROM lacks",
                 says);
        dia_player_complain(player, name, "glyphs-full", DIA_ERROR, text);
        return NO_GLYPH;
    }
    device->glyph_of[place] = sign;
    device->glyphs |= (uint8_t)(1u << place);
    family->glyph(device, place, rows);
    return (uint8_t)(8 + place);
}

uint16_t dia_player_cell(const struct dia_player *player, uint32_t device, uint8_t row,
                         uint8_t column)
{
    const struct dia_cells_shown *cells = dia_player_cells(player, device);
    uint8_t code = cells->code[row][column], rows[8];
    char room[8];
    const char *at = dia_rig_cell_text(code, room);
    if (code > 15)
        return dia_utf8_next(&at);
    for (uint8_t k = 0; k < dia_face_plain.count; k++) { /* what do these dots look like? */
        const struct dia_glyphs *of = &dia_face_plain.glyphs[k];
        for (uint32_t i = 0; i < of->count; i++) {
            uint16_t sign = (uint16_t)(of->first + i);
            if (sign > ' ' && sign != 0xa0 && rows_of(sign, rows) &&
                memcmp(rows, cells->glyph[code & 7], 8) == 0)
                return sign;
        }
    }
    return 0x2592; /* a shade */
}
