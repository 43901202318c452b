/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <stdlib.h>
#include <string.h>

#include "serve_private.h"
#include "tell.h"

/* What is asked for is done just before a frame, and has the time of it. */
#define RECORD  (64l << 20) /* bytes, at most */
#define AT_ONCE 256         /* requests before one frame */
#define LINE    2048        /* bytes of a line from elsewhere, the zero included */

void dia_serve_note(struct dia_serve *serve, const char *line, uint64_t ms)
{
    if (!serve->record)
        return;
    ms = ms > serve->noted_ms ? ms : serve->noted_ms; /* what comes late from another node */
    serve->noted_ms = ms;
    int n = fprintf(serve->record, "%llu.%03llus %s\n", (unsigned long long)(ms / 1000),
                    (unsigned long long)(ms % 1000), line);
    serve->recorded += n;
    if (n < 0 || fflush(serve->record) != 0 || serve->recorded > RECORD) {
        char text[400];
        snprintf(text, sizeof text, "record-ended file=\"%.200s\" reason=\"%s\"",
                 serve->options.record,
                 serve->recorded > RECORD ? "64 MB are full" : strerror(errno));
        dia_serve_say(serve, text);
        fclose(serve->record);
        serve->record = NULL;
    }
}

static enum dia_status change(struct dia_serve *serve, const char *line, uint64_t ms,
                              enum dia_live_from from, struct dia_diagnostic *wrong)
{
    int is_shared = serve->nodes && strncmp(line, "slots ", 6) != 0; /* all nodes hear those */
    char *shared = is_shared ? dia_serve_nodes_line(serve, line) : NULL;
    if (is_shared && !shared) {
        dia_live_wrong(wrong, "out of memory");
        return DIA_PORT_FAILED;
    }
    if (is_shared) {
        ms = dia_serve_nodes_at(serve, ms);
        line = shared;
    }
    enum dia_status status = dia_live_change(serve->live, line, ms, from, wrong);
    if (status == DIA_OK && is_shared)
        dia_serve_nodes_made(serve, line, ms, from);
    if (status == DIA_OK)
        dia_serve_note(serve, line, ms);
    if (status == DIA_OK && serve->options.made)
        serve->options.made(ms, line);
    free(shared);
    return status;
}

/* A text as a change, in quotes. */
enum dia_status dia_serve_text(struct dia_serve *serve, const char *text, uint64_t ms,
                               enum dia_live_from from, struct dia_diagnostic *wrong)
{
    char *line = dia_live_quoted("show", text);
    if (!line) {
        dia_live_wrong(wrong, "out of memory");
        return DIA_PORT_FAILED;
    }
    enum dia_status status = change(serve, line, ms, from, wrong);
    free(line);
    return status;
}

static enum dia_status save(struct dia_serve *serve, struct dia_diagnostic *wrong)
{
    if (!serve->options.may_save || !serve->options.show)
        return dia_live_wrong(wrong,
                              "the show may not be saved from here; begin with 'diachrome serve "
                              "--save --show FILE', or save a preset");
    enum dia_status status = dia_show_write(serve->options.show, dia_live_text(serve->live), wrong);
    if (status == DIA_OK)
        dia_serve_keep_text(serve, dia_live_text(serve->live));
    return status;
}

#define MASTER "# master "

/* A preset is the text of the show, with the master in a comment at its top. */
static enum dia_status save_preset(struct dia_serve *serve, const char *name,
                                   struct dia_diagnostic *wrong)
{
    const char *text = dia_live_text(serve->live);
    if (strncmp(text, MASTER, strlen(MASTER)) == 0) {
        text += strcspn(text, "\n");
        text += *text != 0;
    }
    size_t size = strlen(text) + 40;
    char *whole = malloc(size);
    if (!whole) {
        dia_live_wrong(wrong, "out of memory");
        return DIA_PORT_FAILED;
    }
    snprintf(whole, size, MASTER "%.2f%%\n%s", dia_live_master(serve->live) * 100.0 / DIA_SHARE_ONE,
             text);
    enum dia_status status = dia_presets_save(&serve->presets, name, whole, wrong);
    free(whole);
    return status;
}

static enum dia_status use_preset(struct dia_serve *serve, const char *name, uint64_t ms,
                                  struct dia_diagnostic *wrong)
{
    char *text = dia_presets_text(&serve->presets, name, wrong), master[40];
    if (!text)
        return DIA_BAD_VALUE;
    enum dia_status status = dia_serve_text(serve, text, ms, DIA_LIVE_OTHERS, wrong);
    if (status == DIA_OK && strncmp(text, MASTER, strlen(MASTER)) == 0) {
        snprintf(master, sizeof master, "master %.*s", (int)strcspn(text + strlen(MASTER), "\r\n"),
                 text + strlen(MASTER));
        status = change(serve, master, ms, DIA_LIVE_OTHERS, wrong);
    }
    free(text);
    return status;
}

static enum dia_status serve_one(struct dia_serve *serve, const struct hub_request *request,
                                 uint64_t ms, struct dia_diagnostic *wrong)
{
    switch (request->what) {
    case HUB_CHANGE:
        return change(serve, request->line, ms, DIA_LIVE_OTHERS, wrong);
    case HUB_TEXT:
        return dia_serve_text(serve, request->line, ms, DIA_LIVE_OTHERS, wrong);
    case HUB_SAVE:
        return save(serve, wrong);
    case HUB_DRAW:
        return dia_serve_draw(serve, request->line, ms, wrong);
    case HUB_PRESET_SAVE:
        serve->told = 0;
        return save_preset(serve, request->line, wrong);
    case HUB_PRESET_USE:
        return use_preset(serve, request->line, ms, wrong);
    default:
        serve->told = 0;
        return dia_presets_drop(&serve->presets, request->line, wrong);
    }
}

/* Lines from elsewhere on this machine: "wind 12.5" is short for "value wind 12.5". */
void dia_serve_lines(struct dia_serve *serve, uint64_t ms)
{
    char line[LINE], value[LINE + 8], word[DIA_RIG_NAME + 1];
    for (int n = 0; n < AT_ONCE && serve->options.line && serve->options.line(line, sizeof line);
         n++) {
        struct dia_diagnostic wrong = {""};
        const struct dia_show *show = dia_live_show(serve->live);
        int is_value = 0;
        sscanf(line, "%32s", word);
        for (uint32_t k = 0; k < show->value_count; k++)
            is_value |= strcmp(show->values[k].name, word) == 0;
        snprintf(value, sizeof value, "%s%s", is_value ? "value " : "", line);
        if (line[strspn(line, " \t")] &&
            change(serve, value, ms, DIA_LIVE_OWNER, &wrong) != DIA_OK) {
            char text[LINE];
            snprintf(text, sizeof text, "line-refused reason=\"%.400s\"", wrong.text);
            dia_serve_say(serve, text);
        }
    }
}

/* Keys and buttons of real parts are changes as all others. */
void dia_serve_keys(struct dia_serve *serve, uint64_t ms)
{
    uint8_t key, is_down;
    char name[DIA_RIG_NAME + 8], line[DIA_RIG_NAME + 20];
    struct dia_diagnostic no;
    while (serve->outlet && dia_outlet_key(serve->outlet, &key, &is_down)) {
        if (!dia_tell_key(serve->rig, key, name, sizeof name))
            continue;
        snprintf(line, sizeof line, "%s %s", is_down ? "hold" : "release", name);
        change(serve, line, ms, DIA_LIVE_OWNER, &no); /* with no room for more it is not held */
    }
}

/* ---- a lighting network ---------------------------------------------------------------------- */

/* The universes that layers of the show want, one after the other as they are filled. */
static void join_all(struct dia_serve *serve)
{
    const struct dia_show *show = dia_live_show(serve->live);
    uint32_t elements = 0;
    for (uint32_t t = 0; t < serve->scene->thing_count; t++)
        elements += serve->scene->things[t].count;
    for (uint32_t k = 0; k < show->layer_count; k++) {
        struct dia_universe_look look;
        if (show->layers[k].look != &dia_look_universe)
            continue;
        memcpy(&look, &show->layers[k].values, sizeof look);
        for (uint32_t n = 0;
             n <= elements / 170 + 1 && n + (uint32_t)look.first <= DIA_UNIVERSE_LAST; n++)
            dia_e131_join(serve->e131, (uint16_t)((uint32_t)look.first + n));
    }
}

struct news {
    struct dia_serve *serve;
    uint64_t ms;
};

/* As a change, so that it is recorded as all others are. */
static void take_universe(void *self, uint16_t universe, const uint8_t *slots, int count)
{
    static const char digits[] = "0123456789abcdef";
    const struct news *news = self;
    char line[40 + 2 * DIA_UNIVERSE_SLOTS];
    struct dia_diagnostic wrong = {""};
    int n = snprintf(line, sizeof line, "slots %u %s", universe, count < 0 ? "lost" : "");
    for (int k = 0; k < count; k++) {
        line[n++] = digits[slots[k] >> 4];
        line[n++] = digits[slots[k] & 15];
    }
    line[n] = 0;
    change(news->serve, line, news->ms, DIA_LIVE_OTHERS, &wrong);
}

void dia_serve_universes(struct dia_serve *serve, uint64_t ms)
{
    struct news news = {serve, ms};
    if (!serve->e131)
        return;
    if (serve->frames == 0 || serve->joined_version != dia_live_version(serve->live))
        join_all(serve);
    serve->joined_version = dia_live_version(serve->live);
    dia_e131_news(serve->e131, take_universe, &news);
}

int dia_serve_asks(struct dia_serve *serve, uint64_t ms)
{
    struct hub_request request;
    int any = 0;
    for (; any < AT_ONCE && dia_hub_take(&serve->hub, &request); any++) {
        struct dia_diagnostic wrong = {""};
        enum dia_status status = serve_one(serve, &request, ms, &wrong);
        dia_hub_reply(&serve->hub, &request, status == DIA_OK ? NULL : wrong.text);
        free(request.line);
    }
    return any;
}
