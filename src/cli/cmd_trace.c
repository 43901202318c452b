/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/trace.h>

#include "play.h"

static struct play play;

const struct poptOption cli_trace_options[] = {
    PLAY_LOOK, PLAY_CHANGES, PLAY_TIME, PLAY_OUT, PLAY_HOLD, CLI_NODE, POPT_AUTOHELP POPT_TABLEEND};

static int catch_up(void *self, struct dia_player *player, uint64_t time_us)
{
    (void)player;
    (void)time_us;
    dia_trace_catch_up(self);
    return CLI_FINE;
}

/* Ends the trace a while after the last frame has latched, with the rig dark unless it is to hold.
 */
static int end(struct dia_trace *trace, struct dia_player *player, int code)
{
    struct dia_diagnostic wrong = {""};
    char what[160];
    dia_player_rest_until(player, dia_player_now_ns(player) + 1000000);
    int dark = play_end(&play, player);
    dia_player_rest_until(player, dia_player_now_ns(player) + 1000000);
    code = dark == CLI_FINE ? code : dark;
    if (play.shown != play.frames) {
        dia_trace_discard(trace);
        return code;
    }
    enum dia_status status = dia_trace_close(trace, dia_player_now_ns(player), &wrong);
    if (status != DIA_OK)
        return cli_fail_with(status, &wrong);
    play_summary(&play, what, sizeof what);
    printf("%s: %s\n", play.out, what);
    return code;
}

static int traced(const struct cli_command *self, int argc, const char **argv)
{
    int code = play_read(&play, self, argc, argv);
    if (code != CLI_FINE)
        return code;
    if (!play.out)
        return cli_fail(CLI_BAD_INPUT, play.name, "no file to write; add '--out FILE.vcd'");
    if (strlen(play.out) < 5 || strcmp(play.out + strlen(play.out) - 4, ".vcd") != 0)
        return cli_fail(CLI_BAD_INPUT, play.name, "'%s': the name must end in .vcd", play.out);
    struct dia_diagnostic wrong = {""};
    struct dia_player *player = dia_player_new(&play.rig, &wrong);
    if (!player)
        return cli_fail_with(DIA_PORT_FAILED, &wrong);
    struct dia_trace *trace = dia_trace_open(play.out, player, &play.rig, &wrong);
    if (trace)
        code = end(trace, player, play_run(&play, player, catch_up, trace));
    else
        code = cli_fail_with(DIA_PORT_FAILED, &wrong);
    dia_player_free(player);
    return code;
}

int cli_trace(const struct cli_command *self, int argc, const char **argv)
{
    int code = traced(self, argc, argv);
    play_free(&play);
    return cli_finish(code);
}
