/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include <diachrome/judge.h>
#include <diachrome/waveform.h>

#include "play.h"
#include "terminal.h"

static struct play play;
static char *of_text, *frame_text, *at_text, *span_text, *capture_path, *between_text;

const struct poptOption cli_wave_options[] = {
    {"of", 0, POPT_ARG_STRING, &of_text, 0,
     "a lane, its pixel 17, or a device; else the first lane", "\"NAME[17]\""},
    {"frame", 0, POPT_ARG_STRING, &frame_text, 0, "of which frame the pixel, from 0", "N"},
    {"at", 0, POPT_ARG_STRING, &at_text, 0, "instead of a pixel: so long after the first edge",
     "TIME"},
    {"span", 0, POPT_ARG_STRING, &span_text, 0, "how long from there; 20 us without it", "TIME"},
    {"between", 0, POPT_ARG_STRING, &between_text, 0,
     "measure from a moment to another, after the first edge", "\"TIME TIME\""},
    {"capture", 0, POPT_ARG_STRING, &capture_path, 0, "edges of real wires, instead of a look",
     "FILE.vcd"},
    {"wire", 'w', POPT_ARG_STRING, NULL, 'w', "a wire of the capture is this one of the rig",
     "D0=NAME"},
    PLAY_LOOK,
    PLAY_CHANGES,
    PLAY_TIME,
    PLAY_OUT,
    CLI_NODE,
    POPT_AUTOHELP POPT_TABLEEND};

static int catch_up(void *self, struct dia_player *player, uint64_t time_us)
{
    (void)player;
    (void)time_us;
    dia_waveform_catch_up(self);
    return CLI_FINE;
}

/* "handrail[17]", or without a pixel the first. A device has no pixel, so a time of it is shown. */
static int read_of(char *name, size_t size, struct dia_waveform_stretch *stretch)
{
    const char *first = play.rig.lane_count ? play.rig.lanes[0].name : play.rig.devices[0].name;
    const char *text = of_text ? of_text : first, *bracket = strchr(text, '[');
    uint32_t at_ns = 0, span_ns = 20000;
    unsigned element = 0;
    int end = 0;
    snprintf(name, size, "%.*s", bracket ? (int)(bracket - text) : (int)strlen(text), text);
    if (bracket && (sscanf(bracket, "[%6u]%n", &element, &end) != 1 || bracket[end]))
        return cli_fail(CLI_BAD_INPUT, play.name, "--of takes NAME or NAME[17]; found '%s'", text);
    *stretch = (struct dia_waveform_stretch){.by_element = 1, .element = element};
    int code = play_quantity(&play, frame_text, DIA_NUMBER, 0, 9999999, "--frame", &stretch->frame);
    if (code == CLI_FINE)
        code = play_quantity(&play, at_text, DIA_MOMENT, 0, UINT32_MAX, "--at", &at_ns);
    if (code == CLI_FINE)
        code = play_quantity(&play, span_text, DIA_MOMENT, 100, UINT32_MAX, "--span", &span_ns);
    if (code == CLI_FINE && bracket && at_text)
        return cli_fail(CLI_BAD_INPUT, play.name, "say a pixel or --at, not both");
    int is_device = 0;
    for (uint32_t i = 0; i < play.rig.device_count; i++)
        is_device |= strcmp(play.rig.devices[i].name, name) == 0;
    if (at_text || span_text || (is_device && !bracket)) {
        stretch->by_element = 0;
        stretch->at_ns = at_ns;
        stretch->lasts_ns = span_ns;
    }
    return code;
}

/* What the wires had before the first edge, as the trace says it. */
static void levels(struct dia_waveform *wave, const struct dia_player *player)
{
    for (uint32_t i = 0; i < wave->wire_count; i++)
        dia_waveform_begins(wave, wave->wires[i].pin, dia_player_level(player, wave->wires[i].pin));
}

static int run(struct dia_waveform *wave)
{
    struct dia_diagnostic wrong = {""};
    if (capture_path) {
        struct dia_judge_map maps[sizeof play.wires / sizeof play.wires[0]];
        uint64_t until_ns = 0;
        for (int k = 0; k < play.wire_count; k++)
            maps[k] = (struct dia_judge_map){play.wires[k].of_capture, play.wires[k].of_rig};
        enum dia_status status =
            dia_judge_hear(&play.rig, capture_path, maps, (uint32_t)play.wire_count,
                           dia_waveform_take, wave, &until_ns, &wrong);
        if (status == DIA_OK)
            status = dia_waveform_end(wave, until_ns, &wrong);
        return status == DIA_OK ? CLI_FINE : cli_fail_with(status, &wrong);
    }
    struct dia_player *player = dia_player_new(&play.rig, &wrong);
    if (!player)
        return cli_fail_with(DIA_PORT_FAILED, &wrong);
    levels(wave, player);
    dia_player_listen(player, dia_waveform_take, wave);
    int code = play_run(&play, player, catch_up, wave);
    if (code == CLI_FINE || code == CLI_LIMIT) {
        dia_player_rest_until(player, dia_player_now_ns(player) + 1000000);
        enum dia_status status = dia_waveform_end(wave, dia_player_now_ns(player), &wrong);
        code = status == DIA_OK ? code : cli_fail_with(status, &wrong);
    }
    dia_player_free(player);
    return code;
}

/* "10us 35us", both inside of the stretch. */
static int read_between(const struct dia_waveform *wave, uint32_t ns[2])
{
    char words[2][40] = {"", ""};
    uint64_t from = wave->from_ns > wave->first_ns ? wave->from_ns - wave->first_ns : 0;
    uint64_t to = wave->to_ns - wave->first_ns;
    if (sscanf(between_text, "%39s %39s", words[0], words[1]) != 2)
        return cli_fail(CLI_BAD_INPUT, play.name,
                        "--between takes two times, such as \"10us 35us\"; found '%s'",
                        between_text);
    for (int k = 0; k < 2; k++) {
        int code = play_quantity(&play, words[k], DIA_MOMENT, 0, UINT32_MAX, "--between", &ns[k]);
        if (code != CLI_FINE)
            return code;
    }
    if (ns[0] >= ns[1] || ns[0] < from || ns[1] > to)
        return cli_fail(CLI_BAD_INPUT, play.name,
                        "--between is from a moment to a later one, inside of %.3f us to %.3f us",
                        (double)from / 1e3, (double)to / 1e3);
    return CLI_FINE;
}

static void print_between(const struct dia_waveform *wave, const uint32_t ns[2])
{
    struct dia_words w[3];
    printf("\nfrom %s to %s: %s\n", dia_quantity_as(ns[0], DIA_MOMENT, &w[0]),
           dia_quantity_as(ns[1], DIA_MOMENT, &w[1]),
           dia_quantity_as(ns[1] - ns[0], DIA_MOMENT, &w[2]));
    for (uint32_t i = 0; i < wave->wire_count; i++) {
        struct dia_waveform_between b;
        dia_waveform_between(wave, i, ns[0], ns[1], &b);
        printf("%-15s%u rise%s, high for %.1f ns (%.2f %%)", wave->wires[i].name, (unsigned)b.rises,
               b.rises == 1 ? "" : "s", (double)b.high_ns,
               (double)b.high_ns * 100 / (double)b.lasts_ns);
        if (b.period_ns > 0)
            printf(", every %.1f ns (%.4g kHz)", b.period_ns, 1e6 / b.period_ns);
        putchar('\n');
    }
}

static int write(const struct dia_waveform *wave, int code)
{
    uint32_t between[2];
    int read = between_text ? read_between(wave, between) : CLI_FINE;
    if (read != CLI_FINE)
        return read;
    struct dia_diagnostic wrong = {""};
    if (!play.out) {
        int columns = 80, rows;
        if (cli_in_colour())
            terminal_size(&columns, &rows);
        dia_waveform_write_text(wave, stdout, columns, cli_in_utf8());
        if (between_text)
            print_between(wave, between);
        return code;
    }
    enum dia_status status = dia_waveform_write_picture(wave, play.out, &wrong);
    if (status != DIA_OK)
        return cli_fail_with(status, &wrong);
    printf("%s: %s\n", play.out, wave->title);
    if (between_text)
        print_between(wave, between);
    return code;
}

static int waved(const struct cli_command *self, int argc, const char **argv)
{
    static struct dia_waveform wave;
    struct dia_waveform_stretch stretch;
    struct dia_diagnostic wrong = {""};
    char name[64];
    for (int i = 1; i < argc; i++)
        play.no_look |= strncmp(argv[i], "--capture", 9) == 0;
    int code = play_read(&play, self, argc, argv);
    if (code == CLI_FINE)
        code = read_of(name, sizeof name, &stretch);
    if (code != CLI_FINE)
        return code;
    const char *end = play.out ? strrchr(play.out, '.') : NULL;
    if (play.out && (!end || (strcmp(end, ".png") != 0 && strcmp(end, ".svg") != 0)))
        return cli_fail(CLI_BAD_INPUT, play.name,
                        "'%s': the name must end in .png or .svg; without --out it is text",
                        play.out);
    if (!play.frames_text && !play.for_text && stretch.by_element)
        play.frames = stretch.frame + 1; /* as many as it takes */
    enum dia_status status = dia_waveform_init(&wave, &play.rig, name, &stretch, &wrong);
    code = status == DIA_OK ? run(&wave) : cli_fail_with(status, &wrong);
    if (code == CLI_FINE || code == CLI_LIMIT)
        code = write(&wave, code);
    dia_waveform_free(&wave);
    return code;
}

int cli_wave(const struct cli_command *self, int argc, const char **argv)
{
    int code = waved(self, argc, argv);
    play_free(&play);
    return cli_finish(code);
}
