/* SPDX-License-Identifier: MIT */
#include <string.h>

#include "play_layers.h"
#include "rig_rom.h"

/* 1: so much of a layer shows at this time that a letter of it does. */
static int shows(const struct dia_rig_layer *from, uint32_t ms)
{
    static const struct dia_steady white = {{255, 255, 255}};
    struct dia_surface one;
    struct dia_layer layer;
    struct dia_rgb seen;
    dia_surface_line(&one, 1, 0, 1000);
    dia_layer_init(&layer, &one, dia_look_steady.render, &white);
    layer.level = from->level;
    layer.start_ms = from->start_ms;
    layer.length_ms = from->length_ms;
    layer.fade_in_ms = from->fade_in_ms;
    layer.fade_out_ms = from->fade_out_ms;
    struct dia_stack stack = {&layer, 1};
    dia_stack_render(&stack, ms, 0, 1, &seen);
    return seen.r >= 128;
}

/* What a display shows for a sign; a full block for what it has not. */
static char cell_of(uint16_t code)
{
    char text[4] = {(char)code, 0, 0, 0};
    const char *at = text;
    if (code >= 0x800) {
        text[0] = (char)(0xe0 | code >> 12);
        text[1] = (char)(0x80 | (code >> 6 & 63));
        text[2] = (char)(0x80 | (code & 63));
    } else if (code >= 0x80) {
        text[0] = (char)(0xc0 | code >> 6);
        text[1] = (char)(0x80 | (code & 63));
    }
    int cell = dia_rig_cell_code(&at);
    return (char)(cell < 0 ? 0xff : cell);
}

/* A display of cells, or digits, of which a part of a layer takes some. */
struct meeting {
    uint32_t first, n; /* cells of the row that it takes */
    struct dia_screen screen;
    uint16_t row;  /* of the screen */
    uint32_t skip; /* columns of the screen before the first that is in the row */
};

static uint32_t columns_of(const struct dia_rig_device *device)
{
    return device->columns ? device->columns : device->digits;
}

/* A stretch is a line of its own, which goes on in the next row of the display. 0: it has nothing
 * in this row. */
static int meet(struct meeting *to, const struct dia_rig_device *device,
                const struct dia_rig_part *part, uint32_t row)
{
    uint32_t columns = columns_of(device), rows = device->columns ? device->rows : 1;
    *to = (struct meeting){
        0, columns, {(uint16_t)columns, (uint16_t)rows, device->pitch_um}, (uint16_t)row, 0};
    if (!part || part->count == 0)
        return 1;
    uint32_t begin = row * columns, end = begin + columns, last = part->first + part->count;
    uint32_t from = part->first > begin ? part->first : begin, stop = last < end ? last : end;
    if (from >= stop)
        return 0;
    to->screen.columns = (uint16_t)part->count;
    to->screen.rows = 1;
    to->row = 0;
    to->first = from - begin;
    to->n = stop - from;
    to->skip = from - part->first;
    return 1;
}

/* The row as the rig has it. */
static void begin(const struct dia_rig_device *device, uint32_t row, uint16_t *codes)
{
    uint32_t columns = columns_of(device), at = 0;
    for (uint32_t k = 0; k < columns; k++)
        codes[k] = ' ';
    for (const char *text = device->text[row]; *text; text++) {
        if (!device->columns && *text == '.' && at > 0 && !(codes[at - 1] & DIA_CELL_POINT))
            codes[at - 1] |= DIA_CELL_POINT;
        else if (at < columns)
            codes[at++] = (uint8_t)*text;
    }
}

static void lay(const struct layers_content *c, const struct dia_rig_device *device,
                const struct dia_rig_layer *layer, const struct meeting *at, uint16_t *codes)
{
    uint32_t ms = c->ms - layer->start_ms + layer->ahead_ms;
    uint16_t shown[DIA_RIG_LAMPS];
    struct dia_surface line;
    union dia_look_values values;
    if (dia_surface_line(&line, at->screen.columns, 0, at->screen.pitch_um) != DIA_OK)
        return;
    dia_rig_layer_values(layer, &line, &values);
    if (device->columns)
        dia_text_cells(&values.lettering.text, &at->screen, ms, at->row, shown);
    else
        values.lettering.text.says = layer->says_on_digits;
    if (!device->columns)
        dia_text_digits(&values.lettering.text, &at->screen, ms, at->row, shown);
    for (uint32_t k = 0; k < at->n; k++) {
        uint16_t code = shown[at->skip + k];
        codes[at->first + k] = device->columns ? (uint8_t)cell_of(code) : code;
    }
}

static const char *written(struct layers_content *c, const uint16_t *codes, uint32_t columns)
{
    char *out = c->text;
    for (uint32_t k = 0; k < columns; k++) {
        uint16_t code = codes[k] & (uint16_t)~DIA_CELL_POINT;
        *out++ = (char)(code < 256 ? code : ' ');
        if (codes[k] & DIA_CELL_POINT)
            *out++ = '.';
    }
    *out = 0;
    return c->text;
}

const char *dia_play_layers_text(void *self, uint32_t number, uint32_t row)
{
    struct layers_content *c = self;
    const struct dia_rig_device *device = &c->rig->devices[number];
    uint16_t codes[PLAY_CELLS];
    int any = 0;
    struct meeting at;
    for (uint32_t i = 0; i < c->count; i++) {
        const struct dia_rig_layer *layer = &c->layers[i];
        if (layer->look != &dia_look_text || !shows(layer, c->ms))
            continue;
        for (uint32_t k = 0; k < (layer->parts ? layer->parts : 1); k++) {
            const struct dia_rig_part *part = layer->parts ? &layer->part[k] : NULL;
            if (part ? !part->is_device || part->number != number : device->text[0][0] != 0)
                continue;
            if (!meet(&at, device, part, row))
                continue;
            if (!any)
                begin(device, row, codes);
            any = 1;
            lay(c, device, layer, &at, codes);
        }
    }
    return any ? written(c, codes, columns_of(device)) : NULL;
}
