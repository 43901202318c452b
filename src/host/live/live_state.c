/* SPDX-License-Identifier: MIT */
#include <stdarg.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "host_private.h"
#include "live_private.h"
#include "show_private.h"

/*
 * How a show stands, as lines: a word, and whole numbers or a text in quotes behind it.
 * docs/live.md has them. Whoever reads them shows the same from then on.
 */
#define READINGS 64 /* of a value, the newest; what is older no longer shows */

char *dia_live_quoted(const char *word, const char *text)
{
    char *line = malloc(strlen(word) + 2 * strlen(text) + 4), *at = line;
    if (!line)
        return NULL;
    at += sprintf(at, "%s \"", word);
    for (; *text; text++) {
        if (*text == '\r')
            continue;
        if (strchr("\"\\\n\t", *text))
            *at++ = '\\';
        *at++ = *text == '\n' ? 'n' : *text == '\t' ? 't' : *text;
    }
    *at++ = '"';
    *at = 0;
    return line;
}

/* ---- as it stands ---------------------------------------------------------------------------- */

struct lines {
    char *text;
    size_t length, room;
    int failed;
};

static void put(struct lines *to, const char *format, ...) __attribute__((format(printf, 2, 3)));
static void put(struct lines *to, const char *format, ...)
{
    va_list args;
    va_start(args, format);
    int n = vsnprintf(NULL, 0, format, args);
    va_end(args);
    if (!to->failed && to->length + (size_t)n + 1 > to->room) {
        size_t room = 2 * to->room + (size_t)n + 1024;
        char *larger = realloc(to->text, room);
        to->failed = !larger;
        if (larger) {
            to->text = larger;
            to->room = room;
        }
    }
    if (to->failed)
        return;
    va_start(args, format);
    vsnprintf(to->text + to->length, (size_t)n + 1, format, args);
    va_end(args);
    to->length += (size_t)n;
}

static void put_past(struct lines *to, const struct dia_show *show)
{
    if (!show->past.is_set)
        return;
    put(to, "past %u\n", (unsigned)show->past.ms);
    for (uint32_t k = 0; k < show->layer_count; k++) {
        const struct dia_cued *c = &show->past.states[k];
        put(to, "cued %u %u %u %u %u %d %d %u %u %u %d %u %u %u\n", (unsigned)k, c->on,
            (unsigned)c->level, (unsigned)c->at_ms, (unsigned)c->since_ms, c->pace_from, c->pace_to,
            (unsigned)c->paced_ms, (unsigned)c->pace_over_ms, (unsigned)c->ahead_ms, c->way,
            (unsigned)c->way_ms, (unsigned)c->turned_ms, (unsigned)c->gone_ms);
    }
    for (uint32_t k = 0; k < show->knob_count; k++) {
        const struct dia_knob *knob = &show->past.knobs[k];
        put(to, "knob %u %d %d %u %u\n", (unsigned)k, (int)knob->from, (int)knob->to,
            (unsigned)knob->at_ms, (unsigned)knob->over_ms);
    }
}

static void put_inputs(struct lines *to, const struct dia_show *show)
{
    for (uint32_t k = 0; k < show->press_count; k++) {
        const struct dia_show_press *press = &show->presses[k];
        if (press->came)
            put(to, "press %u %u %u\n", press->key, (unsigned)press->ms, (unsigned)press->for_ms);
    }
    for (uint32_t k = 0; k < show->knob_count; k++) {
        const struct dia_show_knob *knob = &show->knobs[k];
        if (knob->by_hand)
            put(to, "hand %u %d %u\n", (unsigned)k, (int)knob->value, (unsigned)knob->ms);
    }
    for (uint32_t k = 0; k < show->value_count; k++) {
        const struct dia_show_value *v = &show->values[k];
        if (v->source == DIA_VALUE_KEYS) /* also those that no past goes with any more */
            put(to, "start %u %d\n", (unsigned)k, (int)v->start);
        uint32_t from = v->count > READINGS ? v->count - READINGS : 0;
        for (uint32_t r = from; v->source == DIA_VALUE_INPUT && r < v->count; r++)
            put(to, "reading %u %u %d\n", (unsigned)k, (unsigned)v->readings[r].ms,
                (int)v->readings[r].number);
    }
}

char *dia_live_state(const struct dia_live *live)
{
    const struct dia_show *show = live->show;
    struct lines to = {NULL, 0, 0, 0};
    char *text = dia_live_quoted("show", live->text);
    if (!text)
        return NULL;
    put(&to, "%s\nmaster %u\n", text, (unsigned)live->master);
    free(text);
    put(&to, "time %lld %lld %d %d\nclock %u\npressed %u\n", (long long)live->show_ms,
        (long long)live->run_ms, (int)live->pace, live->paused, (unsigned)show->clock_s,
        show->pressed);
    put_past(&to, show);
    put_inputs(&to, show);
    if (!to.failed)
        return to.text;
    free(to.text);
    return NULL;
}

/* ---- from there on --------------------------------------------------------------------------- */

#define NUMBERS 14

/* The whole numbers behind the word of a line: how many; -1: there is something else. */
static int numbers_of(const char *at, long long numbers[NUMBERS])
{
    int n = 0;
    for (;;) {
        char *end;
        at += strspn(at, " ");
        if (*at == 0)
            return n;
        long long number = strtoll(at, &end, 10);
        if (end == at || n == NUMBERS)
            return -1;
        numbers[n++] = number;
        at = end;
    }
}

static int within(const long long *numbers, int n, long long least, long long most)
{
    int all = 1;
    for (int k = 0; k < n; k++)
        all &= numbers[k] >= least && numbers[k] <= most;
    return all;
}

static int take_cued(struct dia_show *show, const long long *n)
{
    if (!within(n, 14, INT16_MIN, UINT32_MAX) || !within(n, 1, 0, (int)show->layer_count - 1) ||
        !within(n + 1, 1, 0, 1) || !within(n + 2, 1, 0, UINT16_MAX) ||
        !within(n + 3, 2, 0, UINT32_MAX) || !within(n + 5, 2, INT16_MIN, INT16_MAX) ||
        !within(n + 7, 3, 0, UINT32_MAX) || !within(n + 10, 1, -1, 1) ||
        !within(n + 11, 3, 0, UINT32_MAX))
        return 0;
    show->past.states[n[0]] = (struct dia_cued){.on = (uint8_t)n[1],
                                                .level = (uint16_t)n[2],
                                                .at_ms = (uint32_t)n[3],
                                                .since_ms = (uint32_t)n[4],
                                                .pace_from = (int16_t)n[5],
                                                .pace_to = (int16_t)n[6],
                                                .paced_ms = (uint32_t)n[7],
                                                .pace_over_ms = (uint32_t)n[8],
                                                .ahead_ms = (uint32_t)n[9],
                                                .way = (int8_t)n[10],
                                                .way_ms = (uint32_t)n[11],
                                                .turned_ms = (uint32_t)n[12],
                                                .gone_ms = (uint32_t)n[13]};
    return 1;
}

static int take_knob(struct dia_show *show, const long long *n)
{
    if (!within(n, 1, 0, (int)show->knob_count - 1) || !within(n + 1, 2, INT32_MIN, INT32_MAX) ||
        !within(n + 3, 2, 0, UINT32_MAX))
        return 0;
    struct dia_knob *knob = &show->past.knobs[n[0]];
    knob->from = (int32_t)n[1];
    knob->to = (int32_t)n[2];
    knob->at_ms = (uint32_t)n[3];
    knob->over_ms = (uint32_t)n[4];
    return 1;
}

static int take_hand(struct dia_show *show, const long long *n)
{
    if (!within(n, 1, 0, (int)show->knob_count - 1) || !within(n + 1, 1, INT32_MIN, INT32_MAX) ||
        !within(n + 2, 1, 0, UINT32_MAX))
        return 0;
    struct dia_show_knob *knob = &show->knobs[n[0]];
    knob->by_hand = 1;
    knob->value = (int32_t)n[1];
    knob->ms = (uint32_t)n[2];
    return 1;
}

static int take_press(struct dia_show *show, const long long *n)
{
    struct dia_show_press press = {
        .key = (uint8_t)n[0], .ms = (uint32_t)n[1], .for_ms = (uint32_t)n[2], .came = 1};
    return within(n, 1, 0, DIA_SHOW_BUTTONS + DIA_RIG_BUTTONS - 1) &&
           within(n + 1, 2, 0, UINT32_MAX) && dia_show_press(show, press) == DIA_OK;
}

static int take_reading(struct dia_show *show, const long long *n)
{
    return within(n, 1, 0, (int)show->value_count - 1) && within(n + 1, 1, 0, UINT32_MAX) &&
           within(n + 2, 1, INT32_MIN, INT32_MAX) && show->values[n[0]].source == DIA_VALUE_INPUT &&
           dia_show_reading(&show->values[n[0]], (uint32_t)n[1], (int32_t)n[2]) == DIA_OK;
}

static int take_start(struct dia_show *show, const long long *n)
{
    int fits = within(n, 1, 0, (int)show->value_count - 1) &&
               within(n + 1, 1, INT32_MIN, INT32_MAX) &&
               show->values[n[0]].source == DIA_VALUE_KEYS;
    if (fits)
        show->values[n[0]].start = (int32_t)n[1];
    return fits;
}

static int take_numbers(struct dia_live *live, const char *word, const long long *n, int count)
{
    struct dia_show *show = live->show;
    if (strcmp(word, "master") == 0 && count == 1 && within(n, 1, 0, DIA_SHARE_ONE)) {
        live->master = (dia_share)n[0];
    } else if (strcmp(word, "time") == 0 && count == 4 && within(n, 2, 0, INT64_MAX / 1024) &&
               within(n + 2, 1, -16 * (int)DIA_SHARE_ONE, 16 * (int)DIA_SHARE_ONE)) {
        dia_live_clock(live, (uint64_t)n[1], n[0], (int32_t)n[2], n[3] != 0);
    } else if (strcmp(word, "clock") == 0 && count == 1 && within(n, 1, 0, 86399)) {
        show->clock_s = (uint32_t)n[0];
    } else if (strcmp(word, "pressed") == 0 && count == 1) {
        show->pressed = n[0] != 0;
    } else if (strcmp(word, "past") == 0 && count == 1 && within(n, 1, 0, UINT32_MAX)) {
        show->past.is_set = 1;
        show->past.ms = (uint32_t)n[0];
    } else {
        return (strcmp(word, "cued") == 0 && count == 14 && take_cued(show, n)) ||
               (strcmp(word, "knob") == 0 && count == 5 && take_knob(show, n)) ||
               (strcmp(word, "start") == 0 && count == 2 && take_start(show, n)) ||
               (strcmp(word, "press") == 0 && count == 3 && take_press(show, n)) ||
               (strcmp(word, "hand") == 0 && count == 3 && take_hand(show, n)) ||
               (strcmp(word, "reading") == 0 && count == 3 && take_reading(show, n));
    }
    return 1;
}

static enum dia_status take_line(struct dia_live *live, const char *line,
                                 struct dia_diagnostic *wrong)
{
    char word[12] = "";
    long long numbers[NUMBERS];
    sscanf(line, "%11s", word);
    int count = numbers_of(line + strlen(word), numbers);
    if (take_numbers(live, word, numbers, count))
        return DIA_OK;
    return dia_host_wrong(wrong, "'%.60s' says nothing of how a show stands", line);
}

struct dia_live *dia_live_from(const struct dia_rig *rig, const char *state, const char *name,
                               const char *known, int *failed, struct dia_diagnostic *wrong)
{
    struct dia_live *live = dia_live_new(rig, "", name, failed, wrong);
    char *copy = strdup(state), *begun = strdup(known ? known : ""), *save = NULL;
    enum dia_status status = live ? DIA_OK : DIA_BAD_VALUE;
    if (live && (!copy || !begun)) {
        dia_host_wrong(wrong, "out of memory");
        status = DIA_PORT_FAILED;
    }
    if (status == DIA_OK) {
        free(live->begun);
        live->begun = begun;
        begun = NULL;
    }
    char *line = status == DIA_OK ? strtok_r(copy, "\n", &save) : NULL;
    if (status == DIA_OK && (!line || strncmp(line, "show \"", 6) != 0))
        status = dia_host_wrong(wrong, "how a show stands begins with its text: show \"...\"");
    if (status == DIA_OK)
        status = dia_live_change(live, line, 0, DIA_LIVE_OTHERS, wrong);
    while (status == DIA_OK && (line = strtok_r(NULL, "\n", &save)) != NULL)
        status = take_line(live, line, wrong);
    free(copy);
    free(begun);
    if (live)
        dia_live_forget_steps(live);
    if (status == DIA_OK)
        return live;
    if (failed)
        *failed |= status == DIA_PORT_FAILED;
    dia_live_free(live);
    return NULL;
}
