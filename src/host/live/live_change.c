/* SPDX-License-Identifier: MIT */
#include <ctype.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/nearest.h>

#include "host_private.h"
#include "live_changes.h"
#include "show_private.h"

#define HELD_MS 3600000u /* a key that is held and never released comes up after an hour */

static enum dia_status no_meaning(const struct change *to, const char *word)
{
    return dia_host_wrong(to->wrong, "'%.40s' has no meaning here", word);
}

static enum dia_status no_memory(const struct change *to)
{
    dia_host_wrong(to->wrong, "out of memory");
    return DIA_PORT_FAILED;
}

/* Nothing may follow. */
enum dia_status dia_live_at_end(const struct change *to, const char *at)
{
    char word[SHOW_WORD];
    return dia_show_word(&at, word) ? no_meaning(to, word) : DIA_OK;
}

/* A text of others names no file but those that the owner's names. */
enum dia_status dia_live_take(const struct change *to, char *text, const char *step)
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
        status = dia_live_at_end(to, at);
    press.for_ms = (uint32_t)time;
    if (status == DIA_OK && dia_show_press(to->live->show, press) != DIA_OK)
        return dia_host_wrong(to->wrong, "%d presses came without a rest; wait three seconds",
                              DIA_SHOW_PRESSES);
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
        status = dia_live_at_end(to, at);
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

/* ---- a lighting network ---------------------------------------------------------------------- */

static int nibble(char c)
{
    return c >= '0' && c <= '9'   ? c - '0'
           : c >= 'a' && c <= 'f' ? c - 'a' + 10
           : c >= 'A' && c <= 'F' ? c - 'A' + 10
                                  : -1;
}

/* How many slots the digits are; -1: they are none. Words of a show are shorter than all 512. */
static int read_slots(const char *text, uint8_t slots[DIA_UNIVERSE_SLOTS])
{
    size_t length = strcspn(text, " \t");
    if (length % 2 || length > 2 * DIA_UNIVERSE_SLOTS ||
        text[length + strspn(text + length, " \t")])
        return -1;
    for (size_t k = 0; k < length; k += 2) {
        int high = nibble(text[k]), low = nibble(text[k + 1]);
        if (high < 0 || low < 0)
            return -1;
        slots[k / 2] = (uint8_t)(high << 4 | low);
    }
    return (int)length / 2;
}

static enum dia_status change_slots(const struct change *to, const char *at)
{
    uint8_t slots[DIA_UNIVERSE_SLOTS];
    char word[SHOW_WORD];
    int64_t number = 0;
    if (!dia_show_word(&at, word))
        return dia_host_wrong(to->wrong, "slots of which universe? Write such as 'slots 1 ff8000'");
    enum dia_status status =
        dia_show_amount("slots", word, DIA_NUMBER, 1, DIA_UNIVERSE_LAST, &number, to->wrong);
    if (status != DIA_OK)
        return status;
    at += strspn(at, " \t");
    if (strcmp(at, "lost") == 0) {
        dia_universes_lose(&to->live->universes, (uint32_t)number);
        return DIA_OK;
    }
    int count = read_slots(at, slots);
    if (count < 0)
        return dia_host_wrong(to->wrong,
                              "slots are two digits of 0-9 and a-f each, at most %d of "
                              "them without spaces, or 'lost'",
                              DIA_UNIVERSE_SLOTS);
    status = dia_universes_set(&to->live->universes, (uint32_t)number, slots, (uint32_t)count);
    if (status == DIA_BAD_VALUE)
        return dia_host_wrong(to->wrong, "a show has at most %d universes", DIA_UNIVERSES);
    return status == DIA_OK ? status : no_memory(to);
}

/* ---- level and time -------------------------------------------------------------------------- */

static enum dia_status amount(const struct change *to, const char *what, const char *example,
                              const char *at, enum dia_quantity kind, int64_t max, int64_t *out)
{
    char word[SHOW_WORD];
    if (!dia_show_word(&at, word))
        return dia_host_wrong(to->wrong, "'%s' needs a value behind it: %s", what, example);
    enum dia_status status = dia_show_amount(what, word, kind, 0, max, out, to->wrong);
    return status == DIA_OK ? dia_live_at_end(to, at) : status;
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
    enum dia_status status = dia_live_at_end(to, at);
    return status == DIA_OK ? go_at(to, to->live->pace, 1) : status;
}

static enum dia_status resume(const struct change *to, const char *at)
{
    enum dia_status status = dia_live_at_end(to, at);
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
    if (opened && *at == '"' && dia_live_at_end(to, at + 1) == DIA_OK)
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
        status = dia_live_take(to, text, strcmp(text, live->text) == 0 ? "" : "show");
    if (status != DIA_OK || !begun) {
        free(begun);
        return status;
    }
    free(live->begun);
    live->begun = begun;
    return DIA_OK;
}

/* Back along the steps of one list, or to a text that is given; what is now is the newest of the
 * other. */
static enum dia_status step(const struct change *to, const char *at, const char *what, char **from,
                            uint32_t *from_count, char **back, uint32_t *back_count)
{
    struct dia_live *live = to->live;
    enum dia_status status = DIA_OK;
    if (at[strspn(at, " \t")]) { /* it says where to: others have other steps */
        char *told = read_quoted(to, at, &status);
        if (!told)
            return status;
        if (*from_count == 0 || strcmp(told, from[*from_count - 1]) != 0)
            return dia_live_take(to, told, "");
        free(told);
    }
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
    dia_live_push(back, back_count, was);
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
} makes[] = {{"clause", dia_live_put_clause},
             {"clock", change_clock},
             {"drop", dia_live_drop},
             {"hold", hold},
             {"layer", dia_live_layer},
             {"look", dia_live_look},
             {"master", master},
             {"move", dia_live_place},
             {"pace", change_pace},
             {"paint", dia_live_paint},
             {"pause", pause_it},
             {"press", change_press},
             {"redo", redo},
             {"release", release},
             {"resume", resume},
             {"seek", seek},
             {"set", dia_live_set},
             {"show", whole_show},
             {"slots", change_slots},
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
        return dia_host_wrong(wrong, "a change is a line such as 'set sea.speed=20cm/s'");
    for (size_t k = 0; k < MAKES; k++) {
        words[k] = makes[k].word;
        if (strcmp(makes[k].word, word) != 0)
            continue;
        enum dia_status status = makes[k].make(&to, line);
        live->version +=
            status == DIA_OK && makes[k].make != change_slots; /* no news of the show */
        return status;
    }
    const char *near = dia_nearest(word, words);
    return dia_host_wrong(wrong, "there is no change '%.40s'%s%s%s", word,
                          near ? "; did you mean '" : "; docs/live.md has them all",
                          near ? near : "", near ? "'?" : "");
}
