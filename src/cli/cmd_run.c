/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <inttypes.h>
#include <signal.h>
#include <string.h>
#include <time.h>

#include <diachrome/outlet.h>

#include "feed.h"
#include "guard.h"
#include "json.h"
#include "play.h"

/* A rig of real parts, driven by this computer. */

static struct play play;
static int only_list, as_json;

const struct poptOption cli_run_options[] = {
    PLAY_LOOK,
    PLAY_CHANGES,
    PLAY_TIME,
    PLAY_HOLD,
    {"list", 'i', POPT_ARG_NONE, &only_list, 0,
     "say what drives what and whether it is there, and drive nothing", NULL},
    {"json", 'j', POPT_ARG_NONE, &as_json, 0, "how it went, for programs", NULL},
    CLI_NODE,
    POPT_AUTOHELP POPT_TABLEEND};

#define FEW_MISSED  5 /* ticks that a run may miss at its beginning */
#define A_SECOND_US 1000000u
#define LOOK_US     250000u  /* whether it is to end */
#define HELD_MS     3600000u /* a key that is never let go comes up after an hour */

static volatile sig_atomic_t ended;

static void end(int signal)
{
    (void)signal;
    ended = 1;
}

static uint64_t now_us(void)
{
    struct timespec at;
    clock_gettime(CLOCK_MONOTONIC, &at);
    return (uint64_t)at.tv_sec * 1000000u + (uint64_t)at.tv_nsec / 1000u;
}

static void sleep_until(uint64_t us)
{
    struct timespec at = {(time_t)(us / 1000000u), (long)(us % 1000000u) * 1000};
    clock_nanosleep(CLOCK_MONOTONIC, TIMER_ABSTIME, &at, NULL); /* a signal ends it early */
}

static void list(const struct dia_outlet *outlet, FILE *out)
{
    char text[300];
    for (uint32_t k = 0; dia_outlet_line(outlet, k, text, sizeof text); k++)
        fprintf(out, "%s\n", text);
}

/* Keys and buttons of the parts do what the show says of them. */
static void take_keys(struct dia_outlet *outlet, uint32_t ms)
{
    uint8_t key, is_down;
    while (dia_outlet_key(outlet, &key, &is_down)) {
        if (is_down)
            dia_show_press(&play.show, (struct dia_show_press){
                                           .ms = ms, .for_ms = HELD_MS, .key = key, .came = 1});
        else
            dia_show_release(&play.show, key, ms);
    }
}

struct course {
    struct dia_player *player;
    struct dia_outlet *outlet;
    uint64_t frames, late;
    uint64_t errors; /* that have been told */
};

/* What goes wrong with a part is told once, until it is something else, and no more often than each
 * second. */
static void tell_trouble(struct course *course)
{
    static char told[400];
    static uint64_t next_us;
    struct dia_outlet_state state;
    dia_outlet_state(course->outlet, &state);
    if (state.errors == course->errors || strcmp(told, state.trouble) == 0 || now_us() < next_us)
        return;
    cli_fail(CLI_MACHINE, play.name, "%s", state.trouble);
    strcpy(told, state.trouble);
    next_us = now_us() + A_SECOND_US;
    course->errors = state.errors;
}

static int drive(struct course *course)
{
    int ends = play.for_text || play.frames_text;
    uint64_t begin = now_us(), k = 0, from_us = play.from_ms * 1000ull;
    while (!ended && !(ends && k >= play.frames)) {
        uint64_t due_us = dia_frame_us(0, play.rate_mhz, (uint32_t)k), gone_us = now_us() - begin;
        if (gone_us < due_us) { /* a signal may have come just before it sleeps */
            sleep_until(begin + (due_us < gone_us + LOOK_US ? due_us : gone_us + LOOK_US));
            continue;
        }
        uint64_t newest = gone_us * play.rate_mhz / 1000000000u;
        if (newest > k) { /* too late for those between */
            course->late += newest - k;
            k = newest;
            if (ends && k >= play.frames)
                break;
            due_us = dia_frame_us(0, play.rate_mhz, (uint32_t)k);
        }
        uint64_t time_us = from_us + due_us;
        take_keys(course->outlet, (uint32_t)(time_us / 1000));
        feed_take(&play.show, (uint32_t)(time_us / 1000), 0);
        dia_player_rest_until(course->player, due_us * 1000u);
        enum dia_status status = play_show(&play, course->player, time_us, NULL);
        if (status == DIA_OK && !play.live)
            status = dia_show_settle(&play.show, (uint32_t)(time_us / 1000));
        if (status != DIA_OK)
            return play_failed(&play, status);
        course->frames++;
        tell_trouble(course);
        k++;
    }
    return CLI_FINE;
}

static void tell_json(const struct course *course, const struct dia_outlet_state *state)
{
    cJSON *root = cJSON_CreateObject();
    char text[300];
    cJSON *lines = cJSON_AddArrayToObject(root, "parts");
    for (uint32_t k = 0; dia_outlet_line(course->outlet, k, text, sizeof text); k++)
        cJSON_AddItemToArray(lines, cJSON_CreateString(text));
    cJSON_AddNumberToObject(root, "frames", (double)course->frames);
    cJSON_AddNumberToObject(root, "late_frames", (double)course->late);
    cJSON_AddNumberToObject(root, "skipped_frames", (double)state->skipped);
    cJSON_AddNumberToObject(root, "errors", (double)state->errors);
    cJSON_AddNumberToObject(root, "ticks", (double)state->ticks);
    cJSON_AddNumberToObject(root, "missed_ticks", (double)state->missed);
    cJSON_AddNumberToObject(root, "latest_tick_us", state->latest_us);
    cJSON_AddBoolToObject(root, "real_time_priority", state->has_priority);
    cJSON_AddStringToObject(root, "trouble", state->trouble);
    json_print(root);
}

static const char *plural(uint64_t n)
{
    return n == 1 ? "" : "s";
}

static void tell(const struct course *course, const struct dia_outlet_state *state)
{
    printf("%s: %" PRIu64 " frame%s of %s, %" PRIu64 " came too late, %" PRIu64
           " the parts had no time for; %s\n",
           play.rig.name, course->frames, plural(course->frames), play_name(&play), course->late,
           state->skipped, play.hold ? "the last one holds" : "dark now");
    if (state->ticks)
        printf("ticks: %" PRIu64 ", the latest %.1f ms late, %" PRIu64 " missed%s\n", state->ticks,
               state->latest_us / 1e3, state->missed,
               state->has_priority ? "" : "; without real-time priority");
}

/* How it went, and the exit code that stands for it. */
static int finish(struct course *course, int code)
{
    struct dia_outlet_state state;
    enum dia_status last = dia_outlet_wait(course->outlet, 2000);
    dia_outlet_state(course->outlet, &state);
    for (uint64_t until_us = now_us() + 2000000u; state.failing && now_us() < until_us;) {
        sleep_until(now_us() + 50000u); /* what was refused is shown again */
        dia_outlet_state(course->outlet, &state);
    }
    if (play.hold && (last == DIA_BUSY || state.failing) && code == CLI_FINE)
        code = cli_fail(CLI_MACHINE, play.name, "the last frame is not shown by all parts");
    if (!play.hold && dia_outlet_dark(course->outlet) != DIA_OK && code == CLI_FINE)
        code = cli_fail(CLI_MACHINE, play.name, "not all parts could be made dark");
    tell_trouble(course);
    dia_outlet_state(course->outlet, &state);
    if (as_json)
        tell_json(course, &state);
    else
        tell(course, &state);
    if (code == CLI_FINE && state.errors)
        return CLI_MACHINE;
    int judged = play_judged(course->player);
    if (code == CLI_FINE && state.missed > FEW_MISSED + state.ticks / 100)
        code = cli_fail(CLI_LIMIT, play.name,
                        "more than one tick in a hundred was missed, so lamps flicker: lower "
                        "'refresh' or 'depth', or use SPI instead of pins");
    return code == CLI_FINE ? judged : code;
}

static int work(void *self)
{
    struct dia_diagnostic wrong = {""};
    struct course course = {NULL, NULL, 0, 0, 0};
    int failed = 0;
    (void)self;
    guard_hear(end);
    signal(SIGPIPE, SIG_IGN);
    course.outlet = dia_outlet_open(&play.rig, &failed, &wrong);
    if (!course.outlet)
        return cli_fail_with(failed ? DIA_PORT_FAILED : DIA_BAD_VALUE, &wrong);
    course.player = dia_player_new(&play.rig, &wrong);
    play.show.clock_s = cli_seconds_of_day(play.from_ms);
    int code =
        course.player ? feed_begin(&play.show, play.name) : cli_fail_with(DIA_PORT_FAILED, &wrong);
    if (code == CLI_FINE) {
        list(course.outlet, stderr);
        dia_player_drives(course.player, course.outlet);
        code = finish(&course, drive(&course));
        int fed = feed_end(play.name);
        code = code == CLI_FINE ? fed : code;
    }
    dia_player_free(course.player);
    dia_outlet_close(course.outlet);
    return code;
}

static int only_said(void)
{
    struct dia_diagnostic wrong = {""};
    int failed = 0;
    struct dia_outlet *outlet = dia_outlet_open(&play.rig, &failed, &wrong);
    if (!outlet)
        return cli_fail_with(failed ? DIA_PORT_FAILED : DIA_BAD_VALUE, &wrong);
    list(outlet, stdout);
    dia_outlet_close(outlet);
    return CLI_FINE;
}

int cli_run(const struct cli_command *self, int argc, const char **argv)
{
    play.usual = &dia_look_steady;
    play.live_streams = 1;
    int code = play_read(&play, self, argc, argv);
    if (code == CLI_FINE && only_list)
        code = only_said();
    else if (code == CLI_FINE)
        code = guard_run(&play.rig, play.name, work, NULL);
    play_free(&play);
    return cli_finish(code);
}
