/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include "play_layers.h"
#include "player_private.h"
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

int dia_play_text_stands(const struct layers_content *c, const struct dia_rig_layer *layer)
{
    int32_t motion = layer->values.lettering.text.form.motion;
    return c->player && motion != DIA_TEXT_LEFT && motion != DIA_TEXT_RIGHT &&
           motion != DIA_TEXT_SWAYS;
}

void dia_play_warn_of_room(const struct layers_content *c, const struct dia_rig_layer *layer,
                           const char *where, struct dia_text_extent takes,
                           struct dia_text_extent room)
{
    char text[200];
    int32_t motion = layer->values.lettering.text.form.motion;
    int at_once = motion == DIA_TEXT_RESTS || motion == DIA_TEXT_LETTERS;
    if (takes.columns <= room.columns && (!at_once || takes.rows <= room.rows))
        return;
    if (takes.columns > room.columns)
        snprintf(text, sizeof text,
                 "a text is cut off: it takes %u columns and has %u; let it scroll by "
                 "motion=left, or take a shorter one",
                 (unsigned)takes.columns, (unsigned)room.columns);
    else
        snprintf(text, sizeof text,
                 "a text is cut off: it takes %u rows and has %u; let it go by motion=up or "
                 "motion=pages",
                 (unsigned)takes.rows, (unsigned)room.rows);
    dia_player_complain(c->player, where, "text-cut-off", DIA_WARNING, text);
}

/* How many digits or cells a text takes: by trying. */
static struct dia_text_extent letters_of(const struct dia_text *text, int is_cells)
{
    struct dia_screen wide = {DIA_TEXT_SAYS, DIA_TEXT_SAYS, 1000};
    struct dia_text still = {.says = text->says};
    struct dia_text_extent takes = dia_text_extent_of(&still, &wide);
    uint16_t codes[DIA_TEXT_SAYS];
    for (uint32_t row = 0, most = takes.rows, columns = 0; !is_cells && row < most; row++) {
        dia_text_digits(&still, &wide, 0, (uint16_t)row, codes);
        for (uint32_t k = 0; k < DIA_TEXT_SAYS; k++)
            columns = codes[k] != ' ' && k + 1 > columns ? k + 1 : columns;
        takes.columns = columns;
    }
    return takes;
}

/* What a display shows for a sign. */
static uint8_t cell_of(const struct layers_content *c, uint32_t device, uint16_t sign)
{
    char text[8];
    const char *at = dia_utf8_of(sign, text);
    int cell = dia_rig_cell_code(&c->rig->devices[device], &at);
    if (cell >= 0)
        return (uint8_t)cell;
    const struct dia_drawing_files *files = NULL; /* a show has one set of them */
    for (uint32_t k = 0; k < c->count && !files; k++)
        files = c->layers[k].files;
    const struct dia_rig *own = c->player->rig;
    uint32_t number = 0;
    while (own->devices[number].place != device)
        number++;
    return dia_play_glyph(c->player, number, sign, files, c->ms);
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

#define NOTHING 0xffffu /* no sign at all */

/* Code points that nothing else has (Unicode's private use) stand for codes of the ROM. */
#define OF_ROM 0xe000u

/* The row as the rig has it. */
static void begin(const struct dia_rig_device *device, uint32_t row, uint16_t *codes)
{
    uint32_t columns = columns_of(device), at = 0;
    for (uint32_t k = 0; k < columns; k++)
        codes[k] = ' ';
    for (const char *text = device->text[row]; *text; text++) {
        if (!device->columns && (*text == '.' || *text == ':') && at > 0 &&
            !(codes[at - 1] & DIA_CELL_POINT))
            codes[at - 1] |= DIA_CELL_POINT;
        else if (at < columns)
            codes[at++] = (uint16_t)((device->columns ? OF_ROM : 0) + (uint8_t)*text);
    }
}

static void lay(const struct layers_content *c, uint32_t number, const struct dia_rig_layer *layer,
                const struct meeting *at, uint16_t *codes)
{
    const struct dia_rig_device *device = &c->rig->devices[number];
    uint32_t ms = c->ms - layer->start_ms + layer->ahead_ms;
    uint16_t shown[DIA_RIG_LAMPS];
    struct dia_surface line;
    union dia_look_values values;
    if (dia_surface_line(&line, at->screen.columns, 0, at->screen.pitch_um) != DIA_OK)
        return;
    dia_rig_layer_values(layer, &line, &values);
    struct dia_text *text = &values.lettering.text;
    struct dia_text_extent room = {at->screen.columns, at->screen.rows};
    if (device->columns) {
        dia_text_cells(text, &at->screen, ms, at->row, shown);
    } else {
        text->says = layer->says_on_digits;
        dia_text_digits(text, &at->screen, ms, at->row, shown);
    }
    if (!text->form.wrap && dia_play_text_stands(c, layer))
        dia_play_warn_of_room(c, layer, device->name, letters_of(text, device->columns != 0), room);
    memcpy(codes + at->first, shown + at->skip, at->n * sizeof *codes);
}

/* What shows in the end, so that what is covered takes no glyph. */
static const char *written(struct layers_content *c, uint32_t number, const uint16_t *codes)
{
    const struct dia_rig_device *device = &c->rig->devices[number];
    char *out = c->text;
    for (uint32_t k = 0; k < columns_of(device); k++) {
        if (device->columns) {
            uint16_t rom = (uint16_t)(codes[k] - OF_ROM);
            *out++ = (char)(rom < 256 ? rom : cell_of(c, number, codes[k]));
            continue;
        }
        uint16_t code = codes[k] & (uint16_t)~DIA_CELL_POINT;
        *out++ = (char)(code < 128 ? code : ' ');
        if (codes[k] & DIA_CELL_POINT)
            *out++ = '.';
    }
    *out = 0;
    return c->text;
}

/* What a part of a layer has in a row of a display: 1, or 0: nothing. */
static int lay_row(const struct layers_content *c, uint32_t number,
                   const struct dia_rig_layer *layer, const struct dia_rig_part *part, uint32_t row,
                   uint16_t *codes)
{
    const struct dia_rig_device *device = &c->rig->devices[number];
    struct meeting at;
    if (device->columns && layer->values.lettering.text.form.size > 1)
        return dia_play_tall(c, number, layer, part, row, codes);
    if (!meet(&at, device, part, row))
        return 0;
    lay(c, number, layer, &at, codes);
    return 1;
}

/* 1: all that the rig has are displays with a text of their own. */
static int all_have_texts(const struct dia_rig *rig)
{
    for (uint32_t k = 0; k < rig->device_count; k++) {
        if (rig->devices[k].text[0][0] == 0)
            return 0;
    }
    return rig->lane_count == 0;
}

/* A layer that does not say where is on what has no text of its own; where all has, on all. */
static int is_on(const struct layers_content *c, const struct dia_rig_part *part, uint32_t number)
{
    if (part)
        return part->is_device && part->number == number;
    return c->rig->devices[number].text[0][0] == 0 || all_have_texts(c->rig);
}

const char *dia_play_whole_text(struct layers_content *c, uint32_t number, uint32_t row)
{
    const struct dia_rig_device *device = &c->rig->devices[number];
    uint16_t codes[PLAY_CELLS];
    int any = 0;
    for (uint32_t i = 0; i < c->count; i++) {
        const struct dia_rig_layer *layer = &c->layers[i];
        if (layer->look != &dia_look_text || !shows(layer, c->ms))
            continue;
        for (uint32_t k = 0; k < (layer->parts ? layer->parts : 1); k++) {
            const struct dia_rig_part *part = layer->parts ? &layer->part[k] : NULL;
            if (!is_on(c, part, number))
                continue;
            if (!any)
                begin(device, row, codes);
            any |= lay_row(c, number, layer, part, row, codes);
        }
    }
    return any ? written(c, number, codes) : NULL;
}

/* Spaces at the end of a text count for where its cursor is: as spaces that do not break. */
static void keep_spaces(char says[DIA_TEXT_SAYS])
{
    size_t length = strlen(says), from = length;
    while (from > 0 && says[from - 1] == ' ')
        from--;
    for (size_t n = length - from, at = from; n && at + 3 <= DIA_TEXT_SAYS; n--, at += 2)
        memcpy(says + at, "\302\240", 3);
}

/* Behind the last sign of a text, in the last row in which it has one; else where it begins. */
static void put_cursor(struct layers_content *c, uint32_t number, const struct dia_rig_layer *layer,
                       const struct dia_rig_part *part, struct dia_cells_wanted *wanted)
{
    const struct dia_rig_device *device = &c->rig->devices[number];
    struct dia_rig_layer still = *layer;
    int found = 0;
    still.values.lettering.text.form.blink_ms = 0;
    keep_spaces(still.says);
    for (uint32_t row = 0; row < device->rows; row++) {
        uint16_t codes[PLAY_CELLS];
        uint32_t last = device->columns, first = device->columns;
        for (uint32_t k = 0; k < device->columns; k++)
            codes[k] = NOTHING;
        if (!lay_row(c, number, &still, part, row, codes))
            continue;
        for (uint32_t k = 0; k < device->columns; k++) {
            first = codes[k] != NOTHING && first == device->columns ? k : first;
            last = codes[k] != NOTHING && codes[k] != ' ' ? k : last;
        }
        if (found && last == device->columns)
            continue;
        found = 1;
        wanted->cursor_row = (uint8_t)row;
        wanted->cursor_column =
            (uint8_t)(last == device->columns                                    ? first
                      : last + 1 < device->columns && codes[last + 1] != NOTHING ? last + 1
                                                                                 : last);
    }
    wanted->cursor = found ? layer->cursor : wanted->cursor;
}

/* A light of which less than half is there switches a display off. */
static int is_black(const struct dia_rig_layer *layer)
{
    return dia_lamp_of(layer->values.steady.colour) < 128;
}

void dia_play_whole_cells(struct layers_content *c, uint32_t number,
                          struct dia_cells_wanted *wanted)
{
    for (uint32_t i = 0; i < c->count; i++) {
        const struct dia_rig_layer *layer = &c->layers[i];
        int is_text = layer->look == &dia_look_text && layer->cursor;
        if ((!is_text && layer->look != &dia_look_steady) || !shows(layer, c->ms))
            continue;
        for (uint32_t k = 0; k < layer->parts; k++) {
            const struct dia_rig_part *part = &layer->part[k];
            if (!part->is_device || part->number != number)
                continue;
            if (is_text)
                put_cursor(c, number, layer, part, wanted);
            else
                wanted->on = (uint8_t)!is_black(layer);
        }
        if (is_text && layer->parts == 0 && is_on(c, NULL, number))
            put_cursor(c, number, layer, NULL, wanted);
    }
}
