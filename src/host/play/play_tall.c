/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <diachrome/signal.h>

#include "play_layers.h"
#include "player_private.h"

/* Numbers two rows high on cells: a text of `size` 2 or more. */

/* Where it goes: so many cells from a column on, in a row and in the one below. */
struct field {
    uint32_t first, width, row;
};

static struct field field_of(const struct dia_rig_device *device, const struct dia_rig_part *part,
                             int32_t place)
{
    struct field field = {0, device->columns, 0};
    uint32_t below = device->rows > 2 ? device->rows - 2 : 0;
    if (part && part->count) {
        field.first = part->first % device->columns;
        field.row = part->first / device->columns;
        field.width = device->columns - field.first;
        field.width = part->count < field.width ? part->count : field.width;
    } else if (place != DIA_TEXT_AT_TOP) {
        field.row = place == DIA_TEXT_IN_MIDDLE ? below / 2 : below;
    }
    return field;
}

/* Pieces of a text in both rows, as far as there is room; how many it takes in all. */
static uint32_t spell(const char *says, uint8_t pieces[2][PLAY_CELLS])
{
    uint32_t used = 0;
    for (const char *at = says; *at;) {
        uint8_t of[2][3], wide = dia_tall_sign(dia_utf8_next(&at), of);
        used += used ? 1 : 0; /* between two signs */
        for (uint32_t k = 0; k < wide; k++, used++) {
            for (uint32_t row = 0; row < 2 && used < PLAY_CELLS; row++)
                pieces[row][used] = of[row][k];
        }
    }
    return used;
}

static void warn(const struct layers_content *c, const char *where, uint32_t takes, uint32_t room,
                 uint32_t rows)
{
    char text[200];
    if (rows < 2)
        snprintf(text, sizeof text,
                 "a text of size 2 takes two rows, and there is none below it; take size=1");
    else
        snprintf(text, sizeof text,
                 "a number is too wide: at size 2 it takes %u cells and has %u, so dashes show",
                 (unsigned)takes, (unsigned)room);
    dia_player_complain(c->player, where, rows < 2 ? "no-row-below" : "text-cut-off", DIA_WARNING,
                        text);
}

/* What does not fit is dashes, and no wrong number. */
static const char *dashes(uint32_t width)
{
    static const char all[] = "----------";
    uint32_t n = (width + 1) / 4;
    return all + (n < sizeof all - 1 ? sizeof all - 1 - n : 0);
}

int dia_play_tall(const struct layers_content *c, uint32_t number,
                  const struct dia_rig_layer *layer, const struct dia_rig_part *part, uint32_t row,
                  uint16_t *codes)
{
    const struct dia_rig_device *device = &c->rig->devices[number];
    const struct dia_text_form *form = &layer->values.lettering.text.form;
    struct field field = field_of(device, part, form->place);
    uint32_t ms = c->ms - layer->start_ms + layer->ahead_ms;
    uint8_t pieces[2][PLAY_CELLS] = {{0}, {0}};
    if (row < field.row || row > field.row + 1)
        return 0;
    for (uint32_t k = 0; k < field.width; k++)
        codes[field.first + k] = ' ';
    uint32_t rows = device->rows - field.row, takes = spell(layer->says, pieces);
    if (rows < 2 || takes > field.width)
        warn(c, device->name, takes, field.width, rows);
    if (takes > field.width)
        takes = spell(dashes(field.width), pieces);
    if (rows < 2 ||
        (form->blink_ms > 1 && ms % (uint32_t)form->blink_ms >= ((uint32_t)form->blink_ms + 1) / 2))
        return 1;
    uint32_t left = field.width - takes;
    left = form->align == DIA_TEXT_AT_LEFT ? 0 : form->align == DIA_TEXT_CENTRED ? left / 2 : left;
    for (uint32_t k = 0; k < takes; k++) {
        uint8_t piece = pieces[row - field.row][k];
        if (piece != DIA_TALL_BLANK)
            codes[field.first + left + k] =
                (uint16_t)(piece == DIA_TALL_FULL ? 0x2588u : PLAY_TALL + piece);
    }
    return 1;
}
