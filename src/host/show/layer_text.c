/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/look_text.h>
#include <diachrome/nearest.h>
#include <diachrome/quantity.h>
#include <diachrome/rig_layer.h>

#include "host_private.h"
#include "show_private.h"

static const char *const blends[] = {"over",    "add",    "screen", "multiply",
                                     "lighten", "darken", NULL};
/* in the order of enum dia_cursor */
static const char *const cursors[] = {"none", "block", "underline", NULL};
static const char *const clauses[] = {"on",   "along",   "blend",    "level", "from",
                                      "for",  "fade-in", "fade-out", "mask",  "sprite",
                                      "path", "cursor",  NULL};

void dia_rig_layer_init(struct dia_rig_layer *layer, const struct dia_look *look)
{
    memset(layer, 0, sizeof *layer);
    layer->look = look;
    layer->level = DIA_SHARE_ONE;
    look->defaults(&layer->values);
    if (look == &dia_look_text) {
        snprintf(layer->says, sizeof layer->says, "%s", layer->values.lettering.text.says);
        memcpy(layer->says_on_digits, layer->says, sizeof layer->says);
    }
}

/* Elements of all of a lane or device. */
static uint32_t whole_count(const struct dia_rig *rig, const struct dia_rig_part *part)
{
    const struct dia_rig_lane *lane = &rig->lanes[part->number];
    const struct dia_rig_device *device = &rig->devices[part->number];
    if (!part->is_device)
        return lane->count - lane->layout.gap_count;
    return dia_rig_lies(device) == DIA_LIES_DOTS ||
                   device->lamps == device->digits * device->per_digit
               ? device->lamps
               : device->surface.count;
}

static int32_t pitch_of(const struct dia_rig *rig, const struct dia_rig_part *part)
{
    return part->is_device ? rig->devices[part->number].pitch_um
                           : rig->lanes[part->number].layout.surface.pitch_um;
}

/* Where a text is on digits or cells, these are its elements. */
static uint32_t letters_of(const struct dia_rig_device *device)
{
    return device->columns ? (uint32_t)device->columns * device->rows : device->digits;
}

/* 1: what such a look shows there are cells: a text, or steady, which switches a display off. */
static int shows_on_cells(const struct dia_look *look, const struct dia_rig_device *device)
{
    return (look == &dia_look_text && letters_of(device)) ||
           (look == &dia_look_steady && device->columns);
}

/* The look may be NULL: any. */
static enum dia_status find_place(const struct dia_rig *rig, const char *name,
                                  const struct dia_look *look, struct dia_rig_part *part,
                                  uint32_t *count, struct dia_diagnostic *wrong)
{
    const char *names[DIA_RIG_LANES + DIA_RIG_DEVICES + 1] = {NULL};
    uint32_t n = 0;
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        const struct dia_rig_lane *lane = &rig->lanes[i];
        names[n++] = lane->name;
        if (strcmp(lane->name, name) == 0) {
            part->number = i;
            *count = lane->count - lane->layout.gap_count;
            return DIA_OK;
        }
    }
    for (uint32_t i = 0; i < rig->device_count; i++) {
        const struct dia_rig_device *device = &rig->devices[i];
        uint8_t is_it = strcmp(device->name, name) == 0;
        if (is_it && shows_on_cells(look, device)) {
            part->is_device = 1;
            part->number = i;
            *count = letters_of(device);
            return DIA_OK;
        }
        if (device->lamps == 0 ||
            (device->lamps == device->digits * device->per_digit && device->text[0][0])) {
            if (is_it)
                return dia_host_wrong(
                    wrong,
                    device->columns
                        ? "'%s' shows its text, and no look but 'text', and 'steady', which "
                          "switches it off where it is black"
                        : "'%s' shows its text, and no look but 'text'",
                    name);
            continue;
        }
        names[n++] = device->name;
        if (is_it) {
            part->is_device = 1;
            part->number = i;
            *count = whole_count(rig, part);
            return DIA_OK;
        }
    }
    if (name[0] == 0 && n != 0)
        return dia_host_wrong(wrong, "a name is missing beside ',' or '+'; write such as '%s'",
                              names[0]);
    const char *near = dia_nearest(name, names);
    return dia_host_wrong(wrong, "there is no '%.40s' that shows looks on this rig%s%s%s", name,
                          near ? "; did you mean '" : "", near ? near : "", near ? "'?" : "");
}

/* "handrail", "handrail[0-59]", "handrail[7]" or "operator.mail". */
static enum dia_status read_part(const struct dia_rig *rig, const struct dia_look *look, char *text,
                                 struct dia_rig_part *part, struct dia_diagnostic *wrong)
{
    char *bracket = strchr(text, '[');
    unsigned from, to;
    uint32_t count = 0;
    int end = 0;
    memset(part, 0, sizeof *part);
    int found = bracket ? 0 : dia_show_lamp(rig, text, &part->number, &part->first, wrong);
    if (found) {
        part->is_device = 1;
        part->count = 1;
        return found < 0 ? DIA_BAD_VALUE : DIA_OK;
    }
    if (bracket)
        *bracket = 0;
    enum dia_status status = find_place(rig, text, look, part, &count, wrong);
    if (status != DIA_OK || !bracket)
        return status;
    if (part->is_device && look == &dia_look_steady && rig->devices[part->number].columns)
        return dia_host_wrong(wrong, "'%s' is on or off as a whole; write 'on %s'", text, text);
    if (sscanf(bracket + 1, "%6u]%n", &from, &end) == 1 && end)
        to = from;
    else if (sscanf(bracket + 1, "%6u-%6u]%n", &from, &to, &end) != 2)
        end = 0;
    if (!end || bracket[1 + end] || from > to || to >= count)
        return dia_host_wrong(
            wrong, "'%s' has elements 0 to %u; write %s[0-%u], a part of that, or one as %s[0]",
            text, (unsigned)(count - 1), text, (unsigned)(count - 1), text);
    part->first = from;
    part->count = to - from + 1;
    return DIA_OK;
}

enum dia_status dia_rig_element_read(const struct dia_rig *rig, const char *text,
                                     uint8_t *is_device, uint32_t *number, uint32_t *element,
                                     struct dia_diagnostic *wrong)
{
    char name[SHOW_WORD];
    struct dia_rig_part part = {0};
    uint32_t count = 0;
    unsigned which;
    int end = 0;
    size_t length = strcspn(text, "[");
    int found = dia_show_lamp(rig, text, number, element, wrong);
    if (found > 0) {
        *is_device = 1;
        *element += rig->devices[*number].digits * rig->devices[*number].per_digit;
    }
    if (found)
        return found < 0 ? DIA_BAD_VALUE : DIA_OK;
    snprintf(name, sizeof name, "%.*s", (int)(length < SHOW_WORD ? length : SHOW_WORD - 1), text);
    enum dia_status status = find_place(rig, name, NULL, &part, &count, wrong);
    if (status != DIA_OK)
        return status;
    count = part.is_device ? rig->devices[part.number].lamps : rig->lanes[part.number].count;
    if (sscanf(text + length, "[%6u]%n", &which, &end) != 1 || !end || text[length + (size_t)end] ||
        which >= count)
        return dia_host_wrong(
            wrong, count > 1 ? "write %s[0] to %s[%u]" : "'%s' has one element: write %s[%u]", name,
            name, (unsigned)(count - 1));
    *is_device = part.is_device;
    *number = part.number;
    *element = which;
    return DIA_OK;
}

/* What a look runs along as a line must be one: pitches are those of grids and folds too, which may
 * have more elements than a line of that pitch. */
static enum dia_status check_line(uint32_t count, int32_t pitch_um, struct dia_diagnostic *wrong)
{
    struct dia_surface line;
    struct dia_words w[1];
    if (dia_surface_line(&line, count, 0, pitch_um) == DIA_OK)
        return DIA_OK;
    return dia_host_wrong(wrong, "%u elements %s apart are longer than 2147 m; take at most %u",
                          (unsigned)count, dia_quantity_as(pitch_um, DIA_LENGTH, w),
                          (unsigned)(INT32_MAX / pitch_um));
}

/* "a+b[0-9]+c": parts that follow each other. */
static enum dia_status read_joined(struct dia_rig_layer *layer, const struct dia_rig *rig,
                                   char *text, struct dia_diagnostic *wrong)
{
    uint32_t first = layer->parts, all = 0;
    char *rest = text;
    while (rest) {
        char *plus = strchr(rest, '+');
        if (plus)
            *plus++ = 0;
        if (layer->parts == DIA_RIG_PARTS)
            return dia_host_wrong(wrong, "a layer is on at most %d places", DIA_RIG_PARTS);
        struct dia_rig_part *part = &layer->part[layer->parts];
        enum dia_status status = read_part(rig, layer->look, rest, part, wrong);
        if (status != DIA_OK)
            return status;
        if (part->count && (status = check_line(part->count, pitch_of(rig, part), wrong)) != DIA_OK)
            return status;
        part->offset = all;
        all += part->count ? part->count : whole_count(rig, part);
        layer->parts++;
        rest = plus;
    }
    if (layer->parts == first + 1)
        return DIA_OK;
    if (layer->look == &dia_look_picture)
        return dia_show_join_on_desk(layer, rig, first, wrong);
    enum dia_status status = check_line(all, pitch_of(rig, &layer->part[first]), wrong);
    for (uint32_t k = first; k < layer->parts; k++) {
        struct dia_rig_part *part = &layer->part[k];
        part->all = all;
        part->pitch_um = pitch_of(rig, &layer->part[first]);
        part->count = part->count ? part->count : whole_count(rig, part);
    }
    return status;
}

static enum dia_status read_where(struct dia_rig_layer *layer, const struct dia_rig *rig,
                                  char *text, struct dia_diagnostic *wrong)
{
    enum dia_status status = DIA_OK;
    char *rest = text;
    if (layer->look == &dia_look_picture && strcmp(text, "desk") == 0)
        return dia_show_all_of_desk(layer, rig, wrong);
    while (rest && status == DIA_OK) {
        char *comma = strchr(rest, ',');
        if (comma)
            *comma++ = 0;
        status = read_joined(layer, rig, rest, wrong);
        rest = comma;
    }
    return status;
}

/* A PNG, or a drawing of a file that has been read. */
static enum dia_status read_sprite(struct dia_rig_layer *layer, const char *word,
                                   struct dia_diagnostic *wrong)
{
    static const struct dia_drawing_files none;
    if (strchr(word, '.') || strchr(word, '/'))
        return dia_rig_sprite_read(word, &layer->sprite, wrong);
    layer->drawn.dots =
        dia_drawing_files_find(layer->files ? layer->files : &none, word, &layer->drawn.of, wrong);
    return layer->drawn.dots ? DIA_OK : DIA_BAD_VALUE;
}

static enum dia_status read_clause(struct dia_rig_layer *layer, const struct dia_rig *rig,
                                   uint8_t clause, char *word, struct dia_diagnostic *wrong)
{
    uint32_t *const times[] = {&layer->start_ms, &layer->length_ms, &layer->fade_in_ms,
                               &layer->fade_out_ms};
    int64_t value;
    enum dia_status status;
    switch (clause) {
    case 0:
        return read_where(layer, rig, word, wrong);
    case 1:
        return dia_show_choose("'along'", word, dia_axis_words, &layer->axis, wrong);
    case 2:
        return dia_show_choose("'blend'", word, blends, &layer->blend, wrong);
    case 3:
        status = dia_show_amount("level", word, DIA_PERCENT, 0, 1000000, &value, wrong);
        if (status == DIA_OK)
            layer->level = (dia_share)((value * DIA_SHARE_ONE + 500000) / 1000000);
        return status;
    case 11:
        if (layer->look != &dia_look_text)
            return dia_host_wrong(wrong, "'cursor' is for the look text; this is %s",
                                  layer->look->name);
        return dia_show_choose("'cursor'", word, cursors, &layer->cursor, wrong);
    case 10:
        if (layer->look != &dia_look_draw)
            return dia_host_wrong(wrong, "'path' is for the look draw; this is %s",
                                  layer->look->name);
        return dia_show_path_read(layer, word, wrong);
    case 9:
        if (layer->look != &dia_look_draw)
            return dia_host_wrong(wrong, "'sprite' is for the look draw; this is %s",
                                  layer->look->name);
        return read_sprite(layer, word, wrong);
    case 8:
        layer->masked = 1;
        return dia_show_mask_read(&layer->mask, word, wrong);
    default:
        if (strcmp(clauses[clause], "for") == 0 && strcmp(word, "ever") == 0) {
            layer->length_ms = 0;
            return DIA_OK;
        }
        status = dia_show_amount(clauses[clause], word, DIA_TIME, 0, 86400000, &value, wrong);
        if (status == DIA_OK)
            *times[clause - 4] = (uint32_t)value;
        return status;
    }
}

/* KEY=VALUE; the brackets of a mask have their own. */
static int sets_a_parameter(const char *word)
{
    const char *equals = strchr(word, '='), *bracket = strchr(word, '(');
    return equals && (!bracket || equals < bracket);
}

static enum dia_status read_words(struct dia_rig_layer *layer, const struct dia_rig *rig,
                                  const char *at, struct dia_diagnostic *wrong)
{
    char word[SHOW_WORD], value[SHOW_WORD];
    enum dia_status status = DIA_OK;
    unsigned seen = 0;
    while (status == DIA_OK && dia_show_word(&at, word)) {
        uint8_t clause = 0;
        if (sets_a_parameter(word)) {
            status = dia_rig_layer_set(layer, word, wrong);
            continue;
        }
        while (clauses[clause] && strcmp(clauses[clause], word) != 0)
            clause++;
        if (!clauses[clause]) {
            const char *near = dia_nearest(word, clauses);
            return dia_host_wrong(
                wrong, "'%.40s' has no meaning here; %s%s%s", word,
                near ? "did you mean '"
                     : "after the look come KEY=VALUE, and on, along, "
                       "blend, level, mask, sprite, path, cursor, from, for, fade-in, fade-out",
                near ? near : "", near ? "'?" : "");
        }
        if (seen >> clause & 1)
            return dia_host_wrong(wrong, "'%s' is here twice; keep one of them", word);
        seen |= 1u << clause;
        if (!dia_show_word(&at, value))
            return dia_host_wrong(wrong, "'%s' needs a value behind it", word);
        status = read_clause(layer, rig, clause, value, wrong);
    }
    return status;
}

enum dia_status dia_rig_layer_read(struct dia_rig_layer *layer, const struct dia_rig *rig,
                                   const char *text, struct dia_diagnostic *wrong)
{
    return dia_show_layer_read(layer, rig, NULL, text, wrong);
}

enum dia_status dia_show_layer_read(struct dia_rig_layer *layer, const struct dia_rig *rig,
                                    const struct dia_drawing_files *files, const char *text,
                                    struct dia_diagnostic *wrong)
{
    struct dia_rig_layer read;
    char name[SHOW_WORD];
    const char *at = text;
    if (!dia_show_word(&at, name))
        return dia_host_wrong(
            wrong, "a layer begins with the name of a look, such as 'chase on handrail'");
    const struct dia_look *look = dia_look_named(name, wrong);
    if (!look)
        return DIA_BAD_VALUE;
    rig = dia_rig_whole(rig);
    dia_rig_layer_init(&read, look);
    read.files = files;
    read.live = rig->live_streams;
    enum dia_status status = read_words(&read, rig, at, wrong);
    if (status == DIA_OK)
        status = dia_rig_layer_open(&read, wrong);
    if (status == DIA_OK)
        *layer = read;
    return status;
}
