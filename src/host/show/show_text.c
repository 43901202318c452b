/* SPDX-License-Identifier: MIT */
#include <ctype.h>
#include <stdio.h>
#include <string.h>

#include <diachrome/look_text.h>
#include <diachrome/nearest.h>

#include "host_private.h"
#include "show_private.h"

static const char *const kinds[] = {"down", "up", "short", "double", "long", "repeat", NULL};
static const char *const acts[] = {"start", "stop", "toggle", "next",  "there-and-back",
                                   "pace",  "set",  "raise",  "lower", NULL};
enum { NEXT = 3, THERE_AND_BACK, PACE, SET, RAISE, LOWER };

/* ---- layers and their names ------------------------------------------------------------------ */

/* "NAME:" at the start of a layer; what follows it, or NULL when it is no name. */
static const char *read_name(const char *text, char name[DIA_RIG_NAME],
                             struct dia_diagnostic *wrong)
{
    size_t n = 0;
    text += strspn(text, " \t");
    while (isalnum((unsigned char)text[n]) || text[n] == '-' || text[n] == '_')
        n++;
    size_t word = strcspn(text, " \t=(");
    name[0] = 0;
    if (text[n] != ':' && (word == 0 || text[word - 1] != ':'))
        return text;
    if (n == 0 || n >= DIA_RIG_NAME || text[n] != ':') {
        dia_host_wrong(wrong,
                       "a name has letters, digits, '-' and '_', at most %d of them; found '%.*s'",
                       DIA_RIG_NAME - 1, (int)(word < 61 ? word - 1 : 60), text);
        return NULL;
    }
    memcpy(name, text, n);
    name[n] = 0;
    return text + n + 1;
}

enum dia_status dia_show_layer_named(const struct dia_show *show, const char *name, uint8_t *layer,
                                     struct dia_diagnostic *wrong)
{
    const char *names[DIA_RIG_LAYERS + 1] = {NULL};
    int n = 0;
    for (uint32_t k = 0; k < show->layer_count; k++) {
        if (show->names[k][0] == 0)
            continue;
        names[n++] = show->names[k];
        if (strcmp(show->names[k], name) == 0) {
            *layer = (uint8_t)k;
            return DIA_OK;
        }
    }
    const char *near = dia_nearest(name, names);
    if (near)
        return dia_host_wrong(wrong, "no layer before this is called '%.40s'; did you mean '%s'?",
                              name, near);
    return dia_host_wrong(
        wrong, "no layer before this is called '%.40s'; a layer gets a name by 'NAME:'", name);
}

static enum dia_status read_layer(struct dia_show *show, const struct dia_rig *rig,
                                  const char *text, struct dia_diagnostic *wrong)
{
    char name[DIA_RIG_NAME];
    uint8_t other;
    struct dia_diagnostic no = {""};
    const char *rest = read_name(text, name, wrong);
    if (!rest)
        return DIA_BAD_VALUE;
    if (show->layer_count == DIA_RIG_LAYERS)
        return dia_host_wrong(wrong, "a show has at most %d layers", DIA_RIG_LAYERS);
    if (strcmp(name, "none") == 0)
        return dia_host_wrong(wrong, "'none' stands for no layer; give this one another name");
    if (name[0] && dia_show_layer_named(show, name, &other, &no) == DIA_OK)
        return dia_host_wrong(wrong, "there is a layer '%s' already; each name is there once",
                              name);
    enum dia_status status =
        dia_show_layer_read(&show->layers[show->layer_count], rig, &show->drawings, rest, wrong);
    if (status == DIA_OK)
        memcpy(show->names[show->layer_count++], name, sizeof name);
    return status;
}

/* ---- what keys do ---------------------------------------------------------------------------- */

/* "ferry,storm". */
static enum dia_status read_layers(const struct dia_show *show, char *names, uint32_t *layers,
                                   struct dia_diagnostic *wrong)
{
    for (char *name = names; name;) {
        char *comma = strchr(name, ',');
        uint8_t layer;
        if (comma)
            *comma++ = 0;
        enum dia_status status = dia_show_layer_named(show, name, &layer, wrong);
        if (status != DIA_OK)
            return status;
        *layers |= 1u << layer;
        name = comma;
    }
    return DIA_OK;
}

static uint8_t knob_of(struct dia_show *show, uint8_t layer, const struct dia_param *param)
{
    uint32_t k = 0;
    while (k < show->knob_count && (show->knobs[k].layer != layer || show->knobs[k].param != param))
        k++;
    show->knobs[k] = (struct dia_show_knob){.layer = layer, .param = param};
    if (k == show->knob_count)
        show->knob_count++;
    return (uint8_t)k;
}

static enum dia_status value_set(const struct dia_rig_layer *layer, const char *setting,
                                 const struct dia_param **param, int32_t *value,
                                 struct dia_diagnostic *wrong)
{
    union dia_look_values values = layer->values;
    char key[48];
    struct dia_rgb colour;
    enum dia_status status = dia_look_set(layer->look, &values, setting, wrong);
    if (status != DIA_OK)
        return status;
    snprintf(key, sizeof key, "%.*s", (int)strcspn(setting, "="), setting);
    *param = dia_look_param(layer->look, key, wrong);
    const char *field = (const char *)&values + (*param)->offset;
    if ((*param)->kind == DIA_PARAM_PALETTE || (*param)->kind == DIA_PARAM_FACE)
        return dia_host_wrong(wrong, "'%s' is a %s; keys set colours, numbers and choices", key,
                              (*param)->kind == DIA_PARAM_FACE ? "face" : "palette");
    if ((*param)->kind == DIA_PARAM_COLOUR) {
        memcpy(&colour, field, sizeof colour);
        *value = (int32_t)((uint32_t)colour.r << 16 | (uint32_t)colour.g << 8 | colour.b);
    } else {
        memcpy(value, field, sizeof *value);
    }
    return DIA_OK;
}

/* "NAME.KEY=VALUE", or "NAME.KEY by VALUE". */
static enum dia_status read_knob(struct dia_show *show, const char **at, char *word, uint8_t act,
                                 struct dia_cue *cue, struct dia_diagnostic *wrong)
{
    char *setting = strchr(word, '.'), by[SHOW_WORD];
    const struct dia_param *param = NULL;
    uint8_t layer;
    if (!setting)
        return dia_host_wrong(wrong, "'%.40s' is no parameter of a layer; write NAME.KEY%s", word,
                              act == SET ? "=VALUE" : " by VALUE");
    *setting++ = 0;
    enum dia_status status = dia_show_layer_named(show, word, &layer, wrong);
    if (status != DIA_OK)
        return status;
    const struct dia_rig_layer *of = &show->layers[layer];
    if (act == SET) {
        status = value_set(of, setting, &param, &cue->value, wrong);
    } else {
        if (!dia_show_word(at, by) || strcmp(by, "by") != 0 || !dia_show_word(at, by))
            return dia_host_wrong(wrong, "say by how much: %s %s.%.40s by VALUE", acts[act], word,
                                  setting);
        status = dia_look_amount(of->look, setting, by, &param, &cue->value, wrong);
        if (act == LOWER)
            cue->value = -cue->value;
    }
    for (uint32_t k = 0; status == DIA_OK && k < of->relatives; k++) {
        if (of->relative[k].param == param)
            return dia_host_wrong(wrong,
                                  "'%s' of '%s' is in px or parts; keys change what is in mm and "
                                  "mm/s",
                                  param->key, show->names[layer]);
    }
    if (status == DIA_OK)
        cue->knob = knob_of(show, layer, param);
    return status;
}

/* "NAME,NAME to 250%". */
static enum dia_status read_pace(const struct dia_show *show, const char **at, char *word,
                                 struct dia_cue *cue, struct dia_diagnostic *wrong)
{
    int64_t ppm = 0;
    char share[SHOW_WORD];
    enum dia_status status = read_layers(show, word, &cue->layers, wrong);
    if (status != DIA_OK)
        return status;
    if (!dia_show_word(at, share) || strcmp(share, "to") != 0 || !dia_show_word(at, share))
        return dia_host_wrong(wrong, "say how fast: pace %.40s to 250%%", word);
    status = dia_show_amount("pace", share, DIA_PERCENT, -16000000, 16000000, &ppm, wrong);
    cue->value = (int32_t)((ppm * 256 + (ppm < 0 ? -500000 : 500000)) / 1000000);
    return status;
}

/* "none,NAME,NAME". */
static enum dia_status read_turns(const struct dia_show *show, char *word, struct dia_cue *cue,
                                  struct dia_diagnostic *wrong)
{
    cue->value = strncmp(word, "none,", 5) == 0;
    return read_layers(show, word + (cue->value ? 5 : 0), &cue->layers, wrong);
}

/* Their ways are those of their looks, but for a time that is given. */
static enum dia_status read_ways(struct dia_show *show, const struct dia_rig *rig, uint32_t over,
                                 int is_given, struct dia_cue *cue, struct dia_diagnostic *wrong)
{
    cue->over_ms = over;
    for (uint32_t k = 0; k < show->layer_count; k++) {
        const struct dia_rig_layer *layer = &show->layers[k];
        if (!(cue->layers >> k & 1u))
            continue;
        uint32_t way = is_given ? over : dia_rig_layer_way_ms(rig, layer);
        if (way == 0)
            return dia_host_wrong(wrong,
                                  "%s goes on and on; give the time of its way: there-and-back %s "
                                  "over 5s",
                                  layer->look->name, show->names[k]);
        cue->over_ms = way > cue->over_ms ? way : cue->over_ms;
    }
    for (uint32_t k = 0; k < show->layer_count && !is_given; k++)
        show->layers[k].rests |= cue->layers >> k & 1u;
    return DIA_OK;
}

static enum dia_status read_act(struct dia_show *show, const struct dia_rig *rig, const char *at,
                                struct dia_cue *cue, struct dia_diagnostic *wrong)
{
    char word[SHOW_WORD];
    uint8_t act;
    int64_t over = 0;
    int is_given = 0;
    if (!dia_show_word(&at, word))
        return dia_host_wrong(wrong, "the key does nothing; write what, such as 'toggle NAME'");
    enum dia_status status = dia_show_choose("what a key does", word, acts, &act, wrong);
    if (status != DIA_OK)
        return status;
    cue->act = act == LOWER || act == RAISE ? DIA_ACT_ADD : act;
    if (!dia_show_word(&at, word))
        return dia_host_wrong(wrong, "'%s' needs a name of a layer behind it", acts[act]);
    status = act == NEXT   ? read_turns(show, word, cue, wrong)
             : act < PACE  ? read_layers(show, word, &cue->layers, wrong)
             : act == PACE ? read_pace(show, &at, word, cue, wrong)
                           : read_knob(show, &at, word, act, cue, wrong);
    if (status == DIA_OK && dia_show_word(&at, word)) {
        if (act < THERE_AND_BACK || strcmp(word, "over") != 0)
            return dia_host_wrong(wrong, "'%.40s' has no meaning here%s", word,
                                  act <= THERE_AND_BACK ? "; several layers have commas between"
                                                        : "");
        if (!dia_show_word(&at, word))
            return dia_host_wrong(wrong, "'over' needs a time behind it, such as 3s");
        is_given = 1;
        status = dia_show_amount("over", word, DIA_TIME, act == THERE_AND_BACK,
                                 act == PACE ? 600000 : 3600000, &over, wrong);
        if (status == DIA_OK && dia_show_word(&at, word))
            return dia_host_wrong(wrong, "'%.40s' has no meaning here", word);
    }
    cue->over_ms = (uint32_t)over;
    if (status == DIA_OK && act == THERE_AND_BACK)
        status = read_ways(show, rig, (uint32_t)over, is_given, cue, wrong);
    return status;
}

enum dia_status dia_show_cue_read(struct dia_show *show, const struct dia_rig *rig,
                                  const char *text, struct dia_diagnostic *wrong)
{
    char key[SHOW_WORD], kind[SHOW_WORD];
    struct dia_cue cue = {0};
    uint32_t knobs = show->knob_count;
    if (show->cue_count == DIA_SHOW_CUES)
        return dia_host_wrong(wrong, "a show has at most %d actions of keys", DIA_SHOW_CUES);
    if (!dia_show_word(&text, key) || !dia_show_word(&text, kind))
        return dia_host_wrong(wrong,
                              "write what a key does like this: key operator.1 short: toggle NAME");
    size_t length = strlen(kind);
    if (key[strlen(key) - 1] == ':')
        return dia_host_wrong(
            wrong, "say what happens to the key; write such as '%.*s short: toggle NAME'",
            (int)strlen(key) - 1, key);
    if (kind[length - 1] != ':')
        return dia_host_wrong(
            wrong, "'%.40s' lacks its colon; write such as '%.20s short: toggle NAME'", kind, key);
    kind[length - 1] = 0;
    enum dia_status status = dia_show_key_read(rig, key, &cue.key, wrong);
    if (status == DIA_OK)
        status = dia_show_choose("what happens to a key", kind, kinds, &cue.kind, wrong);
    if (status == DIA_OK)
        status = read_act(show, rig, text, &cue, wrong);
    if (status != DIA_OK) {
        show->knob_count = knobs;
        return status;
    }
    show->cues[show->cue_count++] = cue;
    show->heard_ms = 0; /* a double press may count now */
    return DIA_OK;
}

/* "FILE". */
static enum dia_status read_drawings(struct dia_show *show, const char *text,
                                     struct dia_diagnostic *wrong)
{
    char path[SHOW_WORD], more[SHOW_WORD];
    if (!dia_show_word(&text, path))
        return dia_host_wrong(wrong, "'drawings' needs the name of a file behind it");
    if (dia_show_word(&text, more))
        return dia_host_wrong(wrong, "'%.40s' has no meaning here; a line has one file", more);
    return dia_drawing_files_add(&show->drawings, path, wrong);
}

/* ---- lines and files ------------------------------------------------------------------------- */

enum dia_status dia_show_line(struct dia_show *show, const struct dia_rig *rig, const char *line,
                              struct dia_diagnostic *wrong)
{
    static const char *const firsts[] = {"layer",  "key",   "press",    "value",
                                         "choice", "drive", "drawings", NULL};
    char word[SHOW_WORD];
    uint8_t first;
    rig = dia_rig_whole(rig);
    if (!dia_show_word(&line, word))
        return DIA_OK;
    enum dia_status status =
        dia_show_choose("the first word of a line", word, firsts, &first, wrong);
    if (status != DIA_OK)
        return status;
    return first == 0   ? read_layer(show, rig, line, wrong)
           : first == 1 ? dia_show_cue_read(show, rig, line, wrong)
           : first == 2 ? dia_show_press_read(show, rig, line, wrong)
           : first == 3 ? dia_show_value_read(show, rig, line, wrong)
           : first == 4 ? dia_show_choice_read(show, line, wrong)
           : first == 5 ? dia_show_drive_read(show, line, wrong)
                        : read_drawings(show, line, wrong);
}
