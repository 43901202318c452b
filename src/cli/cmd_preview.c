/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>

#include "feed.h"
#include "play.h"
#include "screen.h"
#include "terminal.h"
#include "watch.h"

#define SPEED_MOST  16.0
#define FASTEST_MHZ 60000u /* no terminal shows more */

static struct play play, other;
static struct play *now = &play; /* of these two: what is shown */
static char *record;

const struct poptOption cli_preview_options[] = {
    PLAY_LOOK,
    PLAY_TIME,
    PLAY_HOLD,
    {"record", 'R', POPT_ARG_STRING, &record, 0, "write what comes in, to be played again", "FILE"},
    CLI_NODE,
    POPT_AUTOHELP POPT_TABLEEND};

/* The clock of the show: real time since a moment, at a speed. */
struct clock {
    uint64_t from_us, since_us; /* time of the show at a moment of real time */
    double speed;
    int paused;
};

static uint64_t real_us(void)
{
    struct timespec at;
    clock_gettime(CLOCK_MONOTONIC, &at);
    return (uint64_t)at.tv_sec * 1000000u + (uint64_t)at.tv_nsec / 1000u;
}

static uint64_t show_us(const struct clock *clock)
{
    uint64_t gone = clock->paused ? 0 : real_us() - clock->since_us;
    return clock->from_us + (uint64_t)((double)gone * clock->speed);
}

/* From now on at another speed, or from standing still. */
static void go_on(struct clock *clock, double speed, int paused)
{
    clock->from_us = show_us(clock);
    clock->since_us = real_us();
    clock->speed = speed;
    clock->paused = paused;
}

static uint64_t frame_us(uint64_t frame)
{
    return frame * 1000000000u / now->rate_mhz;
}

/* The whole frame that a time lies in. */
static uint64_t frame_at(uint64_t time_us)
{
    return time_us * now->rate_mhz / 1000000000u;
}

static int parameter; /* of the lowest layer: the one that keys change */

static const char *parameter_text(void)
{
    static char text[160];
    const struct dia_rig_layer *layer = &now->show.layers[0];
    char value[120];
    if (parameter >= layer->look->param_count)
        parameter = 0;
    const struct dia_param *param = &layer->look->params[parameter];
    dia_param_value_text(param, &layer->values, value, sizeof value);
    snprintf(text, sizeof text, "%s %.100s", param->key,
             param->offset == DIA_PARAM_BESIDE ? layer->file : value);
    return text;
}

/* The lowest layer shows the next look, with its defaults. */
static void next_look(void)
{
    struct dia_rig_layer *layer = &now->show.layers[0], fresh;
    int k = 0;
    while (dia_looks[k] && dia_looks[k] != layer->look)
        k++;
    dia_rig_layer_init(&fresh, dia_looks[k] && dia_looks[k + 1] ? dia_looks[k + 1] : dia_looks[0]);
    dia_rig_layer_free(layer);
    layer->look = fresh.look;
    layer->values = fresh.values;
    layer->relatives = 0;
    memcpy(layer->says, fresh.says, sizeof fresh.says);
    memcpy(layer->says_on_digits, fresh.says_on_digits, sizeof fresh.says_on_digits);
    parameter = 0;
}

static int held_long; /* the next key that is pressed stays down for a while */

/* A key of the rig's panel is pressed now. */
static void press(const struct clock *clock, int digit)
{
    struct dia_diagnostic none = {""};
    char name[2] = {(char)digit, 0};
    struct dia_show_press down = {
        .ms = (uint32_t)(show_us(clock) / 1000), .for_ms = held_long ? 1000 : 100, .key = 0};
    if (dia_show_key_read(&now->rig, name, &down.key, &none) == DIA_OK)
        dia_show_press(&now->show, down);
    held_long = 0;
}

/* 1: leave. */
static int take_key(struct clock *clock, int key)
{
    struct dia_rig_layer *layer = &now->show.layers[0];
    switch (key) {
    case 'q':
    case 'Q':
    case -1:
        return 1;
    case ' ':
        go_on(clock, clock->speed, !clock->paused);
        break;
    case '.': /* the next whole frame, and stand still there */
        go_on(clock, clock->speed, 1);
        clock->from_us = frame_us(frame_at(clock->from_us) + 1) + 1;
        break;
    case '+':
    case '=':
        go_on(clock, clock->speed < SPEED_MOST ? clock->speed * 2 : clock->speed, clock->paused);
        break;
    case '-':
        go_on(clock, clock->speed > 1 / SPEED_MOST ? clock->speed / 2 : clock->speed,
              clock->paused);
        break;
    case 'n':
        next_look();
        break;
    case 'p':
        parameter++;
        break;
    case 'u':
    case 'd':
        parameter_text(); /* so that it is one there is */
        dia_rig_layer_fix(layer, &layer->look->params[parameter]);
        dia_param_nudge(&layer->look->params[parameter], &layer->values, key == 'u' ? 1 : -1);
        break;
    case 'h':
        held_long = !held_long;
        break;
    default:
        if (key >= '1' && key <= '8')
            press(clock, key);
        break;
    }
    return 0;
}

/* "  keys 1 3", or nothing. */
static const char *keys_text(uint32_t ms)
{
    static char text[40];
    int n = 0;
    text[0] = 0;
    for (uint32_t k = 0; k < now->show.press_count; k++) {
        const struct dia_show_press *down = &now->show.presses[k];
        if (ms >= down->ms && ms - down->ms < down->for_ms && n < 30)
            n += snprintf(text + n, sizeof text - (size_t)n, "%s %d", n ? "" : "  keys",
                          down->key % DIA_KEYS + 1);
    }
    if (n == 0 && held_long)
        snprintf(text, sizeof text, "  which key to hold?");
    return text;
}

/* ---- files that are changed while it runs ---------------------------------------------------- */

#define LOOK_EVERY_US 250000u
#define NEWS_US       2000000u

static struct watch watch;
static uint64_t look_us, news_until_us; /* when files are looked at next; when news are old */
static char trouble[400];               /* with what has changed; "": there is none */
static uint32_t pressed_before;         /* presses of the files, before those of the keys */

static void watch_all(void)
{
    watch_file(&watch, now->rig_path);
    if (now->show_path)
        watch_file(&watch, now->show_path);
    for (int k = 0; k < now->line_count; k++) {
        if (strncmp(now->lines[k], "drawings ", 9) == 0)
            watch_file(&watch, now->lines[k] + 9);
    }
    pressed_before = now->show.press_count;
}

/* What comes in by a pipe or as a film is there once. */
static int comes_in(const struct play *from)
{
    int films = 0;
    for (uint32_t k = 0; k < from->show.layer_count; k++)
        films += strcmp(from->show.layers[k].file, "-") == 0;
    return films || feed_is_on();
}

/* Keys that were pressed stay so, where there still are such keys. */
static void take_presses(struct play *next)
{
    for (uint32_t k = pressed_before; k < now->show.press_count; k++) {
        if (now->show.presses[k].key / DIA_KEYS < next->rig.device_count)
            dia_show_press(&next->show, now->show.presses[k]);
    }
}

/* Takes over what has changed: the next frame is of it, at the time that it is. What is wrong is
 * said, and all stays as it was. */
static void read_again(struct dia_player **player)
{
    struct play *next = now == &play ? &other : &play;
    struct dia_diagnostic wrong = {""};
    struct dia_player *another = NULL;
    cli_hear(trouble, sizeof trouble);
    int code = comes_in(now) ? cli_fail(CLI_BAD_INPUT, now->name,
                                        "a file has changed; values or a film come in, so it is "
                                        "not read again: leave and begin anew")
                             : play_again(next, now);
    int is_read = code == CLI_FINE;
    if (code == CLI_FINE) /* nothing comes in so far */
        code = feed_begin(&next->show, next->name);
    if (code == CLI_FINE && (another = dia_player_new(&next->rig, &wrong)) == NULL)
        code = cli_fail_with(DIA_PORT_FAILED, &wrong);
    if (code != CLI_FINE && is_read) {
        feed_end(next->name);
        dia_show_free(&next->show);
        dia_rig_free(&next->rig);
    }
    cli_hear(NULL, 0);
    if (code != CLI_FINE)
        return;
    if (next->rate_mhz > FASTEST_MHZ)
        next->rate_mhz = FASTEST_MHZ;
    trouble[0] = 0;
    news_until_us = real_us() + NEWS_US;
    next->show.clock_s = now->show.clock_s;
    dia_player_free(*player);
    *player = another;
    uint32_t read = next->show.press_count;
    take_presses(next);
    dia_show_free(&now->show);
    dia_rig_free(&now->rig);
    now = next;
    parameter = 0;
    watch_all();
    pressed_before = read;
}

/* 1: another player shows from now on. */
static int look_at_files(struct dia_player **player)
{
    struct dia_player *was = *player;
    if (real_us() < look_us)
        return 0;
    look_us = real_us() + LOOK_EVERY_US;
    if (watch_changed(&watch))
        read_again(player);
    return *player != was;
}

static int show(struct canvas *canvas, struct dia_player *player, const struct clock *clock,
                uint64_t time_us, double rate)
{
    struct screen_state state = {.look = play_name(now),
                                 .trouble = trouble[0] ? trouble : NULL,
                                 .news = real_us() < news_until_us ? "read again" : NULL,
                                 .parameter = parameter_text(),
                                 .keys = keys_text((uint32_t)(time_us / 1000)),
                                 .ms = (uint32_t)(time_us / 1000),
                                 .rate = rate,
                                 .speed = clock->speed,
                                 .paused = clock->paused};
    enum dia_status status = play_show(now, player, time_us, NULL);
    if (status != DIA_OK) {
        terminal_end(); /* so that what is said stays to be read */
        return play_failed(now, status);
    }
    int columns, rows, in_colour = !(getenv("NO_COLOR") && getenv("NO_COLOR")[0]);
    terminal_size(&columns, &rows);
    if (terminal_was_cleared())
        canvas_forget(canvas);
    int failed = canvas_begin(canvas, columns, rows, in_colour);
    if (!failed) {
        screen_draw(canvas, dia_player_desk(player), player, &state);
        failed = canvas_finish(canvas, 1);
    }
    if (failed) {
        terminal_end();
        return cli_fail(CLI_MACHINE, now->name, "out of memory");
    }
    terminal_write(canvas->text, canvas->length);
    return CLI_FINE;
}

/* Waits for keys until the next frame is due. 1: leave. */
static int keys_until(struct clock *clock, uint64_t due_us)
{
    for (;;) {
        uint64_t at = real_us();
        if (terminal_asked_to_end())
            return 1;
        if (!clock->paused && at >= due_us)
            return 0;
        int key = terminal_key(clock->paused ? 100 : (int)((due_us - at) / 1000 + 1));
        if (key != 0)
            return take_key(clock, key);
        if (clock->paused)
            return 0; /* a terminal of another size is drawn anew */
    }
}

static int live(struct dia_player **player)
{
    struct canvas canvas = {0};
    uint64_t start = real_us(), since = start, last = start, frame = 0,
             from_us = now->from_ms * 1000ull;
    int ends = now->for_text || now->frames_text;
    uint64_t end_us = from_us + frame_us(now->frames);
    struct clock clock = {from_us, start, 1, 0};
    double rate = now->rate_mhz / 1e3;
    int code = CLI_FINE;
    do {
        uint64_t at = real_us();
        if (at - last > 1000 && !clock.paused) /* but for the first */
            rate += (1e6 / (double)(at - last) - rate) * 0.05;
        last = at;
        if (look_at_files(player))
            since = at; /* its time begins now */
        dia_player_rest_until(*player, (at - since) * 1000u);
        feed_take(&now->show, (uint32_t)(show_us(&clock) / 1000), 0);
        code = show(&canvas, *player, &clock, show_us(&clock), rate);
        /* the next whole frame after now: frames that are late are left out, not caught up */
        frame = frame_at(real_us() - start) + 1;
    } while (code == CLI_FINE && !(ends && show_us(&clock) >= end_us) &&
             !keys_until(&clock, start + frame_us(frame)));
    canvas_free(&canvas);
    return code;
}

#define STILL_ROWS 400 /* more than a rig takes */

/* One moment as text, in colour where the output is a terminal. */
static int still(struct dia_player *player)
{
    struct canvas canvas = {0};
    struct screen_state state = {.look = play_name(now), .ms = now->from_ms};
    feed_take(&now->show, now->from_ms, 1);
    enum dia_status status = play_show(now, player, now->from_ms * 1000ull, NULL);
    if (status != DIA_OK)
        return play_failed(now, status);
    int failed = canvas_begin(&canvas, 80, STILL_ROWS, cli_in_colour());
    if (!failed) {
        canvas.rows = screen_still(&canvas, dia_player_desk(player), player, &state);
        failed = canvas_finish(&canvas, 0);
        fwrite(canvas.text, 1, failed ? 0 : canvas.length, stdout);
    }
    canvas_free(&canvas);
    return failed ? cli_fail(CLI_MACHINE, now->name, "out of memory") : play_judged(player);
}

static int previewed(const struct cli_command *self, int argc, const char **argv)
{
    int code = play_read(&play, self, argc, argv);
    if (code != CLI_FINE)
        return code;
    if (now->rate_mhz > FASTEST_MHZ)
        now->rate_mhz = FASTEST_MHZ;
    struct dia_diagnostic wrong = {""};
    struct dia_player *player = dia_player_new(&now->rig, &wrong);
    if (!player)
        return cli_fail_with(DIA_PORT_FAILED, &wrong);
    code = feed_begin(&now->show, now->name);
    if (code != CLI_FINE) {
        dia_player_free(player);
        return code;
    }
    now->show.clock_s = cli_seconds_of_day(now->from_ms);
    if (now->frames_text && now->frames == 1) {
        code = still(player);
    } else if (terminal_begin() != 0) {
        code = cli_fail(CLI_BAD_INPUT, now->name,
                        "needs a terminal that can move its cursor; '--from 4s --frames 1' prints "
                        "one moment without, "
                        "and 'diachrome render' writes a picture");
    } else {
        watch_all();
        code = live(&player);
        watch_free(&watch);
        int end = play_end(now, player); /* however it came to its end */
        terminal_end();
        printf("%s %s\n", now->rig.name, now->hold ? "holds its last frame" : "is dark");
        code = code == CLI_FINE ? end : code;
    }
    int fed = feed_end(now->name);
    code = code == CLI_FINE ? fed : code;
    enum dia_status recorded =
        record && fed != CLI_MACHINE ? dia_show_record(&now->show, record, &wrong) : DIA_OK;
    if (recorded != DIA_OK)
        code = cli_fail_with(recorded, &wrong);
    dia_player_free(player);
    return code;
}

int cli_preview(const struct cli_command *self, int argc, const char **argv)
{
    int code = previewed(self, argc, argv);
    if (now == &other) {
        dia_show_free(&other.show);
        dia_rig_free(&other.rig);
    }
    play_free(&play);
    return cli_finish(code);
}
