/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>

#include "serve_private.h"
#include "tell.h"

/*
 * The light's side: a frame each 1/rate s, at times that are counted from the beginning, so that
 * nothing adds up. Frames that are late are left out, and counted. What clients ask for is done
 * just before a frame, and has the time of it.
 */
#define STATE_MS   100         /* the state is told no more often than this, */
#define ALONE_MS   400         /* where nobody watches, so long after others have changed it, */
#define STATUS_MS  250         /* and how it goes */
#define REST_MS    6000        /* what rests is shown for so long: more than 256 frames at 50 Hz */
#define TROUBLE_MS 10000       /* what a part refused is shown for so long after the last time */
#define JUMP_NS    2000000000u /* further apart than that, the clock of nodes has jumped */
#define LONGEST_US 250000u     /* that the bench goes on by from frame to frame */

void dia_serve_say(const struct dia_serve *serve, const char *line)
{
    if (serve->options.log)
        serve->options.log(line);
}

/* ---- a frame --------------------------------------------------------------------------------- */

/* What is wrong with files, real parts, or a stream of pictures. */
static const char *trouble_of(const struct dia_serve *serve)
{
    const char *stream = dia_show_trouble(dia_live_show(serve->live));
    if (serve->trouble[0] || serve->part_trouble[0])
        return serve->trouble[0] ? serve->trouble : serve->part_trouble;
    return stream[0] ? stream : serve->flash_trouble;
}

/* answers: to those who changed something here. 1: there is something new for those who watch. */
static int tell(struct dia_serve *serve, uint64_t ms, int answers)
{
    int is_new = 0;
    serve->has_answered |= answers;
    int in_time = serve->has_answered || dia_web_is_watched(serve->web)
                      ? ms - serve->state_ms >= STATE_MS
                      : ms - serve->all_told_ms >= ALONE_MS;
    int changed = !serve->told || serve->version != dia_live_version(serve->live);
    if (!changed)
        serve->all_told_ms = ms;
    if (changed && (in_time || serve->frames <= 1)) {
        struct tell_state state = {.live = serve->live,
                                   .rig = serve->rig,
                                   .node = serve->options.node,
                                   .presets = &serve->presets,
                                   .ms = ms,
                                   .may_save = serve->options.may_save && serve->options.show,
                                   .scene = serve->scenes};
        dia_hub_tell(&serve->hub, HUB_STATE, dia_tell_state(&state));
        serve->version = dia_live_version(serve->live);
        serve->state_ms = serve->all_told_ms = ms;
        serve->told = is_new = 1;
        serve->has_answered = 0;
    }
    if (ms - serve->status_ms >= STATUS_MS || serve->frames <= 1) {
        struct tell_status status = {.show_ms = dia_live_show_ms(serve->live, ms),
                                     .live = serve->live,
                                     .ms = ms,
                                     .frames = serve->frames,
                                     .late = serve->late,
                                     .trouble = trouble_of(serve)};
        dia_hub_tell(&serve->hub, HUB_STATUS, dia_tell_status(serve->player, serve->rig, &status));
        serve->status_ms = ms;
        is_new = 1;
    }
    return is_new;
}

/* Keys of a real panel come in with its frames. */
static int has_keys(const struct dia_serve *serve)
{
    int any = 0;
    for (uint32_t i = 0; i < serve->rig->device_count && serve->outlet; i++)
        any |= dia_rig_has_keys(&serve->rig->devices[i]);
    return any;
}

/* What is wrong with a stream, once for each text. */
static void say_stream(struct dia_serve *serve)
{
    const char *stream = dia_show_trouble(dia_live_show(serve->live));
    char line[500];
    if (stream[0] &&
        strncmp(stream, serve->stream_trouble, sizeof serve->stream_trouble - 1) != 0) {
        snprintf(line, sizeof line, "stream-refused reason=\"%.400s\"", stream);
        dia_serve_say(serve, line);
    }
    snprintf(serve->stream_trouble, sizeof serve->stream_trouble, "%s", stream);
}

/* That something would flash too often, until it has not for a while. */
static void say_flashing(struct dia_serve *serve, uint64_t ms)
{
    uint64_t held = dia_player_held_back(serve->player);
    char line[100];
    if (held != serve->held_back) {
        if (!serve->flash_trouble[0]) {
            snprintf(line, sizeof line, "flashing-held-back most=%u",
                     (unsigned)serve->options.flashes);
            dia_serve_say(serve, line);
        }
        snprintf(serve->flash_trouble, sizeof serve->flash_trouble,
                 "it is held back: it would flash more than %u time%s in a second",
                 (unsigned)serve->options.flashes, serve->options.flashes == 1 ? "" : "s");
        serve->held_ms = ms;
    } else if (ms - serve->held_ms > TROUBLE_MS) {
        serve->flash_trouble[0] = 0;
    }
    serve->held_back = held;
}

/* What a part refused, told once for each text. */
static void say_trouble(struct dia_serve *serve, uint64_t ms)
{
    struct dia_outlet_state state;
    char line[500];
    if (!serve->outlet)
        return;
    dia_outlet_state(serve->outlet, &state);
    if (state.errors != serve->errors && strcmp(state.trouble, serve->part_trouble) != 0) {
        snprintf(line, sizeof line, "part-refused reason=\"%s\"", state.trouble);
        dia_serve_say(serve, line);
        memcpy(serve->part_trouble, state.trouble, sizeof serve->part_trouble);
    }
    if (state.errors != serve->errors)
        serve->errors_ms = ms;
    else if (ms - serve->errors_ms > TROUBLE_MS)
        serve->part_trouble[0] = 0;
    serve->errors = state.errors;
}

/* What rests is shown for a while, so that dithering has gone round, and then left as it is: it
 * costs nothing until something changes. */
static int rests(const struct dia_serve *serve, uint64_t ms)
{
    return serve->frames && !has_keys(serve) &&
           dia_live_version(serve->live) == serve->shown_version && dia_live_rests(serve->live) &&
           ms - serve->changed_ms > REST_MS;
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
    dia_serve_files(serve, ms);
    dia_serve_lines(serve, ms);
    dia_serve_universes(serve, ms);
    int answers = dia_serve_asks(serve, ms), is_new = dia_serve_drawn(serve, ms);
    dia_serve_keys(serve, ms);
    if (serve->shown_version != dia_live_version(serve->live))
        serve->changed_ms = ms;
    if (!rests(serve, ms)) {
        pass_time(serve, us);
        dia_player_run_ms(serve->player, (uint32_t)ms);
        enum dia_status status = dia_live_play(serve->live, serve->player, us,
                                               dia_frame_slot(us, serve->options.rate_mhz), NULL);
        if (status != DIA_OK)
            return status;
        serve->shown_version = dia_live_version(serve->live);
        serve->frames++;
        say_trouble(serve, ms);
        say_stream(serve);
        say_flashing(serve, ms);
        dia_scene_see(serve->scene, serve->player, serve->frame);
        is_new |=
            dia_hub_show(&serve->hub, serve->frame, dia_live_show_ms(serve->live, ms), (uint32_t)k);
    }
    if (serve->send)
        dia_e131_send_frame(serve->send, serve->scene, serve->frame, ms);
    is_new |= tell(serve, ms, answers);
    if (answers || (is_new && dia_web_is_watched(serve->web)))
        dia_web_wake(serve->web);
    return DIA_OK;
}

static uint64_t now_ns(void)
{
    struct timespec at;
    clock_gettime(CLOCK_MONOTONIC, &at);
    return (uint64_t)at.tv_sec * 1000000000u + (uint64_t)at.tv_nsec;
}

static uint32_t speed_of(const struct dia_serve *serve)
{
    return serve->options.speed ? serve->options.speed : 1;
}

static void sleep_for(uint64_t ns)
{
    ns += now_ns();
    struct timespec at = {(time_t)(ns / 1000000000u), (long)(ns % 1000000000u)};
    clock_nanosleep(CLOCK_MONOTONIC, TIMER_ABSTIME, &at, NULL); /* a signal ends it early */
}

/* Of the run: its own, or that of all nodes. */
static uint64_t gone_ns(const struct dia_serve *serve)
{
    return serve->nodes ? dia_serve_nodes_ns(serve)
                        : (now_ns() - serve->begun_ns) * speed_of(serve);
}

static uint64_t due_ns(const struct dia_serve *serve, uint64_t k)
{
    return (uint64_t)((double)k * 1e12 / serve->options.rate_mhz);
}

enum dia_status dia_serve_run(struct dia_serve *serve, const volatile int *ended,
                              struct dia_diagnostic *wrong)
{
    uint64_t k = 0;
    enum dia_status status = DIA_OK;
    serve->begun_ns = now_ns();
    status = show_frame(serve, k++); /* there is something to see before anybody asks */
    if (status == DIA_OK &&
        ((serve->mqtt && dia_mqtt_start(serve->mqtt) != 0) ||
         (serve->e131 && dia_e131_start(serve->e131) != 0) || dia_web_start(serve->web) != 0)) {
        dia_live_wrong(wrong, "the thread of the network cannot begin: out of memory");
        return DIA_PORT_FAILED;
    }
    while (!*ended && status == DIA_OK) {
        if (serve->nodes)
            dia_serve_nodes(serve);
        uint64_t gone = gone_ns(serve), due = due_ns(serve, k);
        uint64_t newest = (uint64_t)((double)gone * serve->options.rate_mhz / 1e12);
        int jumps = serve->nodes && (serve->jumps || gone + JUMP_NS < due || gone > due + JUMP_NS);
        serve->jumps = 0;
        if (jumps)
            k = newest;
        else if (gone < due) {
            sleep_for((due - gone) / speed_of(serve));
            continue;
        }
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
    int left_lit =
        !serve->options.hold && serve->outlet && dia_outlet_dark(serve->outlet) != DIA_OK;
    say_trouble(serve, serve->errors_ms);
    if (left_lit && status == DIA_OK) {
        dia_live_wrong(wrong, "not all parts could be made dark");
        status = DIA_PORT_FAILED;
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

static int film_reads_stdin(const struct dia_serve *serve)
{
    const struct dia_show *show = dia_live_show(serve->live);
    int any = 0;
    for (uint32_t k = 0; k < show->layer_count; k++)
        any |= show->layers[k].film && strcmp(show->layers[k].file, "-") == 0;
    return any;
}

static enum dia_status carry_files(struct dia_serve *serve, struct dia_diagnostic *wrong)
{
    int failed;
    if (serve->options.files == DIA_SERVE_FILES_STAY)
        return DIA_OK;
    if (!serve->nodes)
        return dia_live_wrong(wrong,
                              "files go over the broker of a rig with nodes; this one has %s",
                              serve->options.node ? "no broker" : "no nodes");
    serve->files = dia_files_new(&serve->options, &failed, wrong);
    if (!serve->files)
        return failed ? DIA_PORT_FAILED : DIA_BAD_VALUE;
    dia_files_offer(serve->files);
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
    if (options->show)
        dia_serve_keep_text(serve, dia_live_text(serve->live));
    if (film_reads_stdin(serve)) /* then no lines come from there */
        serve->options.line = NULL;
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
    status = dia_serve_stand_on(serve, options->rig, wrong);
    if (status != DIA_OK)
        return status;
    snprintf(clock, sizeof clock, "clock %us", (unsigned)options->clock_s);
    status = dia_live_change(serve->live, clock, 0, DIA_LIVE_OWNER, wrong);
    if (status == DIA_OK)
        dia_serve_note(serve, clock, 0);
    int has_broker = options->mqtt && options->mqtt->broker[0];
    if (status == DIA_OK && options->node && has_broker)
        status = dia_serve_nodes_begin(serve, wrong);
    if (status != DIA_OK)
        return status;
    dia_serve_nodes_rig(serve);
    int sends = options->send && options->send->to[0];
    serve->send = sends ? dia_e131_send_new(options->send, options->rig->name, wrong) : NULL;
    if (sends && !serve->send)
        return DIA_BAD_VALUE;
    serve->e131 = options->e131 ? dia_e131_new(options->e131, wrong) : NULL;
    if (options->e131 && !serve->e131)
        return DIA_BAD_VALUE;
    status = carry_files(serve, wrong);
    if (status != DIA_OK)
        return status;
    serve->mqtt =
        has_broker ? dia_mqtt_new(options, &serve->hub, serve->nodes, serve->files, wrong) : NULL;
    if (has_broker && !serve->mqtt)
        return DIA_BAD_VALUE;
    serve->web = dia_web_new(options, &serve->hub, serve->nodes, serve->looks_json, &status, wrong);
    return status;
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
    dia_e131_send_free(serve->send);
    dia_e131_free(serve->e131);
    dia_mqtt_free(serve->mqtt); /* their threads first */
    dia_web_free(serve->web);
    dia_files_free(serve->files);
    dia_serve_nodes_end(serve);
    dia_serve_draw_end(serve);
    if (serve->scenes)
        dia_hub_free(&serve->hub);
    dia_scene_free(serve->scene);
    dia_outlet_close(serve->outlet);
    dia_player_free(serve->player);
    dia_live_free(serve->live);
    dia_presets_free(&serve->presets);
    if (serve->record)
        fclose(serve->record);
    dia_serve_free_rig(serve->own_rig);
    free(serve->looks_json);
    free(serve->file_text);
    free(serve->frame);
    free(serve);
}
