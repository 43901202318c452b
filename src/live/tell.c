/* SPDX-License-Identifier: MIT */
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <cjson/cJSON.h>

#include <diachrome/look_text.h>

#include "tell.h"

/* ---- texts ----------------------------------------------------------------------------------- */

/* How many bytes a sign of UTF-8 takes; 0: it is none. */
static size_t sign_bytes(const unsigned char *at)
{
    size_t n = *at < 0x80                  ? 1
               : *at >= 0xc2 && *at < 0xe0 ? 2
               : *at >= 0xe0 && *at < 0xf0 ? 3
               : *at >= 0xf0 && *at < 0xf5 ? 4
                                           : 0;
    for (size_t k = 1; k < n; k++) {
        if ((at[k] & 0xc0) != 0x80)
            return 0;
    }
    return n;
}

/* JSON is UTF-8; a file of something else shows with question marks. */
static void add_text(cJSON *to, const char *name, const char *text)
{
    char *copy = malloc(strlen(text) + 1), *out = copy;
    for (const unsigned char *at = (const unsigned char *)text; copy && *at;) {
        size_t n = sign_bytes(at);
        if (n == 0)
            *out++ = '?';
        else
            memcpy(out, at, n);
        out += n;
        at += n ? n : 1;
    }
    if (copy)
        *out = 0;
    cJSON_AddStringToObject(to, name, copy ? copy : "");
    free(copy);
}

static char *print(cJSON *json)
{
    char *text = cJSON_PrintUnformatted(json);
    cJSON_Delete(json);
    return text;
}

static cJSON *add_to(cJSON *list)
{
    cJSON *one = cJSON_CreateObject();
    cJSON_AddItemToArray(list, one);
    return one;
}

static double rounded(double number, double of)
{
    return round(number * of) / of;
}

/* ---- the show -------------------------------------------------------------------------------- */

static void hex(char text[8], struct dia_rgb colour)
{
    snprintf(text, 8, "#%02x%02x%02x", colour.r, colour.g, colour.b);
}

/* Colours as #rrggbb, however the text has them. */
static void tell_colours(cJSON *to, const struct dia_rig_layer *layer)
{
    for (uint8_t p = 0; p < layer->look->param_count; p++) {
        const struct dia_param *param = &layer->look->params[p];
        char text[8];
        struct dia_rgb colour;
        if (param->kind != DIA_PARAM_COLOUR)
            continue;
        memcpy(&colour, (const char *)&layer->values + param->offset, sizeof colour);
        hex(text, colour);
        cJSON_AddStringToObject(to, param->key, text);
    }
}

static void tell_layer(cJSON *to, const struct dia_live *live, uint32_t k)
{
    static const char *const clauses[] = {"on",   "along",  "blend",   "level",
                                          "from", "for",    "fade-in", "fade-out",
                                          "mask", "sprite", "path",    "cursor"};
    const struct dia_show *show = dia_live_show(live);
    const struct dia_rig_layer *layer = &show->layers[k];
    char handle[DIA_RIG_NAME + 1], value[2048];
    snprintf(handle, sizeof handle, "#%u", (unsigned)k + 1);
    cJSON_AddStringToObject(to, "layer", show->names[k][0] ? show->names[k] : handle);
    cJSON_AddStringToObject(to, "look", layer->look->name);
    cJSON *params = cJSON_AddObjectToObject(to, "parameters");
    for (uint8_t p = 0; p < layer->look->param_count; p++) {
        const struct dia_param *param = &layer->look->params[p];
        char key[sizeof param->key + 2];
        snprintf(key, sizeof key, "%s=", param->key);
        dia_live_clause(live, k, key, value, sizeof value);
        if (value[0] == 0 && param->offset != DIA_PARAM_BESIDE && param->kind != DIA_PARAM_TEXT)
            dia_param_value_text(param, &layer->values, value, sizeof value);
        add_text(params, param->key, value);
    }
    tell_colours(cJSON_AddObjectToObject(to, "colours"), layer);
    cJSON *said = cJSON_AddObjectToObject(to, "clauses");
    for (size_t c = 0; c < sizeof clauses / sizeof clauses[0]; c++) {
        dia_live_clause(live, k, clauses[c], value, sizeof value);
        if (value[0])
            add_text(said, clauses[c], value);
    }
}

static void add_key(cJSON *list, const char *key, const char *does)
{
    cJSON *one = add_to(list);
    add_text(one, "key", key);
    add_text(one, "does", does);
}

int dia_tell_key(const struct dia_rig *rig, uint8_t key, char *name, size_t size)
{
    uint32_t device = key / DIA_KEYS;
    if (key >= DIA_SHOW_BUTTONS && key - DIA_SHOW_BUTTONS < (int)rig->button_count)
        snprintf(name, size, "%s", rig->buttons[key - DIA_SHOW_BUTTONS].name);
    else if (device < rig->device_count && dia_rig_has_keys(&rig->devices[device]))
        snprintf(name, size, "%s.%d", rig->devices[device].name, key % DIA_KEYS + 1);
    else
        return 0;
    return 1;
}

/* Those that count a value. */
static void tell_counting(cJSON *list, const struct dia_show *show, const struct dia_rig *rig)
{
    for (uint32_t k = 0; k < show->value_count; k++) {
        const struct dia_show_value *value = &show->values[k];
        char name[DIA_RIG_NAME + 4], does[DIA_RIG_NAME + 8];
        for (int down = 0; down < 2 && value->source == DIA_VALUE_KEYS; down++) {
            snprintf(does, sizeof does, "%s %s", value->name, down ? "down" : "up");
            if (dia_tell_key(rig, down ? value->down : value->up, name, sizeof name))
                add_key(list, name, does);
        }
    }
}

/* Keys that the show asks for, with what they do as its lines have it; those of the rig besides. */
static void tell_keys(cJSON *list, const struct dia_live *live, const struct dia_rig *rig)
{
    for (const char *at = dia_live_text(live); *at;) {
        size_t length = strcspn(at, "\r\n");
        char line[200], *key, *does;
        snprintf(line, sizeof line, "%.*s", (int)(length < 199 ? length : 199), at);
        at += length;
        at += strspn(at, "\r\n");
        if (strncmp(line, "key ", 4) != 0)
            continue;
        key = line + 4 + strspn(line + 4, " \t");
        does = key + strcspn(key, " \t");
        if (*does)
            *does++ = 0;
        add_key(list, key, does + strspn(does, " \t"));
    }
    tell_counting(list, dia_live_show(live), rig);
    for (uint32_t k = 0; k < rig->device_count; k++) {
        for (unsigned n = 1; n <= DIA_KEYS && dia_rig_has_keys(&rig->devices[k]); n++) {
            char key[DIA_RIG_NAME + 4];
            snprintf(key, sizeof key, "%s.%u", rig->devices[k].name, n);
            add_key(list, key, "");
        }
    }
    for (uint32_t k = 0; k < rig->button_count; k++)
        add_key(list, rig->buttons[k].name, "");
}

static void tell_values(cJSON *list, const struct dia_show *show)
{
    for (uint32_t k = 0; k < show->value_count; k++) {
        const struct dia_show_value *value = &show->values[k];
        cJSON *one = add_to(list);
        cJSON_AddStringToObject(one, "name", value->name);
        cJSON_AddBoolToObject(one, "input", value->source == DIA_VALUE_INPUT);
        cJSON_AddNumberToObject(one, "decimals", value->hidden ? 0 : value->decimals);
        if (value->source == DIA_VALUE_INPUT && value->count)
            cJSON_AddNumberToObject(
                one, "number", value->readings[value->count - 1].number / pow(10, value->decimals));
    }
}

char *dia_tell_state(const struct tell_state *of)
{
    const struct dia_live *live = of->live;
    const struct dia_show *show = dia_live_show(of->live);
    cJSON *json = cJSON_CreateObject();
    cJSON_AddStringToObject(json, "kind", "state");
    add_text(json, "rig", of->rig->name);
    if (of->node)
        add_text(json, "node", of->node);
    cJSON_AddNumberToObject(json, "version", dia_live_version(live));
    cJSON_AddNumberToObject(json, "master",
                            rounded(dia_live_master(live) * 100.0 / DIA_SHARE_ONE, 10));
    cJSON_AddBoolToObject(json, "paused", dia_live_is_paused(live));
    cJSON_AddNumberToObject(json, "pace", rounded(dia_live_pace(live) * 100.0 / DIA_SHARE_ONE, 10));
    cJSON_AddNumberToObject(json, "show_ms", dia_live_show_ms(live, of->ms));
    cJSON_AddNumberToObject(json, "undo", dia_live_undos(live));
    cJSON_AddNumberToObject(json, "redo", dia_live_redos(live));
    cJSON_AddBoolToObject(json, "may_save", of->may_save);
    cJSON_AddNumberToObject(json, "scene", of->scene);
    cJSON *layers = cJSON_AddArrayToObject(json, "layers");
    for (uint32_t k = 0; k < show->layer_count; k++)
        tell_layer(add_to(layers), live, k);
    tell_values(cJSON_AddArrayToObject(json, "values"), show);
    tell_keys(cJSON_AddArrayToObject(json, "keys"), live, dia_rig_whole(of->rig));
    cJSON *names = cJSON_AddArrayToObject(json, "presets");
    for (uint32_t k = 0; k < of->presets->count; k++)
        cJSON_AddItemToArray(names, cJSON_CreateString(of->presets->names[k]));
    add_text(json, "text", dia_live_text(live));
    return print(json);
}

/* ---- how it goes ----------------------------------------------------------------------------- */

/* Values and choices, as texts show them. */
static void tell_numbers(cJSON *to, const struct tell_status *status)
{
    struct dia_value all[DIA_LIVE_VALUES];
    uint8_t count = dia_live_values(status->live, status->ms, all);
    for (uint8_t k = 0; k < count; k++) {
        char field[DIA_RIG_NAME + 3], text[DIA_VALUE_TEXT + 16];
        snprintf(field, sizeof field, "{%s}", all[k].name);
        dia_values_text(field, all, count, 0, text, sizeof text);
        add_text(to, all[k].name, text);
    }
}

char *dia_tell_status(const struct dia_player *player, const struct dia_rig *rig,
                      const struct tell_status *status)
{
    const struct dia_findings *found = dia_player_findings(player);
    cJSON *json = cJSON_CreateObject();
    cJSON_AddStringToObject(json, "kind", "status");
    cJSON_AddNumberToObject(json, "show_ms", status->show_ms);
    cJSON_AddNumberToObject(json, "frames", (double)status->frames);
    cJSON_AddNumberToObject(json, "late", (double)status->late);
    add_text(json, "trouble", status->trouble);
    cJSON *supplies = cJSON_AddArrayToObject(json, "supplies");
    for (uint32_t k = 0; k < rig->supply_count; k++) {
        cJSON *one = add_to(supplies);
        cJSON_AddStringToObject(one, "name", rig->supplies[k].name);
        cJSON_AddNumberToObject(one, "gives_a",
                                rounded((double)dia_player_gives_ua(player, k) / 1e6, 1000));
        cJSON_AddNumberToObject(one, "most_a",
                                dia_player_alike(player, k) * rig->supplies[k].current_ua / 1e6);
        cJSON_AddNumberToObject(one, "light",
                                rounded(dia_player_share(player, k) * 100.0 / DIA_SHARE_ONE, 10));
    }
    tell_numbers(cJSON_AddObjectToObject(json, "values"), status);
    cJSON *findings = cJSON_AddArrayToObject(json, "findings");
    for (uint32_t k = 0; k < found->count && k < 100; k++) {
        cJSON *one = add_to(findings);
        cJSON_AddStringToObject(one, "level", dia_finding_level_text(found->items[k].level));
        cJSON_AddStringToObject(one, "code", found->items[k].code);
        add_text(one, "place", found->items[k].place);
        add_text(one, "text", found->items[k].text);
        cJSON_AddNumberToObject(one, "times", found->items[k].times);
    }
    return print(json);
}

/* ---- what does not change -------------------------------------------------------------------- */

static void add_mm(cJSON *list, float mm)
{
    cJSON_AddItemToArray(list, cJSON_CreateNumber(rounded((double)mm, 100)));
}

char *dia_tell_scene(const struct dia_scene *scene, const struct dia_rig *rig)
{
    cJSON *json = cJSON_CreateObject();
    add_text(json, "rig", rig->name);
    cJSON_AddNumberToObject(json, "width", rounded((double)scene->width, 100));
    cJSON_AddNumberToObject(json, "height", rounded((double)scene->height, 100));
    cJSON_AddNumberToObject(json, "bytes", scene->bytes);
    cJSON *things = cJSON_AddArrayToObject(json, "things");
    for (uint32_t t = 0; t < scene->thing_count; t++) {
        const struct dia_scene_thing *thing = &scene->things[t];
        char ground[8];
        hex(ground, thing->ground);
        cJSON *one = add_to(things);
        cJSON_AddStringToObject(one, "name", thing->name);
        cJSON_AddStringToObject(one, "ground", ground);
        cJSON_AddNumberToObject(one, "at", thing->at);
        cJSON *box = cJSON_AddArrayToObject(one, "box");
        add_mm(box, thing->x);
        add_mm(box, thing->y);
        add_mm(box, thing->width);
        add_mm(box, thing->height);
        cJSON *elements = cJSON_AddArrayToObject(one, "elements"); /* x y w h shape turn, each */
        for (uint32_t k = 0; k < thing->count; k++) {
            const struct dia_scene_element *e = &scene->elements[thing->first + k];
            add_mm(elements, e->x);
            add_mm(elements, e->y);
            add_mm(elements, e->w);
            add_mm(elements, e->h);
            cJSON_AddItemToArray(elements, cJSON_CreateNumber(e->shape));
            cJSON_AddItemToArray(elements, cJSON_CreateNumber(e->turn));
        }
    }
    return print(json);
}

/* In the unit that it is written in. */
static double in_unit(const struct dia_param *param, int32_t value)
{
    switch (param->kind) {
    case DIA_PARAM_SHARE:
        return rounded(value * 100.0 / DIA_SHARE_ONE, 10);
    case DIA_PARAM_LENGTH:
    case DIA_PARAM_SPEED:
    case DIA_PARAM_TIME:
        return value / 1000.0;
    default:
        return value;
    }
}

static void tell_param(cJSON *to, const struct dia_look *look, const struct dia_param *param)
{
    static const char *const kinds[] = {"colour", "palette", "count",  "share", "length",
                                        "speed",  "time",    "choice", "text",  "face"};
    union dia_look_values values;
    char text[512] = "";
    look->defaults(&values);
    if (param->offset != DIA_PARAM_BESIDE && param->kind != DIA_PARAM_TEXT)
        dia_param_value_text(param, &values, text, sizeof text);
    cJSON_AddStringToObject(to, "key", param->key);
    cJSON_AddStringToObject(to, "help", param->help);
    cJSON_AddStringToObject(to, "kind", kinds[param->kind]);
    cJSON_AddStringToObject(to, "usual", text);
    if (param->kind >= DIA_PARAM_COUNT && param->kind <= DIA_PARAM_TIME) {
        cJSON_AddStringToObject(to, "unit", dia_param_unit(param));
        cJSON_AddNumberToObject(to, "min", in_unit(param, param->min));
        cJSON_AddNumberToObject(to, "max", in_unit(param, param->max));
    }
    if (param->words)
        cJSON_AddStringToObject(to, "words", param->words);
}

static void tell_look(cJSON *to, const struct dia_look *look)
{
    cJSON_AddStringToObject(to, "name", look->name);
    cJSON_AddStringToObject(to, "help", look->help);
    cJSON *params = cJSON_AddArrayToObject(to, "parameters");
    for (uint8_t p = 0; p < look->param_count; p++)
        tell_param(add_to(params), look, &look->params[p]);
}

char *dia_tell_looks(void)
{
    cJSON *json = cJSON_CreateArray();
    for (int k = 0; dia_looks[k]; k++)
        tell_look(add_to(json), dia_looks[k]);
    for (int k = 0; dia_desk_looks[k]; k++)
        tell_look(add_to(json), dia_desk_looks[k]);
    return print(json);
}

char *dia_tell_mask(void)
{
    cJSON *json = cJSON_CreateObject();
    tell_look(json, &dia_mask_words);
    return print(json);
}

char *dia_tell_wrong(const char *text)
{
    cJSON *json = cJSON_CreateObject();
    if (text)
        add_text(json, "wrong", text);
    return print(json);
}

char *dia_tell_answer(uint32_t number, const char *wrong)
{
    cJSON *json = cJSON_CreateObject();
    cJSON_AddStringToObject(json, "kind", "answer");
    cJSON_AddNumberToObject(json, "number", number);
    if (wrong)
        add_text(json, "wrong", wrong);
    return print(json);
}
