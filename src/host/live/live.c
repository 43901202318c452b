/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include "host_private.h"
#include "live_private.h"
#include "show_private.h"

#define SETTLE_MS 2000 /* presses are put together when they are over for so long */

/* ---- the clock of the show ------------------------------------------------------------------- */

static int64_t show_at(const struct dia_live *live, uint64_t ms)
{
    int64_t gone = live->paused ? 0 : (int64_t)ms - live->run_ms;
    int64_t at = live->show_ms + gone * live->pace / DIA_SHARE_ONE;
    return at < 0 ? 0 : at;
}

uint32_t dia_live_show_ms(const struct dia_live *live, uint64_t ms)
{
    return (uint32_t)show_at(live, ms);
}

void dia_live_clock(struct dia_live *live, uint64_t ms, int64_t show_ms, int32_t pace, int paused)
{
    live->show_ms = show_ms;
    live->run_ms = (int64_t)ms;
    live->pace = pace;
    live->paused = paused;
}

/* ---- the show of a text ---------------------------------------------------------------------- */

static struct dia_show *read_show(const struct dia_live *live, const char *text,
                                  enum dia_status *status, struct dia_diagnostic *wrong)
{
    struct dia_show *show = malloc(sizeof *show);
    *status = DIA_PORT_FAILED;
    if (!show) {
        dia_host_wrong(wrong, "out of memory");
        return NULL;
    }
    dia_show_init(show);
    show->drawings.instead = &live->instead;
    *status = dia_show_rig_values(show, live->rig, wrong);
    if (*status == DIA_OK)
        *status = dia_show_read(show, live->rig, text, live->name, wrong);
    if (*status == DIA_OK)
        *status = dia_show_check(show, wrong);
    if (*status == DIA_OK)
        return show;
    dia_show_free(show);
    free(show);
    return NULL;
}

/* What has come in so far goes over, where there still is such a thing. */
static enum dia_status take_inputs(struct dia_show *to, const struct dia_show *from)
{
    to->clock_s = from->clock_s;
    for (uint32_t k = 0; k < to->value_count; k++) {
        struct dia_show_value *value = &to->values[k];
        for (uint32_t j = 0; j < from->value_count && value->source == DIA_VALUE_INPUT; j++) {
            const struct dia_show_value *was = &from->values[j];
            if (was->source != DIA_VALUE_INPUT || strcmp(was->name, value->name) != 0 ||
                was->decimals != value->decimals)
                continue;
            for (uint32_t r = 0; r < was->count; r++) {
                if (dia_show_reading(value, was->readings[r].ms, was->readings[r].number) != DIA_OK)
                    return DIA_PORT_FAILED;
            }
        }
    }
    return DIA_OK;
}

static void forget(char **texts, uint32_t *count)
{
    while (*count)
        free(texts[--*count]);
}

void dia_live_forget_steps(struct dia_live *live)
{
    forget(live->undo, &live->undos);
    forget(live->redo, &live->redos);
    live->step[0] = 0;
}

const char *dia_live_name(const struct dia_live *live)
{
    return live->name;
}

const char *dia_live_known(const struct dia_live *live)
{
    return live->begun;
}

enum dia_status dia_live_may_name(struct dia_live *live, const char *file)
{
    char line[SHOW_WORD + 20], word[SHOW_WORD];
    int n = snprintf(line, sizeof line, "drawings %s\n", file);
    if (n >= (int)sizeof line || file[strcspn(file, " \t\r\n\"\\#")])
        return DIA_BAD_VALUE;
    if (!dia_live_new_file(line, live->begun, word, sizeof word))
        return DIA_OK;
    size_t length = strlen(live->begun);
    char *more = malloc(length + (size_t)n + 2);
    if (!more)
        return DIA_PORT_FAILED;
    snprintf(more, length + (size_t)n + 2, "%s%s%s", live->begun,
             length && live->begun[length - 1] != '\n' ? "\n" : "", line);
    free(live->begun);
    live->begun = more;
    return DIA_OK;
}

/* The steps of another up to the text with which ours begin, below ours. */
static void take_steps(struct dia_live *to, struct dia_live *from)
{
    if (to->undos == 0 && strcmp(to->text, from->text) == 0) { /* all of them */
        memcpy(to->undo, from->undo, sizeof to->undo);
        memcpy(to->redo, from->redo, sizeof to->redo);
        to->undos = from->undos;
        to->redos = from->redos;
        from->undos = from->redos = 0;
        return;
    }
    const char *first = to->undos ? to->undo[0] : to->text;
    uint32_t n = from->undos;
    while (n > 0 && strcmp(from->undo[n - 1], first) != 0)
        n--;
    n -= n != 0; /* that one is ours */
    while (n > 0 && to->undos < LIVE_UNDOS) {
        memmove(to->undo + 1, to->undo, to->undos * sizeof *to->undo);
        to->undo[0] = from->undo[--n];
        from->undo[n] = NULL;
        to->undos++;
    }
}

void dia_live_take_over(struct dia_live *to, struct dia_live *from)
{
    struct dia_universes slots = to->universes;
    char *begun = to->begun;
    to->universes = from->universes;
    from->universes = slots;
    to->begun = from->begun;
    from->begun = begun;
    take_steps(to, from);
    to->version = from->version + 1;
}

enum dia_status dia_live_instead(struct dia_live *live, const char *path, const char *text,
                                 size_t size, uint64_t ms, struct dia_diagnostic *wrong)
{
    char *own_path = strdup(path), *own_text = text ? strndup(text, size) : NULL;
    if (!own_path || (text && !own_text)) {
        free(own_path);
        free(own_text);
        dia_host_wrong(wrong, "out of memory");
        return DIA_PORT_FAILED;
    }
    const struct dia_drawing_text was = live->instead;
    live->instead.path = own_path;
    live->instead.text = own_text;
    live->instead.size = size;
    enum dia_status status = dia_live_take_text(live, strdup(live->text), "", ms, wrong);
    if (status != DIA_OK) {
        live->instead = was;
        free(own_path);
        free(own_text);
        return status;
    }
    free((char *)was.path);
    free((char *)was.text);
    live->version++;
    return DIA_OK;
}

void dia_live_push(char **texts, uint32_t *count, char *text)
{
    if (*count == LIVE_UNDOS) {
        free(texts[0]);
        memmove(texts, texts + 1, (LIVE_UNDOS - 1) * sizeof *texts);
        --*count;
    }
    texts[(*count)++] = text;
}

/* The text as it was becomes a step of undo, unless more of the same thing follows soon. */
static void keep_step(struct dia_live *live, const char *step, uint64_t ms)
{
    int joins = strcmp(step, live->step) == 0 && ms - live->step_ms <= LIVE_MERGES;
    if (joins && live->undos)
        free(live->text);
    else
        dia_live_push(live->undo, &live->undos, live->text);
    live->text = NULL;
    forget(live->redo, &live->redos);
    snprintf(live->step, sizeof live->step, "%s", step);
    live->step_ms = ms;
}

void dia_live_keep(struct dia_live *live, char *text, const char *step, uint64_t ms)
{
    if (live->text && step[0])
        keep_step(live, step, ms);
    free(live->text);
    live->text = text;
}

enum dia_status dia_live_take_text(struct dia_live *live, char *text, const char *step, uint64_t ms,
                                   struct dia_diagnostic *wrong)
{
    enum dia_status status = DIA_PORT_FAILED;
    if (!text) {
        dia_host_wrong(wrong, "out of memory");
        return DIA_PORT_FAILED;
    }
    if (strlen(text) >= LIVE_TEXT) {
        free(text);
        return dia_host_wrong(wrong, "a show has at most %u bytes", LIVE_TEXT - 1);
    }
    struct dia_show *show = read_show(live, text, &status, wrong);
    if (show && live->show) {
        status = take_inputs(show, live->show);
        if (status == DIA_OK)
            status = dia_show_take_presses(show, live->show);
        if (status != DIA_OK)
            dia_host_wrong(wrong, "out of memory");
    }
    if (status != DIA_OK) {
        if (show)
            dia_show_free(show);
        free(show);
        free(text);
        return status;
    }
    if (live->show)
        dia_show_free(live->show);
    free(live->show);
    live->show = show;
    show->universes = &live->universes;
    dia_live_keep(live, text, step, ms);
    return DIA_OK;
}

/* ---- from its beginning to its end ----------------------------------------------------------- */

struct dia_live *dia_live_new(const struct dia_rig *rig, const char *text, const char *name,
                              int *failed, struct dia_diagnostic *wrong)
{
    struct dia_live *live = calloc(1, sizeof *live);
    enum dia_status status = DIA_PORT_FAILED;
    if (text && strncmp(text, "\xef\xbb\xbf", 3) == 0) /* some editors begin so */
        text += 3;
    if (!live) {
        dia_host_wrong(wrong, "out of memory");
    } else {
        live->rig = rig;
        live->master = rig->master;
        live->pace = DIA_SHARE_ONE;
        snprintf(live->name, sizeof live->name, "%s", name);
        live->begun = strdup(text ? text : "");
        if (!live->begun)
            dia_host_wrong(wrong, "out of memory");
        else
            status = dia_live_take_text(live, strdup(live->begun), "", 0, wrong);
    }
    if (failed)
        *failed = status == DIA_PORT_FAILED;
    if (status == DIA_OK)
        return live;
    dia_live_free(live);
    return NULL;
}

enum dia_status dia_live_on(struct dia_live *live, const struct dia_rig *rig, uint64_t ms,
                            struct dia_diagnostic *wrong)
{
    const struct dia_rig *was = live->rig;
    live->rig = rig;
    enum dia_status status = dia_live_take_text(live, strdup(live->text), "", ms, wrong);
    if (status != DIA_OK) {
        live->rig = was;
        return status;
    }
    if (live->master == was->master) /* nobody has set it */
        live->master = rig->master;
    live->version++;
    return DIA_OK;
}

void dia_live_free(struct dia_live *live)
{
    if (!live)
        return;
    if (live->show)
        dia_show_free(live->show);
    free(live->show);
    forget(live->undo, &live->undos);
    forget(live->redo, &live->redos);
    dia_universes_free(&live->universes);
    free((char *)live->instead.path);
    free((char *)live->instead.text);
    free(live->text);
    free(live->begun);
    free(live);
}

enum dia_status dia_live_play(struct dia_live *live, struct dia_player *player, uint64_t time_us,
                              uint32_t slot, uint64_t *frame_ns)
{
    uint32_t ms = dia_live_show_ms(live, time_us / 1000);
    if (dia_show_settle(live->show, ms > SETTLE_MS ? ms - SETTLE_MS : 0) != DIA_OK)
        return DIA_PORT_FAILED;
    dia_player_master(player, live->master);
    return dia_show_play(live->show, player, ms, slot, frame_ns);
}

const struct dia_show *dia_live_show(const struct dia_live *live)
{
    return live->show;
}

const char *dia_live_text(const struct dia_live *live)
{
    return live->text;
}

uint32_t dia_live_version(const struct dia_live *live)
{
    return live->version;
}

dia_share dia_live_master(const struct dia_live *live)
{
    return live->master;
}

int dia_live_is_paused(const struct dia_live *live)
{
    return live->paused;
}

int32_t dia_live_pace(const struct dia_live *live)
{
    return live->pace;
}

int dia_live_rests(const struct dia_live *live)
{
    const struct dia_show *show = live->show;
    if (live->universes.count)
        return 0;
    if (live->paused || live->pace == 0)
        return 1;
    for (uint32_t k = 0; k < show->layer_count; k++) {
        const struct dia_rig_layer *layer = &show->layers[k];
        if (layer->look != &dia_look_steady || layer->masked || layer->start_ms ||
            layer->length_ms || layer->fade_in_ms || layer->fade_out_ms)
            return 0;
    }
    return show->cue_count == 0 && show->drive_count == 0 && show->press_count == 0;
}

uint8_t dia_live_values(const struct dia_live *live, uint64_t ms, struct dia_value *out)
{
    return dia_show_all_at(live->show, dia_live_show_ms(live, ms), out);
}

const char *dia_live_undo_text(const struct dia_live *live)
{
    return live->undos ? live->undo[live->undos - 1] : NULL;
}

const char *dia_live_redo_text(const struct dia_live *live)
{
    return live->redos ? live->redo[live->redos - 1] : NULL;
}

uint32_t dia_live_undos(const struct dia_live *live)
{
    return live->undos;
}

uint32_t dia_live_redos(const struct dia_live *live)
{
    return live->redos;
}

char *dia_live_clause(const struct dia_live *live, uint32_t layer, const char *word, char *text,
                      size_t size)
{
    char line[LIVE_LINE], bare[64];
    size_t length = strlen(word);
    int is_key = length && word[length - 1] == '=';
    snprintf(bare, sizeof bare, "%.*s", (int)(is_key ? length - 1 : length), word);
    text[0] = 0;
    if (dia_live_line(live->text, layer, line))
        dia_live_get(line, bare, is_key, text, size);
    return text;
}
