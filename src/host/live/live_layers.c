/* SPDX-License-Identifier: MIT */
#include <ctype.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/nearest.h>

#include "host_private.h"
#include "live_changes.h"
#include "show_private.h"

/* Changes of layers: each changes the line of a layer, or one line more or less. */

/* By its name, or #1 for the lowest. */
static enum dia_status read_layer(const struct change *to, const char *word, uint32_t *layer)
{
    const struct dia_show *show = to->live->show;
    const char *names[DIA_RIG_LAYERS + 1] = {NULL};
    int n = 0;
    if (word[0] == '#') {
        char *end;
        unsigned long place = strtoul(word + 1, &end, 10);
        if (!isdigit((unsigned char)word[1]) || *end || place < 1 || place > show->layer_count)
            return dia_host_wrong(to->wrong, "there is no layer '%.20s'; there are #1 to #%u", word,
                                  (unsigned)show->layer_count);
        *layer = (uint32_t)place - 1;
        return DIA_OK;
    }
    for (uint32_t k = 0; k < show->layer_count; k++) {
        if (show->names[k][0])
            names[n++] = show->names[k];
        if (show->names[k][0] && strcmp(show->names[k], word) == 0) {
            *layer = k;
            return DIA_OK;
        }
    }
    const char *near = dia_nearest(word, names);
    return dia_host_wrong(to->wrong, "there is no layer '%.40s'%s%s%s", word,
                          near ? "; did you mean '" : "; write its name, or #1 for the lowest",
                          near ? near : "", near ? "'?" : "");
}

static enum dia_status next_layer(const struct change *to, const char **at, uint32_t *layer,
                                  const char *example)
{
    char word[SHOW_WORD];
    if (!dia_show_word(at, word))
        return dia_host_wrong(to->wrong, "which layer? Write such as '%s'", example);
    return read_layer(to, word, layer);
}

static enum dia_status too_long(const struct change *to)
{
    return dia_host_wrong(to->wrong, "a line is at most %d characters long", LIVE_LINE - 1);
}

/* In the text, one value of a layer. */
static enum dia_status put(const struct change *to, uint32_t layer, const char *word, int is_key,
                           const char *value, char **text)
{
    char line[LIVE_LINE];
    if (!dia_live_line(to->live->text, layer, line))
        return dia_host_wrong(to->wrong, "the layer is not in the text");
    if (!dia_live_put(line, word, is_key, value))
        return too_long(to);
    *text = dia_live_replace(to->live->text, layer, line);
    return DIA_OK;
}

/* A parameter alone: nothing else of the show is read again. */
static enum dia_status set_at_once(const struct change *to, uint32_t number,
                                   const struct dia_param *param, const char *setting, char *text,
                                   const char *step)
{
    struct dia_live *live = to->live;
    struct dia_rig_layer *layer = &live->show->layers[number], changed = *layer;
    enum dia_status status = dia_rig_layer_set(&changed, setting, to->wrong);
    if (status == DIA_OK && strlen(text) >= LIVE_TEXT)
        status = too_long(to);
    if (status != DIA_OK) {
        free(text);
        return status;
    }
    *layer = changed;
    dia_show_by_hand(live->show, number, param, dia_live_show_ms(live, to->ms));
    dia_live_keep(live, text, step, to->ms);
    return DIA_OK;
}

/* set NAME.KEY=VALUE */
enum dia_status dia_live_set(const struct change *to, const char *at)
{
    char word[SHOW_WORD], key[48], step[96], *text = NULL;
    uint32_t number;
    if (!dia_show_word(&at, word))
        return dia_host_wrong(to->wrong, "set what? Write such as 'set sea.speed=20cm/s'");
    char *point = strchr(word, '.'), *equals = point ? strchr(point, '=') : NULL;
    if (!equals || equals - point >= (int)sizeof key)
        return dia_host_wrong(to->wrong, "'%.60s' is no LAYER.KEY=VALUE, such as sea.speed=20cm/s",
                              word);
    *point = 0;
    enum dia_status status = dia_live_at_end(to, at);
    if (status == DIA_OK)
        status = read_layer(to, word, &number);
    if (status != DIA_OK)
        return status;
    snprintf(key, sizeof key, "%.*s", (int)(equals - point - 1), point + 1);
    const struct dia_rig_layer *layer = &to->live->show->layers[number];
    const struct dia_param *param = dia_look_param(layer->look, key, to->wrong);
    if (!param)
        return DIA_BAD_VALUE;
    status = put(to, number, key, 1, equals + 1, &text);
    if (status != DIA_OK)
        return status;
    snprintf(step, sizeof step, "set %u.%.40s", (unsigned)number, key);
    int is_plain = (param->kind != DIA_PARAM_PALETTE || !strchr(equals, '@')) &&
                   param->kind != DIA_PARAM_TEXT && param->offset != DIA_PARAM_BESIDE && text;
    return is_plain ? set_at_once(to, number, param, point + 1, text, step)
                    : dia_live_take(to, text, step);
}

/* clause NAME WORD VALUE... */
enum dia_status dia_live_put_clause(const struct change *to, const char *at)
{
    static const char *const words[] = {"on",   "along",   "blend",    "level", "from",
                                        "for",  "fade-in", "fade-out", "mask",  "sprite",
                                        "path", "cursor",  NULL};
    char word[SHOW_WORD], value[SHOW_WORD], step[96], *text = NULL;
    uint32_t number;
    uint8_t which;
    enum dia_status status = next_layer(to, &at, &number, "clause sea level 50%");
    if (status != DIA_OK)
        return status;
    if (!dia_show_word(&at, word) || !dia_show_word(&at, value))
        return dia_host_wrong(to->wrong, "a clause is a word and a value, such as 'level 50%%', or "
                                         "'level none' to take it away");
    status = dia_show_choose("a clause", word, words, &which, to->wrong);
    if (status == DIA_OK)
        status = dia_live_at_end(to, at);
    if (status == DIA_OK)
        status = put(to, number, word, 0, strcmp(value, "none") == 0 ? NULL : value, &text);
    if (status != DIA_OK)
        return status;
    snprintf(step, sizeof step, "clause %u %.40s", (unsigned)number, word);
    return dia_live_take(to, text, step);
}

/* The line of a layer with another look: its name, and what is not of the look. */
static int with_look(char line[LIVE_LINE], const char *name, const char *look)
{
    static const char *const kept[] = {"on",  "along",   "blend",    "level", "from",
                                       "for", "fade-in", "fade-out", "mask",  NULL};
    char made[LIVE_LINE], value[SHOW_WORD];
    int n = snprintf(made, sizeof made, "layer %s%s%s", name, name[0] ? ": " : "", look);
    for (int k = 0; kept[k] && n < (int)sizeof made; k++) {
        dia_live_get(line, kept[k], 0, value, sizeof value);
        if (value[0])
            n += snprintf(made + n, sizeof made - (size_t)n, " %s %s", kept[k], value);
    }
    if (n >= (int)sizeof made)
        return 0;
    memcpy(line, made, (size_t)n + 1);
    return 1;
}

/* look NAME LOOK */
enum dia_status dia_live_look(const struct change *to, const char *at)
{
    char word[SHOW_WORD], line[LIVE_LINE];
    uint32_t number;
    enum dia_status status = next_layer(to, &at, &number, "look sea waves");
    if (status != DIA_OK)
        return status;
    if (!dia_show_word(&at, word))
        return dia_host_wrong(to->wrong, "which look? 'diachrome looks' has their names");
    status = dia_live_at_end(to, at);
    if (status == DIA_OK && !dia_look_named(word, to->wrong))
        status = DIA_BAD_VALUE;
    if (status != DIA_OK)
        return status;
    if (!dia_live_line(to->live->text, number, line) ||
        !with_look(line, to->live->show->names[number], word))
        return too_long(to);
    return dia_live_take(to, dia_live_replace(to->live->text, number, line), "look");
}

/* layer [NAME:] LOOK ... */
enum dia_status dia_live_layer(const struct change *to, const char *at)
{
    char line[LIVE_LINE], name[DIA_RIG_NAME] = "";
    const struct dia_show *show = to->live->show;
    at += strspn(at, " \t");
    size_t n = 0;
    while (isalnum((unsigned char)at[n]) || at[n] == '-' || at[n] == '_')
        n++;
    if (at[n] == ':' && n > 0 && n < sizeof name)
        memcpy(name, at, n);
    if (snprintf(line, sizeof line, "layer %s", at) >= (int)sizeof line)
        return too_long(to);
    for (uint32_t k = 0; k < show->layer_count && name[0]; k++) {
        if (strcmp(show->names[k], name) == 0)
            return dia_live_take(to, dia_live_replace(to->live->text, k, line), "layer");
    }
    return dia_live_take(to, dia_live_append(to->live->text, line), "layer");
}

/* drop NAME */
enum dia_status dia_live_drop(const struct change *to, const char *at)
{
    uint32_t number;
    enum dia_status status = next_layer(to, &at, &number, "drop sea");
    if (status == DIA_OK)
        status = dia_live_at_end(to, at);
    return status == DIA_OK
               ? dia_live_take(to, dia_live_replace(to->live->text, number, NULL), "drop")
               : status;
}

/* move NAME PLACE */
enum dia_status dia_live_place(const struct change *to, const char *at)
{
    char word[SHOW_WORD];
    uint32_t number;
    int64_t place;
    enum dia_status status = next_layer(to, &at, &number, "move sea 1");
    if (status != DIA_OK)
        return status;
    if (!dia_show_word(&at, word))
        return dia_host_wrong(to->wrong, "to which place? 1 is the lowest");
    status = dia_show_amount("move", word, DIA_NUMBER, 1, to->live->show->layer_count, &place,
                             to->wrong);
    if (status == DIA_OK)
        status = dia_live_at_end(to, at);
    return status == DIA_OK
               ? dia_live_take(to, dia_live_move(to->live->text, number, (uint32_t)place - 1),
                               "move")
               : status;
}

/* The name of the layer that paints somewhere: "paint-" and what of it may be in a name. */
static void paint_name(const char *where, char name[DIA_RIG_NAME])
{
    size_t n = (size_t)snprintf(name, DIA_RIG_NAME, "paint-");
    for (; *where && n < DIA_RIG_NAME - 1; where++)
        name[n++] = isalnum((unsigned char)*where) || *where == '-' ? *where : '_';
    name[n] = 0;
}

/* paint WHERE COLOUR */
enum dia_status dia_live_paint(const struct change *to, const char *at)
{
    char where[SHOW_WORD], colour[SHOW_WORD], name[DIA_RIG_NAME], line[3 * SHOW_WORD];
    struct dia_diagnostic no = {""};
    struct change quiet = *to;
    uint32_t number;
    if (!dia_show_word(&at, where) || !dia_show_word(&at, colour))
        return dia_host_wrong(to->wrong,
                              "paint what, and how? Write such as 'paint handrail gold', "
                              "or 'paint all none'");
    enum dia_status status = dia_live_at_end(to, at);
    if (status != DIA_OK)
        return status;
    paint_name(where, name);
    quiet.wrong = &no;
    int is_there = read_layer(&quiet, name, &number) == DIA_OK;
    if (strcmp(colour, "none") == 0)
        return is_there ? dia_live_take(to, dia_live_replace(to->live->text, number, NULL), "paint")
                        : dia_host_wrong(to->wrong, "nothing is painted on '%.40s'", where);
    if (is_there) {
        snprintf(line, sizeof line, "%s.colour=%s", name, colour);
        return dia_live_set(to, line);
    }
    snprintf(line, sizeof line, "layer %s: steady colour=%s%s%s", name, colour,
             strcmp(where, "all") == 0 ? "" : " on ", strcmp(where, "all") == 0 ? "" : where);
    return dia_live_take(to, dia_live_append(to->live->text, line), "paint");
}
