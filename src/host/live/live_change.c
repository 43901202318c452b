/* SPDX-License-Identifier: MIT */
#include <ctype.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/nearest.h>

#include "host_private.h"
#include "live_private.h"
#include "show_private.h"

/* What each word of a change does. */
struct change {
    struct dia_live *live;
    uint64_t ms; /* of the run */
    enum dia_live_from from;
    struct dia_diagnostic *wrong;
};

#define MOST_PACE (16 * (int32_t)DIA_SHARE_ONE)
#define HELD_MS   3600000u /* a key that is held and never released comes up after an hour */

static enum dia_status no_meaning(const struct change *to, const char *word)
{
    return dia_host_wrong(to->wrong, "'%.40s' has no meaning here", word);
}

/* Nothing may follow. */
static enum dia_status at_end(const struct change *to, const char *at)
{
    char word[SHOW_WORD];
    return dia_show_word(&at, word) ? no_meaning(to, word) : DIA_OK;
}

/* A text of others names no file but those that the owner's names. */
static enum dia_status take(const struct change *to, char *text, const char *step)
{
    char word[SHOW_WORD];
    if (text && to->from == DIA_LIVE_OTHERS &&
        dia_live_new_file(text, to->live->begun, word, sizeof word)) {
        free(text);
        return dia_host_wrong(to->wrong,
                              "'%.60s' names a file that the show does not name; only its owner "
                              "can bring files in, on the machine itself",
                              word);
    }
    return dia_live_take_text(to->live, text, step, to->ms, to->wrong);
}

/* ---- layers ---------------------------------------------------------------------------------- */

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
    return dia_live_keep(live, text, step, to->ms);
}

/* set NAME.KEY=VALUE */
static enum dia_status change_set(const struct change *to, const char *at)
{
    char word[SHOW_WORD], key[48], step[96], *text = NULL;
    uint32_t number;
    if (!dia_show_word(&at, word))
        return dia_host_wrong(to->wrong, "set what? Write such as 'set sea.period=4s'");
    char *point = strchr(word, '.'), *equals = point ? strchr(point, '=') : NULL;
    if (!equals || equals - point >= (int)sizeof key)
        return dia_host_wrong(to->wrong, "'%.60s' is no LAYER.KEY=VALUE, such as sea.period=4s",
                              word);
    *point = 0;
    enum dia_status status = at_end(to, at);
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
    return is_plain ? set_at_once(to, number, param, point + 1, text, step) : take(to, text, step);
}

/* clause NAME WORD VALUE... */
static enum dia_status change_clause(const struct change *to, const char *at)
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
        status = at_end(to, at);
    if (status == DIA_OK)
        status = put(to, number, word, 0, strcmp(value, "none") == 0 ? NULL : value, &text);
    if (status != DIA_OK)
        return status;
    snprintf(step, sizeof step, "clause %u %.40s", (unsigned)number, word);
    return take(to, text, step);
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
static enum dia_status change_look(const struct change *to, const char *at)
{
    char word[SHOW_WORD], line[LIVE_LINE];
    uint32_t number;
    enum dia_status status = next_layer(to, &at, &number, "look sea waves");
    if (status != DIA_OK)
        return status;
    if (!dia_show_word(&at, word))
        return dia_host_wrong(to->wrong, "which look? 'diachrome looks' has their names");
    status = at_end(to, at);
    if (status == DIA_OK && !dia_look_named(word, to->wrong))
        status = DIA_BAD_VALUE;
    if (status != DIA_OK)
        return status;
    if (!dia_live_line(to->live->text, number, line) ||
        !with_look(line, to->live->show->names[number], word))
        return too_long(to);
    return take(to, dia_live_replace(to->live->text, number, line), "look");
}

/* layer [NAME:] LOOK ... */
static enum dia_status put_layer(const struct change *to, const char *at)
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
            return take(to, dia_live_replace(to->live->text, k, line), "layer");
    }
    return take(to, dia_live_append(to->live->text, line), "layer");
}

/* drop NAME */
static enum dia_status drop(const struct change *to, const char *at)
{
    uint32_t number;
    enum dia_status status = next_layer(to, &at, &number, "drop sea");
    if (status == DIA_OK)
        status = at_end(to, at);
    return status == DIA_OK ? take(to, dia_live_replace(to->live->text, number, NULL), "drop")
                            : status;
}

/* move NAME PLACE */
static enum dia_status move(const struct change *to, const char *at)
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
        status = at_end(to, at);
    return status == DIA_OK
               ? take(to, dia_live_move(to->live->text, number, (uint32_t)place - 1), "move")
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
static enum dia_status paint(const struct change *to, const char *at)
{
    char where[SHOW_WORD], colour[SHOW_WORD], name[DIA_RIG_NAME], line[3 * SHOW_WORD];
    struct dia_diagnostic no = {""};
    struct change quiet = *to;
    uint32_t number;
    if (!dia_show_word(&at, where) || !dia_show_word(&at, colour))
        return dia_host_wrong(to->wrong,
                              "paint what, and how? Write such as 'paint handrail gold', "
                              "or 'paint all none'");
    enum dia_status status = at_end(to, at);
    if (status != DIA_OK)
        return status;
    paint_name(where, name);
    quiet.wrong = &no;
    int is_there = read_layer(&quiet, name, &number) == DIA_OK;
    if (strcmp(colour, "none") == 0)
        return is_there ? take(to, dia_live_replace(to->live->text, number, NULL), "paint")
                        : dia_host_wrong(to->wrong, "nothing is painted on '%.40s'", where);
    if (is_there) {
        snprintf(line, sizeof line, "%s.colour=%s", name, colour);
        return change_set(to, line);
    }
    snprintf(line, sizeof line, "layer %s: steady colour=%s%s%s", name, colour,
             strcmp(where, "all") == 0 ? "" : " on ", strcmp(where, "all") == 0 ? "" : where);
    return take(to, dia_live_append(to->live->text, line), "paint");
}

/* ---- what comes in --------------------------------------------------------------------------- */

static enum dia_status press_for(const struct change *to, const char *at, uint32_t for_ms,
                                 int fixed)
{
    char word[SHOW_WORD];
    int64_t time = for_ms;
    struct dia_show_press press = {.ms = dia_live_show_ms(to->live, to->ms), .came = 1};
    if (!dia_show_word(&at, word))
        return dia_host_wrong(to->wrong, "which key? Write such as 'press operator.1'");
    enum dia_status status = dia_show_key_read(to->live->rig, word, &press.key, to->wrong);
    if (status == DIA_OK && !fixed && dia_show_word(&at, word)) {
        if (strcmp(word, "for") != 0 || !dia_show_word(&at, word))
            return dia_host_wrong(to->wrong, "write 'for' and a time behind the key: for 2s");
        status = dia_show_amount("for", word, DIA_TIME, 1, 60000, &time, to->wrong);
    }
    if (status == DIA_OK)
        status = at_end(to, at);
    press.for_ms = (uint32_t)time;
    if (status == DIA_OK && dia_show_press(to->live->show, press) != DIA_OK)
        return dia_host_wrong(to->wrong, "too many presses at once; wait two seconds");
    return status;
}

static enum dia_status change_press(const struct change *to, const char *at)
{
    return press_for(to, at, 100, 0);
}

static enum dia_status hold(const struct change *to, const char *at)
{
    return press_for(to, at, HELD_MS, 1);
}

static enum dia_status release(const struct change *to, const char *at)
{
    char word[SHOW_WORD];
    uint8_t key;
    if (!dia_show_word(&at, word))
        return dia_host_wrong(to->wrong, "which key? Write such as 'release operator.1'");
    enum dia_status status = dia_show_key_read(to->live->rig, word, &key, to->wrong);
    if (status == DIA_OK)
        status = at_end(to, at);
    if (status == DIA_OK &&
        dia_show_release(to->live->show, key, dia_live_show_ms(to->live, to->ms)) != DIA_OK)
        return dia_host_wrong(to->wrong, "the key '%.40s' is not held", word);
    return status;
}

static enum dia_status value(const struct change *to, const char *at)
{
    if (at[strspn(at, " \t")] == 0)
        return dia_host_wrong(to->wrong, "which value? Write such as 'value wind 12.5'");
    return dia_show_feed(to->live->show, at, dia_live_show_ms(to->live, to->ms), to->wrong);
}

/* ---- level and time -------------------------------------------------------------------------- */

static enum dia_status amount(const struct change *to, const char *what, const char *example,
                              const char *at, enum dia_quantity kind, int64_t max, int64_t *out)
{
    char word[SHOW_WORD];
    if (!dia_show_word(&at, word))
        return dia_host_wrong(to->wrong, "'%s' needs a value behind it: %s", what, example);
    enum dia_status status = dia_show_amount(what, word, kind, 0, max, out, to->wrong);
    return status == DIA_OK ? at_end(to, at) : status;
}

static enum dia_status master(const struct change *to, const char *at)
{
    int64_t ppm = 0;
    enum dia_status status = amount(to, "master", "master 60%", at, DIA_PERCENT, 1000000, &ppm);
    if (status == DIA_OK)
        to->live->master = (dia_share)((ppm * DIA_SHARE_ONE + 500000) / 1000000);
    return status;
}

static enum dia_status go_at(const struct change *to, int32_t pace, int paused)
{
    dia_live_clock(to->live, to->ms, dia_live_show_ms(to->live, to->ms), pace, paused);
    return DIA_OK;
}

static enum dia_status pause_it(const struct change *to, const char *at)
{
    enum dia_status status = at_end(to, at);
    return status == DIA_OK ? go_at(to, to->live->pace, 1) : status;
}

static enum dia_status resume(const struct change *to, const char *at)
{
    enum dia_status status = at_end(to, at);
    return status == DIA_OK ? go_at(to, to->live->pace, 0) : status;
}

static enum dia_status change_pace(const struct change *to, const char *at)
{
    int64_t ppm = 0;
    enum dia_status status = amount(to, "pace", "pace 200%", at, DIA_PERCENT, 16000000, &ppm);
    return status == DIA_OK
               ? go_at(to, (int32_t)((ppm * DIA_SHARE_ONE + 500000) / 1000000), to->live->paused)
               : status;
}

static enum dia_status seek(const struct change *to, const char *at)
{
    int64_t time = 0;
    enum dia_status status = amount(to, "seek", "seek 90s", at, DIA_TIME, 86400000, &time);
    if (status != DIA_OK)
        return status;
    if (time < (int64_t)dia_live_show_ms(to->live, to->ms))
        dia_show_forget_from(to->live->show, (uint32_t)time);
    dia_live_clock(to->live, to->ms, time, to->live->pace, to->live->paused);
    return DIA_OK;
}

static enum dia_status change_clock(const struct change *to, const char *at)
{
    int64_t time = 0;
    enum dia_status status = amount(to, "clock", "clock 67500s", at, DIA_TIME, 86399999, &time);
    uint32_t show_s = dia_live_show_ms(to->live, to->ms) / 1000 % 86400;
    if (status == DIA_OK)
        to->live->show->clock_s = ((uint32_t)(time / 1000) + 86400 - show_s) % 86400;
    return status;
}

/* ---- the whole text -------------------------------------------------------------------------- */

static enum dia_status no_memory(const struct change *to)
{
    dia_host_wrong(to->wrong, "out of memory");
    return DIA_PORT_FAILED;
}

/* "..." with \n, \" and \\ in it; NULL, a diagnostic and a status. */
static char *read_quoted(const struct change *to, const char *at, enum dia_status *status)
{
    at += strspn(at, " \t");
    char *text = malloc(strlen(at) + 1), *out = text;
    *status = text ? DIA_BAD_VALUE : no_memory(to);
    if (!text)
        return NULL;
    int opened = *at == '"';
    for (at += opened; opened && *at && *at != '"'; at++) {
        if (*at == '\\' && at[1]) {
            at++;
            *out++ = *at == 'n' ? '\n' : *at == 't' ? '\t' : *at;
        } else {
            *out++ = *at;
        }
    }
    *out = 0;
    if (opened && *at == '"' && at_end(to, at + 1) == DIA_OK)
        return text;
    free(text);
    dia_host_wrong(to->wrong, "the text of a show is in quotes: show \"layer: steady\\n\"");
    return NULL;
}

static enum dia_status whole_show(const struct change *to, const char *at)
{
    struct dia_live *live = to->live;
    enum dia_status status = DIA_BAD_VALUE;
    char *text = read_quoted(to, at, &status);
    char *begun = text && to->from == DIA_LIVE_OWNER ? strdup(text) : NULL;
    if (text && to->from == DIA_LIVE_OWNER && !begun) {
        free(text);
        return no_memory(to);
    }
    if (text) /* the same text is read again, since files that it names may be others */
        status = take(to, text, strcmp(text, live->text) == 0 ? "" : "show");
    if (status != DIA_OK || !begun) {
        free(begun);
        return status;
    }
    free(live->begun);
    live->begun = begun;
    return DIA_OK;
}

/* Back along the steps of one list; what is now is the newest of the other. */
static enum dia_status step(const struct change *to, const char *at, const char *what, char **from,
                            uint32_t *from_count, char **back, uint32_t *back_count)
{
    struct dia_live *live = to->live;
    enum dia_status status = at_end(to, at);
    if (status != DIA_OK)
        return status;
    if (*from_count == 0)
        return dia_host_wrong(to->wrong, "there is nothing to %s", what);
    char *was = strdup(live->text), *text = from[*from_count - 1];
    if (!was)
        return no_memory(to);
    char *copy = strdup(text);
    status = dia_live_take_text(live, copy, "", to->ms, to->wrong);
    if (status != DIA_OK) {
        free(was);
        return status;
    }
    free(text);
    --*from_count;
    if (*back_count == LIVE_UNDOS) {
        free(back[0]);
        memmove(back, back + 1, (LIVE_UNDOS - 1) * sizeof *back);
        --*back_count;
    }
    back[(*back_count)++] = was;
    live->step[0] = 0;
    return DIA_OK;
}

static enum dia_status undo(const struct change *to, const char *at)
{
    struct dia_live *live = to->live;
    return step(to, at, "undo", live->undo, &live->undos, live->redo, &live->redos);
}

static enum dia_status redo(const struct change *to, const char *at)
{
    struct dia_live *live = to->live;
    return step(to, at, "redo", live->redo, &live->redos, live->undo, &live->undos);
}

/* ---- one change ------------------------------------------------------------------------------ */

static const struct {
    const char *word;
    enum dia_status (*make)(const struct change *to, const char *at);
} makes[] = {{"clause", change_clause},
             {"clock", change_clock},
             {"drop", drop},
             {"hold", hold},
             {"layer", put_layer},
             {"look", change_look},
             {"master", master},
             {"move", move},
             {"pace", change_pace},
             {"paint", paint},
             {"pause", pause_it},
             {"press", change_press},
             {"redo", redo},
             {"release", release},
             {"resume", resume},
             {"seek", seek},
             {"set", change_set},
             {"show", whole_show},
             {"undo", undo},
             {"value", value}};
#define MAKES (sizeof makes / sizeof makes[0])

enum dia_status dia_live_change(struct dia_live *live, const char *line, uint64_t ms,
                                enum dia_live_from from, struct dia_diagnostic *wrong)
{
    struct change to = {live, ms, from, wrong};
    char word[SHOW_WORD];
    const char *words[MAKES + 1] = {NULL};
    for (const char *at = line; *at; at++) {
        if ((unsigned char)*at < 32 || *at == 127)
            return dia_host_wrong(wrong,
                                  "a change is one line without control characters; found "
                                  "byte %u at place %u",
                                  (unsigned)(unsigned char)*at, (unsigned)(at - line) + 1);
    }
    if (!dia_show_word(&line, word))
        return dia_host_wrong(wrong, "a change is a line such as 'set sea.period=4s'");
    for (size_t k = 0; k < MAKES; k++) {
        words[k] = makes[k].word;
        if (strcmp(makes[k].word, word) != 0)
            continue;
        enum dia_status status = makes[k].make(&to, line);
        live->version += status == DIA_OK;
        return status;
    }
    const char *near = dia_nearest(word, words);
    return dia_host_wrong(wrong, "there is no change '%.40s'%s%s%s", word,
                          near ? "; did you mean '" : "; docs/live.md has them all",
                          near ? near : "", near ? "'?" : "");
}
