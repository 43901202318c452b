/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include <diachrome/plot.h>
#include <diachrome/reel.h>
#include <diachrome/signal_text.h>

#include "play.h"
#include "terminal.h"

static struct play play;
static char *element_text;

const struct poptOption cli_plot_options[] = {
    PLAY_LOOK,
    PLAY_CHANGES,
    PLAY_TIME,
    PLAY_OUT,
    {"element", 'e', POPT_ARG_STRING, &element_text, 0, "whose channels", "NAME[N]"},
    {"signal", 0, POPT_ARG_STRING, &play.signal_text, 0, "a signal instead; needs no rig",
     "\"sine(period=3s)\""},
    CLI_NODE,
    POPT_AUTOHELP POPT_TABLEEND};

/* What is kept of a run. */
struct kept {
    uint8_t is_device, channels;
    uint32_t number, element, count;
    uint16_t *values[DIA_PLOT_CURVES]; /* codes 0..255, or levels of a signal */
};

static int keep(void *self, struct dia_player *player, uint64_t time_us)
{
    struct kept *kept = self;
    uint32_t at = kept->count++;
    (void)time_us;
    if (kept->is_device && kept->channels == 1) {
        kept->values[0][at] = dia_code_of(dia_player_lamp(player, kept->number, kept->element));
        return CLI_FINE;
    }
    struct dia_rgb seen = kept->is_device
                              ? dia_player_lamp_seen(player, kept->number, kept->element)
                              : dia_player_seen(player, kept->number, kept->element);
    kept->values[0][at] = seen.r;
    kept->values[1][at] = seen.g;
    kept->values[2][at] = seen.b;
    return CLI_FINE;
}

static int write(const struct kept *kept, const char *title)
{
    static const struct dia_rgb colours[] = {{255, 70, 60}, {60, 220, 90}, {90, 140, 255}};
    static const struct dia_rgb one = {255, 200, 80};
    static const char *const names[] = {"red", "green", "blue"};
    struct dia_diagnostic wrong = {""};
    int single = (kept->is_device && kept->channels == 1) || play.signal_text;
    struct dia_plot plot = {.title = title,
                            .about = play.signal_text ? "level, 0 to 65535"
                                                      : "sRGB code of what is seen, 0 to 255",
                            .most = play.signal_text ? 65535 : 255,
                            .count = kept->count,
                            .from_us = (uint64_t)play.from_ms * 1000u,
                            .step_us = 1000000000u / play.rate_mhz,
                            .curves = single ? 1 : 3};
    for (int k = 0; k < plot.curves; k++) {
        plot.curve[k].name = single ? "level" : names[k];
        plot.curve[k].colour = single ? one : colours[k];
        plot.curve[k].values = kept->values[k];
    }
    if (!play.out) {
        int columns = 80, rows;
        if (cli_in_colour())
            terminal_size(&columns, &rows);
        dia_plot_write_text(&plot, stdout, columns, cli_in_colour(), cli_in_utf8());
        return CLI_FINE;
    }
    enum dia_status status = dia_plot_write_png(&plot, play.out, &wrong);
    if (status != DIA_OK)
        return cli_fail_with(status, &wrong);
    printf("%s: %s\n", play.out, title);
    return CLI_FINE;
}

static int plot_element(struct kept *kept)
{
    struct dia_diagnostic wrong = {""};
    char title[200];
    if (dia_rig_element_read(&play.rig, element_text, &kept->is_device, &kept->number,
                             &kept->element, &wrong) != DIA_OK)
        return cli_fail(CLI_BAD_INPUT, play.name, "--element: %s", wrong.text);
    if (kept->is_device)
        kept->channels = play.rig.devices[kept->number].channels;
    struct dia_player *player = dia_player_new(&play.rig, &wrong);
    if (!player)
        return cli_fail_with(DIA_PORT_FAILED, &wrong);
    int code = play_run(&play, player, keep, kept);
    dia_player_free(player);
    snprintf(title, sizeof title, "%s of %s, %s", element_text, play.rig.name, play_name(&play));
    return code == CLI_FINE ? write(kept, title) : code;
}

static int plot_signal(struct kept *kept)
{
    struct dia_diagnostic wrong = {""};
    struct dia_signal signal;
    if (dia_signal_read(play.signal_text, &signal, &wrong) != DIA_OK)
        return cli_fail(CLI_BAD_INPUT, play.name, "--signal: %s", wrong.text);
    while (kept->count < play.frames) {
        uint64_t us = play_time_us(&play, kept->count);
        kept->values[0][kept->count++] = dia_signal_at(&signal, (uint32_t)(us / 1000));
    }
    return write(kept, play.signal_text);
}

static int plotted(const struct cli_command *self, int argc, const char **argv)
{
    struct kept kept = {0};
    play.for_ms = 10000; /* unless it says */
    int code = play_read(&play, self, argc, argv);
    if (code != CLI_FINE)
        return code;
    const char *end = play.out ? strrchr(play.out, '.') : NULL;
    if (play.out && (!end || strcmp(end, ".png") != 0))
        return cli_fail(CLI_BAD_INPUT, play.name,
                        "'%s': the name must end in .png; without --out the plot is text",
                        play.out);
    if (!element_text == !play.signal_text)
        return cli_fail(CLI_BAD_INPUT, play.name,
                        "say what to plot: '--element NAME[N]' or '--signal \"sine(period=3s)\"'");
    if (play.frames > 1000000)
        return cli_fail(CLI_BAD_INPUT, play.name, "a plot holds at most 1000000 moments");
    for (int k = 0; k < DIA_PLOT_CURVES; k++)
        kept.values[k] = calloc(play.frames, sizeof *kept.values[k]);
    if (!kept.values[0] || !kept.values[1] || !kept.values[2])
        code = cli_fail(CLI_MACHINE, play.name, "out of memory");
    else
        code = play.signal_text ? plot_signal(&kept) : plot_element(&kept);
    for (int k = 0; k < DIA_PLOT_CURVES; k++)
        free(kept.values[k]);
    return code;
}

int cli_plot(const struct cli_command *self, int argc, const char **argv)
{
    int code = plotted(self, argc, argv);
    play_free(&play);
    return cli_finish(code);
}
