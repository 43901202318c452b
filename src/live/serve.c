/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>

#include "mqtt.h"
#include "presets.h"
#include "tell.h"
#include "web.h"

/*
 * The light's side: a frame each 1/rate s, at times that are counted from the beginning, so that
 * nothing adds up. Frames that are late are left out, and counted. What clients ask for is done
 * just before a frame, and has the time of it.
 */
#define STATE_MS   100         /* the state is told no more often than this, */
#define STATUS_MS  250         /* and how it goes */
#define RECORD     (64l << 20) /* bytes, at most */
#define AT_ONCE    256         /* requests before one frame */
#define LINE       2048        /* bytes of a line from elsewhere, the zero included */
#define REST_MS    6000        /* what rests is shown for so long: more than 256 frames at 50 Hz */
#define LONGEST_US 250000u     /* that the bench goes on by from frame to frame */
#define LOOK_MS    250         /* files are looked at again */

struct dia_serve {
    struct dia_serve_options options;
    struct dia_live *live;
    struct dia_player *player;
    struct dia_scene *scene;
    struct presets presets;
    struct hub hub;
    struct web *web;
    struct mqtt *mqtt; /* NULL: no broker */
    char *looks_json;
    uint8_t *frame;
    struct dia_rig *own_rig; /* read again, in place of that of the options; NULL: not yet */
    const struct dia_rig *rig;
    uint32_t shown_version;
    uint64_t changed_ms, shown_us, bench_ns; /* bench_ns: of its own clock */
    uint32_t scenes;
    uint64_t look_ms;
    char trouble[400]; /* with a file that has changed; "": there is none */
    FILE *record;
    long recorded;
    uint64_t frames, late;
    /* what was told */
    uint32_t version;
    uint64_t state_ms, status_ms;
    int told;
};

static void say(const struct dia_serve *serve, const char *line)
{
    if (serve->options.log)
        serve->options.log(line);
}

/* ---- what clients ask for -------------------------------------------------------------------- */

static void note(struct dia_serve *serve, const char *line, uint64_t ms)
{
    if (!serve->record)
        return;
    int n = fprintf(serve->record, "%llu.%03llus %s\n", (unsigned long long)(ms / 1000),
                    (unsigned long long)(ms % 1000), line);
    serve->recorded += n;
    if (n < 0 || fflush(serve->record) != 0 || serve->recorded > RECORD) {
        char text[400];
        snprintf(text, sizeof text, "record-ended file=\"%.200s\" reason=\"%s\"",
                 serve->options.record,
                 serve->recorded > RECORD ? "64 MB are full" : strerror(errno));
        say(serve, text);
        fclose(serve->record);
        serve->record = NULL;
    }
}

static enum dia_status change(struct dia_serve *serve, const char *line, uint64_t ms,
                              enum dia_live_from from, struct dia_diagnostic *wrong)
{
    enum dia_status status = dia_live_change(serve->live, line, ms, from, wrong);
    if (status == DIA_OK)
        note(serve, line, ms);
    if (status == DIA_OK && serve->options.made)
        serve->options.made(ms, line);
    return status;
}

/* A text as a change, in quotes. */
static enum dia_status change_text(struct dia_serve *serve, const char *text, uint64_t ms,
                                   enum dia_live_from from, struct dia_diagnostic *wrong)
{
    char *line = malloc(2 * strlen(text) + 16), *at = line;
    if (!line) {
        dia_live_wrong(wrong, "out of memory");
        return DIA_PORT_FAILED;
    }
    at += sprintf(at, "show \"");
    for (; *text; text++) {
        if (*text == '\r')
            continue;
        if (strchr("\"\\\n\t", *text))
            *at++ = '\\';
        *at++ = *text == '\n' ? 'n' : *text == '\t' ? 't' : *text;
    }
    *at++ = '"';
    *at = 0;
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
    return dia_presets_write(serve->options.show, dia_live_text(serve->live), wrong);
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
    enum dia_status status = change_text(serve, text, ms, DIA_LIVE_OTHERS, wrong);
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
        return change_text(serve, request->line, ms, DIA_LIVE_OTHERS, wrong);
    case HUB_SAVE:
        return save(serve, wrong);
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
static int serve_lines(struct dia_serve *serve, uint64_t ms)
{
    char line[LINE], value[LINE + 8], word[DIA_RIG_NAME + 1];
    int any = 0;
    for (; any < AT_ONCE && serve->options.line && serve->options.line(line, sizeof line); any++) {
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
            say(serve, text);
        }
    }
    return any;
}

static int serve_all(struct dia_serve *serve, uint64_t ms)
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

/* ---- files that change ----------------------------------------------------------------------- */

/* A player for a rig, and where all of it is, in place of what there was. */
static enum dia_status stand_on(struct dia_serve *serve, const struct dia_rig *rig,
                                struct dia_diagnostic *wrong)
{
    struct dia_player *player = dia_player_new(rig, wrong);
    struct dia_scene *scene = player ? dia_scene_new(dia_player_desk(player)) : NULL;
    uint8_t *frame = scene ? calloc(scene->bytes + 1u, 1) : NULL;
    char *json = scene ? dia_tell_scene(scene, rig) : NULL;
    int failed = !frame;
    if (frame && serve->scenes == 0)
        failed = dia_hub_init(&serve->hub, json, scene->bytes);
    else if (frame)
        failed = dia_hub_change_scene(&serve->hub, json, scene->bytes);
    if (failed) {
        if (player)
            dia_live_wrong(wrong, "out of memory");
        dia_player_free(player);
        dia_scene_free(scene);
        free(frame);
        return DIA_PORT_FAILED;
    }
    dia_player_free(serve->player);
    dia_scene_free(serve->scene);
    free(serve->frame);
    serve->player = player;
    serve->scene = scene;
    serve->frame = frame;
    serve->scenes++;
    serve->told = 0;
    return DIA_OK;
}

/* The rig as its file has it now: everything on it goes on, at the same time. */
static enum dia_status read_rig(struct dia_serve *serve, uint64_t ms, struct dia_diagnostic *wrong)
{
    struct dia_rig *rig = malloc(sizeof *rig);
    if (!rig) {
        dia_live_wrong(wrong, "out of memory");
        return DIA_PORT_FAILED;
    }
    enum dia_status status = dia_rig_load(rig, serve->options.rig_path, wrong);
    if (status == DIA_OK)
        status = dia_live_on(serve->live, rig, ms, wrong);
    if (status != DIA_OK) {
        free(rig);
        return status;
    }
    status = stand_on(serve, rig, wrong);
    if (status != DIA_OK) { /* back to where it was */
        struct dia_diagnostic no;
        dia_live_on(serve->live, serve->rig, ms, &no);
        free(rig);
        return status;
    }
    free(serve->own_rig);
    serve->own_rig = rig;
    serve->rig = rig;
    serve->bench_ns = 0;
    return DIA_OK;
}

static enum dia_status read_show(struct dia_serve *serve, uint64_t ms, struct dia_diagnostic *wrong)
{
    int failed = 0;
    struct dia_live *read = dia_live_load(serve->rig, serve->options.show, &failed, wrong);
    if (!read)
        return failed ? DIA_PORT_FAILED : DIA_BAD_VALUE;
    enum dia_status status = change_text(serve, dia_live_text(read), ms, DIA_LIVE_OWNER, wrong);
    dia_live_free(read);
    return status;
}

/* What has changed is taken over with the next frame; while it is wrong, the old goes on. */
static void look_at_files(struct dia_serve *serve, uint64_t ms)
{
    struct dia_diagnostic wrong = {""};
    char line[500];
    if (!serve->options.changed || ms - serve->look_ms < LOOK_MS)
        return;
    serve->look_ms = ms;
    unsigned changed = serve->options.changed();
    if (changed == 0)
        return;
    enum dia_status status = DIA_OK;
    if (changed & DIA_SERVE_RIG && serve->options.rig_path)
        status = read_rig(serve, ms, &wrong);
    if (status == DIA_OK && changed & DIA_SERVE_SHOW && serve->options.show)
        status = read_show(serve, ms, &wrong);
    snprintf(serve->trouble, sizeof serve->trouble, "%s", status == DIA_OK ? "" : wrong.text);
    snprintf(line, sizeof line, "read-again result=%s%s%.400s%s",
             status == DIA_OK ? "taken" : "wrong", status == DIA_OK ? "" : " reason=\"",
             serve->trouble, status == DIA_OK ? "" : "\"");
    line[strcspn(line, "\n")] = 0;
    say(serve, line);
}

/* ---- a frame --------------------------------------------------------------------------------- */

/* 1: there is something new for those who watch. */
static int tell(struct dia_serve *serve, uint64_t ms)
{
    int is_new = 0;
    int changed = !serve->told || serve->version != dia_live_version(serve->live);
    if (changed && (ms - serve->state_ms >= STATE_MS || serve->frames <= 1)) {
        struct tell_state state = {.live = serve->live,
                                   .rig = serve->rig,
                                   .presets = &serve->presets,
                                   .ms = ms,
                                   .may_save = serve->options.may_save && serve->options.show,
                                   .scene = serve->scenes};
        dia_hub_tell(&serve->hub, HUB_STATE, dia_tell_state(&state));
        serve->version = dia_live_version(serve->live);
        serve->state_ms = ms;
        serve->told = is_new = 1;
    }
    if (ms - serve->status_ms >= STATUS_MS || serve->frames <= 1) {
        struct tell_status status = {.show_ms = dia_live_show_ms(serve->live, ms),
                                     .live = serve->live,
                                     .ms = ms,
                                     .frames = serve->frames,
                                     .late = serve->late,
                                     .trouble = serve->trouble};
        dia_hub_tell(&serve->hub, HUB_STATUS, dia_tell_status(serve->player, serve->rig, &status));
        serve->status_ms = ms;
        is_new = 1;
    }
    return is_new;
}

/* What rests is shown for a while, so that dithering has gone round, and then left as it is: it
 * costs nothing until something changes. */
static int rests(const struct dia_serve *serve, uint64_t ms)
{
    return serve->frames && dia_live_version(serve->live) == serve->shown_version &&
           dia_live_rests(serve->live) && ms - serve->changed_ms > REST_MS;
}

/* The bench goes on by the time since the last frame; not by hours, when it has rested for hours.
 */
static void pass_time(struct dia_serve *serve, uint64_t us)
{
    uint64_t gone_us = us - serve->shown_us;
    serve->bench_ns += (gone_us < LONGEST_US ? gone_us : LONGEST_US) * 1000u;
    serve->shown_us = us;
    dia_player_rest_until(serve->player, serve->bench_ns);
}

static enum dia_status show_frame(struct dia_serve *serve, uint64_t k)
{
    uint64_t us = k * 1000000000u / serve->options.rate_mhz, ms = us / 1000;
    int is_new = 0;
    look_at_files(serve, ms);
    serve_lines(serve, ms);
    is_new |= serve_all(serve, ms);
    if (serve->shown_version != dia_live_version(serve->live))
        serve->changed_ms = ms;
    if (!rests(serve, ms)) {
        pass_time(serve, us);
        enum dia_status status = dia_live_play(serve->live, serve->player, us,
                                               dia_frame_slot(us, serve->options.rate_mhz), NULL);
        if (status != DIA_OK)
            return status;
        serve->shown_version = dia_live_version(serve->live);
        serve->frames++;
        dia_scene_see(serve->scene, serve->player, serve->frame);
        is_new |=
            dia_hub_show(&serve->hub, serve->frame, dia_live_show_ms(serve->live, ms), (uint32_t)k);
    }
    is_new |= tell(serve, ms);
    if (is_new)
        dia_web_wake(serve->web);
    return DIA_OK;
}

static uint64_t now_ns(void)
{
    struct timespec at;
    clock_gettime(CLOCK_MONOTONIC, &at);
    return (uint64_t)at.tv_sec * 1000000000u + (uint64_t)at.tv_nsec;
}

static void sleep_until(uint64_t ns)
{
    struct timespec at = {(time_t)(ns / 1000000000u), (long)(ns % 1000000000u)};
    clock_nanosleep(CLOCK_MONOTONIC, TIMER_ABSTIME, &at, NULL); /* a signal ends it early */
}

static uint64_t due_ns(const struct dia_serve *serve, uint64_t k)
{
    return (uint64_t)((double)k * 1e12 / serve->options.rate_mhz);
}

enum dia_status dia_serve_run(struct dia_serve *serve, const volatile int *ended,
                              struct dia_diagnostic *wrong)
{
    uint64_t begin = now_ns(), k = 0;
    enum dia_status status = DIA_OK;
    status = show_frame(serve, k++); /* there is something to see before anybody asks */
    if (status == DIA_OK &&
        ((serve->mqtt && dia_mqtt_start(serve->mqtt) != 0) || dia_web_start(serve->web) != 0)) {
        dia_live_wrong(wrong, "the thread of the network cannot begin: out of memory");
        return DIA_PORT_FAILED;
    }
    while (!*ended && status == DIA_OK) {
        uint64_t gone = now_ns() - begin;
        if (gone < due_ns(serve, k)) {
            sleep_until(begin + due_ns(serve, k));
            continue;
        }
        uint64_t newest = (uint64_t)((double)gone * serve->options.rate_mhz / 1e12);
        if (newest > k) { /* too late for those between */
            serve->late += newest - k;
            k = newest;
        }
        status = show_frame(serve, k++);
    }
    if (status != DIA_OK) {
        const char *trouble = dia_show_trouble(dia_live_show(serve->live));
        dia_live_wrong(wrong, "%s",
                       trouble[0] ? trouble : "a frame could not be shown: out of memory");
    }
    if (!serve->options.hold && dia_player_dark(serve->player) != DIA_OK && status == DIA_OK) {
        dia_live_wrong(wrong, "the rig could not be made dark");
        status = DIA_PORT_FAILED;
    }
    return status;
}

/* ---- from its beginning to its end ----------------------------------------------------------- */

static enum dia_status open_record(struct dia_serve *serve, struct dia_diagnostic *wrong)
{
    const struct dia_serve_options *options = &serve->options;
    if (!options->record)
        return DIA_OK;
    serve->record = fopen(options->record, "w");
    if (!serve->record) {
        dia_live_wrong(wrong, "%s: cannot be written: %s", options->record, strerror(errno));
        return DIA_PORT_FAILED;
    }
    fprintf(serve->record, "# changes of %s%s%s; diachrome render plays them with --changes\n",
            options->rig->path, options->show ? " with " : "", options->show ? options->show : "");
    return DIA_OK;
}

static enum dia_status set_up(struct dia_serve *serve, struct dia_diagnostic *wrong)
{
    const struct dia_serve_options *options = &serve->options;
    char clock[40];
    int failed = 0;
    serve->live = options->show
                      ? dia_live_load(options->rig, options->show, &failed, wrong)
                      : dia_live_new(options->rig, options->usual, "show", &failed, wrong);
    if (!serve->live)
        return failed ? DIA_PORT_FAILED : DIA_BAD_VALUE;
    enum dia_status status = open_record(serve, wrong);
    if (status == DIA_OK)
        status = dia_presets_open(&serve->presets, options->presets, wrong);
    if (status != DIA_OK)
        return status;
    serve->looks_json = dia_tell_looks();
    if (!serve->looks_json) {
        dia_live_wrong(wrong, "out of memory");
        return DIA_PORT_FAILED;
    }
    status = stand_on(serve, options->rig, wrong);
    if (status != DIA_OK)
        return status;
    snprintf(clock, sizeof clock, "clock %us", (unsigned)options->clock_s);
    status = dia_live_change(serve->live, clock, 0, DIA_LIVE_OWNER, wrong);
    if (status == DIA_OK)
        note(serve, clock, 0);
    if (status != DIA_OK)
        return status;
    serve->mqtt = options->mqtt && options->mqtt->broker[0]
                      ? dia_mqtt_new(options, &serve->hub, wrong)
                      : NULL;
    if (options->mqtt && options->mqtt->broker[0] && !serve->mqtt)
        return DIA_BAD_VALUE;
    serve->web = dia_web_new(options, &serve->hub, serve->looks_json, wrong);
    return serve->web ? DIA_OK : DIA_PORT_FAILED;
}

struct dia_serve *dia_serve_new(const struct dia_serve_options *options, int *failed,
                                struct dia_diagnostic *wrong)
{
    struct dia_serve *serve = calloc(1, sizeof *serve);
    enum dia_status status = DIA_PORT_FAILED;
    if (serve) {
        serve->options = *options;
        serve->rig = options->rig;
        status = set_up(serve, wrong);
    } else {
        dia_live_wrong(wrong, "out of memory");
    }
    if (failed)
        *failed = status == DIA_PORT_FAILED;
    if (status == DIA_OK)
        return serve;
    dia_serve_free(serve);
    return NULL;
}

uint16_t dia_serve_port(const struct dia_serve *serve)
{
    return dia_web_port(serve->web);
}

uint64_t dia_serve_frames(const struct dia_serve *serve)
{
    return serve->frames;
}

uint64_t dia_serve_late(const struct dia_serve *serve)
{
    return serve->late;
}

void dia_serve_free(struct dia_serve *serve)
{
    if (!serve)
        return;
    dia_mqtt_free(serve->mqtt); /* their threads first */
    dia_web_free(serve->web);
    if (serve->hub.frame)
        dia_hub_free(&serve->hub);
    dia_scene_free(serve->scene);
    dia_player_free(serve->player);
    dia_live_free(serve->live);
    dia_presets_free(&serve->presets);
    if (serve->record)
        fclose(serve->record);
    free(serve->own_rig);
    free(serve->looks_json);
    free(serve->frame);
    free(serve);
}
