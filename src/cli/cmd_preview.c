/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <stdlib.h>
#include <time.h>

#include <diachrome/quantity.h>

#include "play.h"
#include "screen.h"
#include "terminal.h"

#define FASTEST_MHZ 60000u /* no terminal shows more */

static struct play play;

static char *at_text;

static const struct poptOption table[] = {PLAY_LOOK,
                                          PLAY_HOLD,
                                          {"at", 0, POPT_ARG_STRING, &at_text, 0,
                                           "print one moment and leave; needs no terminal", "TIME"},
                                          POPT_AUTOHELP POPT_TABLEEND};

/* The clock of the show: real time, less the pauses. */
struct clock {
    uint64_t started_us, paused_us; /* paused_us: since when, 0 while it runs */
};

static uint64_t real_us(void)
{
    struct timespec now;
    clock_gettime(CLOCK_MONOTONIC, &now);
    return (uint64_t)now.tv_sec * 1000000u + (uint64_t)now.tv_nsec / 1000u;
}

static void pause_or_go_on(struct clock *clock)
{
    if (clock->paused_us) {
        clock->started_us += real_us() - clock->paused_us;
        clock->paused_us = 0;
    } else {
        clock->paused_us = real_us();
    }
}

static uint64_t show_us(const struct clock *clock)
{
    return (clock->paused_us ? clock->paused_us : real_us()) - clock->started_us;
}

static int show(struct canvas *canvas, struct dia_player *player, const struct clock *clock,
                uint64_t time_us, double rate)
{
    struct screen_state state = {play_name(&play), (uint32_t)(time_us / 1000), rate,
                                 clock->paused_us != 0};
    if (!state.paused) {
        dia_player_rest_until(player, time_us * 1000u);
        if (play_show(&play, player, time_us, NULL) != DIA_OK) {
            terminal_end(); /* so that what is said stays to be read */
            return cli_fail(CLI_MACHINE, play.name, "the simulated port failed");
        }
    }
    int columns, rows, in_colour = !(getenv("NO_COLOR") && getenv("NO_COLOR")[0]);
    terminal_size(&columns, &rows);
    int failed = canvas_begin(canvas, columns, rows, in_colour);
    if (!failed) {
        screen_draw(canvas, dia_player_desk(player), player, &state);
        failed = canvas_finish(canvas, 1);
    }
    if (failed) {
        terminal_end();
        return cli_fail(CLI_MACHINE, play.name, "out of memory");
    }
    terminal_write(canvas->text, canvas->length);
    return CLI_FINE;
}

/* Waits for keys until the next frame is due. 1: leave. */
static int keys_until(struct clock *clock, uint64_t due_us)
{
    for (;;) {
        uint64_t now = show_us(clock);
        if (terminal_asked_to_end())
            return 1;
        if (!clock->paused_us && now >= due_us)
            return 0;
        int key = terminal_key(clock->paused_us ? 100 : (int)((due_us - now) / 1000 + 1));
        if (key == 'q' || key == 'Q' || key == -1)
            return 1;
        if (key == ' ')
            pause_or_go_on(clock);
        if (clock->paused_us)
            return 0; /* show that it is paused; the picture stands still */
    }
}

static int live(struct dia_player *player)
{
    struct canvas canvas = {0};
    struct clock clock = {real_us(), 0};
    uint64_t frame = 0, last_us = 0;
    double rate = play.rate_mhz / 1e3;
    int code = CLI_FINE;
    do {
        uint64_t now = show_us(&clock);
        if (now > last_us)
            rate += (1e6 / (double)(now - last_us) - rate) * 0.05;
        last_us = now;
        code = show(&canvas, player, &clock, now, rate);
        /* the next whole frame after now: frames that are late are left out, not caught up */
        frame = show_us(&clock) * play.rate_mhz / 1000000000u + 1;
    } while (code == CLI_FINE && !keys_until(&clock, frame * 1000000000u / play.rate_mhz));
    canvas_free(&canvas);
    return code;
}

#define STILL_ROWS 400 /* more than a rig takes */

/* One moment as text, in colour where the output is a terminal. */
static int still(struct dia_player *player)
{
    struct dia_diagnostic wrong = {""};
    struct canvas canvas = {0};
    int64_t ms;
    if (dia_quantity_read(at_text, DIA_TIME, 0, UINT32_MAX, "--at", &ms, &wrong) != DIA_OK)
        return cli_fail(CLI_BAD_INPUT, play.name, "%s", wrong.text);
    struct screen_state state = {play_name(&play), (uint32_t)ms, 0, 0};
    if (play_show(&play, player, (uint64_t)ms * 1000u, NULL) != DIA_OK)
        return cli_fail(CLI_MACHINE, play.name, "the simulated port failed");
    int failed = canvas_begin(&canvas, 80, STILL_ROWS, cli_in_colour());
    if (!failed) {
        canvas.rows = screen_still(&canvas, dia_player_desk(player), player, &state);
        failed = canvas_finish(&canvas, 0);
        fwrite(canvas.text, 1, failed ? 0 : canvas.length, stdout);
    }
    canvas_free(&canvas);
    return failed ? cli_fail(CLI_MACHINE, play.name, "out of memory") : CLI_FINE;
}

int cli_preview(const struct cli_command *self, int argc, const char **argv)
{
    int code = play_read(&play, self, argc, argv, table);
    if (code != CLI_FINE)
        return code;
    if (play.rate_mhz > FASTEST_MHZ)
        play.rate_mhz = FASTEST_MHZ;
    struct dia_diagnostic wrong = {""};
    struct dia_player *player = dia_player_new(&play.rig, &wrong);
    if (!player)
        return cli_fail_with(DIA_PORT_FAILED, &wrong);
    if (at_text) {
        code = still(player);
    } else if (terminal_begin() != 0) {
        code = cli_fail(CLI_BAD_INPUT, play.name,
                        "needs a terminal; '--at 4s' prints one moment without, and 'diachrome "
                        "render' writes a picture");
    } else {
        code = live(player);
        int end = play_end(&play, player); /* however it came to its end */
        terminal_end();
        printf("%s %s\n", play.rig.name, play.hold ? "holds its last frame" : "is dark");
        code = code == CLI_FINE ? end : code;
    }
    dia_player_free(player);
    return cli_finish(code);
}
