/* SPDX-License-Identifier: MIT */
#include <ctype.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/colour_text.h>
#include <diachrome/look_text.h>
#include <diachrome/nearest.h>
#include <diachrome/picture.h>
#include <diachrome/universe.h>
#include <diachrome/quantity.h>

#include "host_private.h"

#define MOST_WORDS 32

static void listed(const char *const *words, char *text, size_t size)
{
    text[0] = 0;
    for (size_t i = 0; words[i]; i++) {
        size_t used = strlen(text);
        snprintf(text + used, size - used, "%s%s", used ? ", " : "", words[i]);
    }
}

const struct dia_look *const dia_desk_looks[] = {&dia_look_picture, &dia_look_universe, NULL};

const struct dia_look *dia_look_named(const char *name, struct dia_diagnostic *wrong)
{
    const struct dia_look *look = dia_look_find(name);
    for (int k = 0; !look && dia_desk_looks[k]; k++)
        look = strcmp(name, dia_desk_looks[k]->name) == 0 ? dia_desk_looks[k] : NULL;
    if (look)
        return look;
    const char *names[MOST_WORDS] = {NULL};
    char all[400];
    int n = 0;
    for (; n < MOST_WORDS - 3 && dia_looks[n]; n++)
        names[n] = dia_looks[n]->name;
    for (int k = 0; dia_desk_looks[k]; k++)
        names[n++] = dia_desk_looks[k]->name;
    const char *near = dia_nearest(name, names);
    listed(names, all, sizeof all);
    if (near)
        dia_host_wrong(wrong, "unknown look '%.40s'; did you mean '%s'?", name, near);
    else
        dia_host_wrong(wrong, "unknown look '%.40s'; there are %s", name, all);
    return NULL;
}

const struct dia_param *dia_look_param(const struct dia_look *look, const char *key,
                                       struct dia_diagnostic *wrong)
{
    const char *keys[MOST_WORDS] = {NULL};
    char all[400];
    for (int i = 0; i < look->param_count && i < MOST_WORDS - 1; i++) {
        if (strcmp(look->params[i].key, key) == 0)
            return &look->params[i];
        keys[i] = look->params[i].key;
    }
    const char *near = dia_nearest(key, keys);
    listed(keys, all, sizeof all);
    if (near)
        dia_host_wrong(wrong, "look '%s' has no '%.40s'; did you mean '%s'?", look->name, key,
                       near);
    else
        dia_host_wrong(wrong, "look '%s' has no '%.40s'; it takes %s", look->name, key, all);
    return NULL;
}

static enum dia_quantity quantity_of(enum dia_param_kind kind)
{
    switch (kind) {
    case DIA_PARAM_SHARE:
        return DIA_PERCENT;
    case DIA_PARAM_LENGTH:
        return DIA_LENGTH;
    case DIA_PARAM_SPEED:
        return DIA_SPEED;
    case DIA_PARAM_TIME:
        return DIA_TIME;
    default:
        return DIA_NUMBER;
    }
}

/* A share is kept in 32768ths and written in percent, kept in 1e-4 %; the others are the same. */
static int64_t kept(enum dia_param_kind kind, int64_t written)
{
    return kind == DIA_PARAM_SHARE ? (written * DIA_SHARE_ONE + 500000) / 1000000 : written;
}

static int64_t written(enum dia_param_kind kind, int64_t kept_value)
{
    /* to a hundredth of a percent, which is finer than 1/32768 */
    return kind == DIA_PARAM_SHARE ? (kept_value * 10000 + 16384) / 32768 * 100 : kept_value;
}

static enum dia_status read_number(const struct dia_param *param, const char *text, void *field,
                                   struct dia_diagnostic *wrong)
{
    int64_t value;
    char what[60];
    snprintf(what, sizeof what, "'%s'", param->key);
    enum dia_status status =
        dia_quantity_read(text, quantity_of(param->kind), written(param->kind, param->min),
                          written(param->kind, param->max), what, &value, wrong);
    if (status != DIA_OK)
        return status;
    int32_t number = (int32_t)kept(param->kind, value);
    memcpy(field, &number, sizeof number);
    return DIA_OK;
}

enum dia_status dia_look_amount(const struct dia_look *look, const char *key, const char *text,
                                const struct dia_param **param, int32_t *amount,
                                struct dia_diagnostic *wrong)
{
    struct dia_param range;
    *param = dia_look_param(look, key, wrong);
    if (!*param)
        return DIA_BAD_VALUE;
    range = **param;
    if (range.kind == DIA_PARAM_COLOUR || range.kind == DIA_PARAM_PALETTE ||
        range.kind == DIA_PARAM_CHOICE || range.kind == DIA_PARAM_TEXT ||
        range.kind == DIA_PARAM_FACE)
        return dia_host_wrong(wrong, "'%s' is no number; it can be set, not raised or lowered",
                              key);
    range.max = (int64_t)range.max - range.min > INT32_MAX ? INT32_MAX : range.max - range.min;
    range.min = 0;
    return read_number(&range, text, amount, wrong);
}

/* The n-th of words with spaces between, or "". */
static void word_number(const char *words, int32_t n, char *text, size_t size)
{
    for (; n > 0 && *words; n--) {
        words += strcspn(words, " ");
        words += *words == ' ';
    }
    snprintf(text, size, "%.*s", (int)strcspn(words, " "), words);
}

static enum dia_status read_choice(const struct dia_param *param, const char *text, void *field,
                                   struct dia_diagnostic *wrong)
{
    char words[8][24];
    const char *known[9] = {NULL};
    for (int32_t k = 0; k <= param->max && k < 8; k++) {
        word_number(param->words, k, words[k], sizeof words[k]);
        known[k] = words[k];
        if (strcmp(words[k], text) == 0) {
            memcpy(field, &k, sizeof k);
            return DIA_OK;
        }
    }
    const char *near = dia_nearest(text, known);
    if (near)
        return dia_host_wrong(wrong, "'%s' has no choice '%.40s'; did you mean '%s'?", param->key,
                              text, near);
    return dia_host_wrong(wrong, "'%s' has no choice '%.40s'; it has: %s", param->key, text,
                          param->words);
}

/* The faces that are compiled in. */
static const struct {
    const char *name;
    const struct dia_face *face;
} faces[] = {{"plain", &dia_face_plain},
             {"small", &dia_face_small},
             {"cell", &dia_face_cell},
             {"bold", &dia_face_bold}};
#define FACES (sizeof faces / sizeof faces[0])

static enum dia_status read_face(const char *text, void *field, struct dia_diagnostic *wrong)
{
    const char *names[FACES + 1] = {NULL};
    char all[80];
    for (size_t k = 0; k < FACES; k++) {
        names[k] = faces[k].name;
        if (strcmp(text, faces[k].name) == 0) {
            memcpy(field, &faces[k].face, sizeof faces[k].face);
            return DIA_OK;
        }
    }
    const char *near = dia_nearest(text, names);
    listed(names, all, sizeof all);
    if (near)
        return dia_host_wrong(wrong, "there is no face '%.40s'; did you mean '%s'?", text, near);
    return dia_host_wrong(wrong, "there is no face '%.40s'; there are %s", text, all);
}

static const char *face_name(const struct dia_face *face)
{
    for (size_t k = 0; k < FACES; k++) {
        if (faces[k].face == face)
            return faces[k].name;
    }
    return "";
}

enum dia_status dia_look_set(const struct dia_look *look, void *values, const char *setting,
                             struct dia_diagnostic *wrong)
{
    const char *equals = strchr(setting, '=');
    char key[48];
    if (!equals || equals == setting || (size_t)(equals - setting) >= sizeof key)
        return dia_host_wrong(wrong, "'%.60s' sets nothing; write KEY=VALUE, such as %s=...",
                              setting, look->params[0].key);
    snprintf(key, sizeof key, "%.*s", (int)(equals - setting), setting);
    const struct dia_param *param = dia_look_param(look, key, wrong);
    if (!param)
        return DIA_BAD_VALUE;
    void *field = (char *)values + param->offset;
    const char *text = equals + 1;
    if (param->kind == DIA_PARAM_PALETTE)
        return dia_host_palette_text(text, field, wrong);
    if (param->kind == DIA_PARAM_CHOICE)
        return read_choice(param, text, field, wrong);
    if (param->kind == DIA_PARAM_TEXT)
        return dia_host_wrong(wrong, "'%s' of '%s' is a text; a layer of a rig can set it", key,
                              look->name);
    if (param->kind == DIA_PARAM_FACE)
        return read_face(text, field, wrong);
    if (param->kind != DIA_PARAM_COLOUR)
        return read_number(param, text, field, wrong);
    struct dia_diagnostic why = {""};
    if (dia_colour_read(text, field, &why) != DIA_OK)
        return dia_host_wrong(wrong, "'%s': %s", param->key, why.text);
    return DIA_OK;
}

static void colour_text(struct dia_rgb colour, char *text, size_t size)
{
    snprintf(text, size, "#%02x%02x%02x", colour.r, colour.g, colour.b);
}

char *dia_param_value_text(const struct dia_param *param, const void *values, char *text, int size)
{
    const void *field = (const char *)values + param->offset;
    size_t room = (size_t)size;
    int32_t number;
    text[0] = 0;
    if (param->kind == DIA_PARAM_COLOUR) {
        colour_text(*(const struct dia_rgb *)field, text, room);
    } else if (param->kind == DIA_PARAM_PALETTE) {
        const struct dia_palette *palette = field;
        for (int i = 0; i < palette->count; i++) {
            size_t used = strlen(text);
            snprintf(text + used, room - used, "%s", i ? "," : palette->placed ? "gradient(" : "");
            used = strlen(text);
            colour_text(palette->colours[i], text + used, room - used);
            used = strlen(text);
            if (palette->placed)
                snprintf(text + used, room - used, " %.4g%%%s", palette->places[i] * 100.0 / 65535,
                         i + 1 == palette->count ? ")" : "");
        }
    } else if (param->kind == DIA_PARAM_TEXT && param->offset == DIA_PARAM_BESIDE) {
        snprintf(text, room, "none");
    } else if (param->kind == DIA_PARAM_TEXT) {
        const char *says;
        memcpy(&says, field, sizeof says);
        snprintf(text, room, "\"%s\"", says ? says : "");
    } else if (param->kind == DIA_PARAM_FACE) {
        const struct dia_face *face;
        memcpy(&face, field, sizeof face);
        snprintf(text, room, "%s", face_name(face));
    } else if (param->kind == DIA_PARAM_CHOICE) {
        memcpy(&number, field, sizeof number);
        word_number(param->words, number, text, room);
    } else {
        memcpy(&number, field, sizeof number);
        dia_quantity_write(written(param->kind, number), quantity_of(param->kind), text, size);
    }
    return text;
}

char *dia_param_range_text(const struct dia_param *param, char *text, int size)
{
    char low[40], high[40];
    enum dia_quantity kind = quantity_of(param->kind);
    if (param->kind == DIA_PARAM_COLOUR)
        snprintf(text, (size_t)size, "#000000 to #ffffff");
    else if (param->kind == DIA_PARAM_PALETTE)
        snprintf(text, (size_t)size, "1 to %d colours", DIA_PALETTE_MAX);
    else if (param->kind == DIA_PARAM_TEXT)
        snprintf(text, (size_t)size, "up to %d bytes of UTF-8", DIA_TEXT_SAYS - 1);
    else if (param->kind == DIA_PARAM_FACE)
        for (size_t k = 0, used = 0; k < FACES; k++, used = strlen(text))
            snprintf(text + used, (size_t)size - used, "%s%s", k ? " " : "", faces[k].name);
    else if (param->kind == DIA_PARAM_CHOICE)
        snprintf(text, (size_t)size, "%s", param->words);
    else
        snprintf(text, (size_t)size, "%s to %s",
                 dia_quantity_write(written(param->kind, param->min), kind, low, sizeof low),
                 dia_quantity_write(written(param->kind, param->max), kind, high, sizeof high));
    return text;
}

const char *dia_param_unit(const struct dia_param *param)
{
    switch (param->kind) {
    case DIA_PARAM_COLOUR:
        return "#rrggbb";
    case DIA_PARAM_PALETTE:
        return "#rrggbb,...";
    case DIA_PARAM_SHARE:
        return "%";
    case DIA_PARAM_LENGTH:
        return "mm";
    case DIA_PARAM_SPEED:
        return "mm/s";
    case DIA_PARAM_TIME:
        return "s";
    default:
        return "";
    }
}
