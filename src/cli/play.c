/* SPDX-License-Identifier: MIT */
#include <inttypes.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/quantity.h>

#include "findings_text.h"
#include "play.h"

/* An option that is a line of a show. */
static int take_text(struct play *play, const char *first, const char *arg)
{
    size_t size = strlen(first) + strlen(arg) + 2;
    char *line = malloc(size);
    if (!line) {
        play->no_memory = 1;
        return cli_fail(CLI_MACHINE, play->name, "out of memory");
    }
    if (play->line_count == PLAY_LINES) {
        free(line);
        return cli_fail(CLI_BAD_INPUT, play->name,
                        "more than %d times --layer, --value, --key, --press and --drawings",
                        PLAY_LINES);
    }
    snprintf(line, size, "%s %s", first, arg);
    play->lines[play->line_count++] = line;
    return CLI_FINE;
}

static int take_wire(struct play *play, const char *arg)
{
    const int most = (int)(sizeof play->wires / sizeof play->wires[0]);
    if (play->wire_count == most)
        return cli_fail(CLI_BAD_INPUT, play->name, "more than %d times --wire", most);
    return cli_wire_read(&play->wires[play->wire_count++], play->name, arg);
}

static int take_setting(void *self, int val, const char *arg)
{
    struct play *play = self;
    if (val == 'F') {
        if (play->fault_count == DIA_RIG_FAULTS)
            return cli_fail(CLI_BAD_INPUT, play->name, "more than %d times --fault",
                            DIA_RIG_FAULTS);
        play->faults[play->fault_count++] = strdup(arg);
        return CLI_FINE;
    }
    if (val == 'w')
        return take_wire(play, arg);
    if (val == 'L')
        return take_text(play, "layer", arg);
    if (val == 'D')
        return take_text(play, "drawings", arg);
    if (val == 'V')
        return take_text(play, "value", arg);
    if (val == 'K')
        return take_text(play, "key", arg);
    if (val == 'P')
        return take_text(play, "press", arg);
    if (play->setting_count == 32)
        return cli_fail(CLI_BAD_INPUT, play->name, "more than 32 times --set");
    play->settings[play->setting_count++] = strdup(arg);
    return CLI_FINE;
}

int play_quantity(const struct play *play, const char *text, enum dia_quantity kind, int64_t min,
                  int64_t max, const char *option, uint32_t *out)
{
    return cli_quantity(play->name, option, text, kind, min, max, out);
}

static int read_look(struct play *play)
{
    struct dia_diagnostic wrong = {""};
    const struct dia_look *look = dia_look_named(play->look_name, &wrong);
    if (!look)
        return cli_fail(CLI_BAD_INPUT, play->name, "%s", wrong.text);
    struct dia_rig_layer *layer = &play->show.layers[play->show.layer_count++];
    dia_rig_layer_init(layer, look);
    layer->files = &play->show.drawings;
    layer->live = play->rig.live_streams;
    for (int i = 0; i < play->setting_count; i++) {
        if (dia_rig_layer_set(layer, play->settings[i], &wrong) != DIA_OK)
            return cli_fail(CLI_BAD_INPUT, play->name, "--set %s: %s", play->settings[i],
                            wrong.text);
    }
    enum dia_status status = dia_rig_layer_open(layer, &wrong);
    if (status != DIA_OK)
        return cli_fail(status == DIA_PORT_FAILED ? CLI_MACHINE : CLI_BAD_INPUT, play->name, "%s",
                        wrong.text);
    if (!play->along)
        return CLI_FINE;
    struct dia_rig_layer other;
    char text[80];
    snprintf(text, sizeof text, "steady along %.40s", play->along);
    if (dia_rig_layer_read(&other, &play->rig, text, &wrong) != DIA_OK)
        return cli_fail(CLI_BAD_INPUT, play->name, "--along: %s", wrong.text);
    layer->axis = other.axis;
    return CLI_FINE;
}

/* Values and layers first, so that those behind find them; in the order given. */
static int read_lines(struct play *play, const char *const *firsts)
{
    for (size_t f = 0; firsts[f]; f++) {
        for (int i = 0; i < play->line_count; i++) {
            struct dia_diagnostic wrong = {""};
            size_t length = strlen(firsts[f]);
            const char *line = play->lines[i];
            if (strncmp(line, firsts[f], length) != 0 || line[length] != ' ')
                continue;
            enum dia_status status = dia_show_line(&play->show, &play->rig, line, &wrong);
            if (status != DIA_OK)
                return cli_fail(status == DIA_PORT_FAILED ? CLI_MACHINE : CLI_BAD_INPUT, play->name,
                                "--%s \"%.60s\": %s", firsts[f], line + length + 1, wrong.text);
        }
    }
    return CLI_FINE;
}

/* A rig of nothing but displays that have a text shows those; what else has lamps stays dark. */
static int shows_texts(const struct dia_rig *rig)
{
    for (uint32_t i = 0; i < rig->device_count; i++) {
        if (rig->devices[i].text[0][0] == 0)
            return 0;
    }
    return rig->lane_count == 0 && rig->device_count != 0;
}

/* Films by "-", and values with the source `input`, come from standard input. */
static int only_one_reads_stdin(const struct play *play)
{
    int films = 0, values = 0;
    for (uint32_t k = 0; k < play->show.layer_count; k++)
        films += play->show.layers[k].look == &dia_look_picture &&
                 strcmp(play->show.layers[k].file, "-") == 0;
    for (uint32_t k = 0; k < play->show.value_count; k++)
        values += play->show.values[k].source == DIA_VALUE_INPUT && !play->show.values[k].from[0];
    if (films > 1 || (films && values))
        return cli_fail(CLI_BAD_INPUT, play->name,
                        "standard input brings one film, or values; give %s from a file",
                        films > 1 ? "the other film" : "the values or the film");
    return CLI_FINE;
}

static int read_layers(struct play *play)
{
    struct dia_diagnostic wrong = {""};
    if (!play->look_name && (play->setting_count || play->along))
        return cli_fail(CLI_BAD_INPUT, play->name,
                        "--set and --along are for --look; a layer has its own inside");
    static const char *const before[] = {"drawings", NULL};
    static const char *const behind[] = {"value", "layer", "key", "press", NULL};
    enum dia_status valued = dia_show_rig_values(&play->show, &play->rig, &wrong);
    int code = valued == DIA_OK ? read_lines(play, before) : cli_fail_with(valued, &wrong);
    if (code == CLI_FINE && play->look_name)
        code = read_look(play);
    if (code == CLI_FINE && play->show_path) {
        enum dia_status status = dia_show_load(&play->show, &play->rig, play->show_path, &wrong);
        if (status != DIA_OK)
            return cli_fail_with(status, &wrong);
    }
    if (code == CLI_FINE)
        code = read_lines(play, behind);
    if (code == CLI_FINE)
        code = only_one_reads_stdin(play);
    if (code == CLI_FINE && play->show.layer_count == 0 && shows_texts(&play->rig)) {
        struct dia_rig_layer *layer = &play->show.layers[play->show.layer_count++];
        dia_rig_layer_init(layer, &dia_look_steady);
        layer->level = 0;
        play->texts = 1;
    }
    if (code == CLI_FINE && play->show.layer_count == 0 && play->usual) {
        dia_rig_layer_init(&play->show.layers[play->show.layer_count++], play->usual);
        play->show.layers[0].files = &play->show.drawings;
    }
    if (code == CLI_FINE && dia_show_check(&play->show, &wrong) != DIA_OK)
        return cli_fail(CLI_BAD_INPUT, play->name, "%s", wrong.text);
    for (uint32_t k = 0; code == CLI_FINE && k < play->show.layer_count; k++) {
        if (dia_show_lacks(&play->show, &play->rig, k, &wrong))
            cli_fail(CLI_FINE, play->name, "note: %s", wrong.text);
    }
    if (code == CLI_FINE && play->show.layer_count == 0 && !play->no_look)
        return cli_fail(CLI_BAD_INPUT, play->name,
                        "no look; write '--look NAME', 'diachrome looks' has the names");
    return code;
}

/* A show with the changes that were recorded while it ran. */
static int read_changes(struct play *play)
{
    struct dia_diagnostic wrong = {""};
    int failed = 0;
    if (!play->changes_path)
        return CLI_FINE;
    if (!play->show_path || play->look_name || play->line_count)
        return cli_fail(CLI_BAD_INPUT, play->name,
                        "--changes are those of a show: give it by --show, and no --look, --layer, "
                        "--value, --key, --press or --drawings besides");
    play->live = dia_live_load(&play->rig, play->show_path, &failed, &wrong);
    if (!play->live)
        return cli_fail_with(failed ? DIA_PORT_FAILED : DIA_BAD_VALUE, &wrong);
    enum dia_status status = dia_changes_load(&play->changes, play->changes_path, &wrong);
    return status == DIA_OK ? CLI_FINE : cli_fail_with(status, &wrong);
}

enum dia_status play_show(struct play *play, struct dia_player *player, uint64_t time_us,
                          uint64_t *frame_ns)
{
    if (play->live) {
        play->trouble.text[0] = 0;
        enum dia_status status = dia_changes_make(&play->changes, &play->changed, play->live,
                                                  time_us / 1000, &play->trouble);
        return status != DIA_OK ? status
                                : dia_live_play(play->live, player, time_us,
                                                dia_frame_slot(time_us, play->rate_mhz), frame_ns);
    }
    return dia_show_play(&play->show, player, (uint32_t)(time_us / 1000),
                         dia_frame_slot(time_us, play->rate_mhz), frame_ns);
}

const char *play_name(const struct play *play)
{
    static char name[80];
    const char *look = play->show.layers[0].look->name, *slash;
    if (play->show_path) {
        slash = strrchr(play->show_path, '/');
        snprintf(name, sizeof name, "%.60s", slash ? slash + 1 : play->show_path);
        return name;
    }
    if (play->texts)
        return "texts";
    if (play->show.layer_count == 1)
        return look;
    snprintf(name, sizeof name, "%s and %" PRIu32 " more", look, play->show.layer_count - 1);
    return name;
}

static int read_run(struct play *play)
{
    play->rate_mhz = play->rig.frame_rate_mhz;
    play->frames = 1;
    if (play->for_text && play->frames_text)
        return cli_fail(CLI_BAD_INPUT, play->name,
                        "--for and --frames both say how long; keep one");
    int code =
        play_quantity(play, play->from_text, DIA_TIME, 0, UINT32_MAX, "--from", &play->from_ms);
    if (code == CLI_FINE)
        code = play_quantity(play, play->for_text, DIA_TIME, 1, 86400000, "--for", &play->for_ms);
    if (code == CLI_FINE)
        code = play_quantity(play, play->frames_text, DIA_NUMBER, 1, 10000000, "--frames",
                             &play->frames);
    if (code == CLI_FINE)
        code =
            play_quantity(play, play->rate_text, DIA_RATE, 100, 1000000, "--rate", &play->rate_mhz);
    if (code == CLI_FINE)
        code = play_quantity(play, play->sheet_text, DIA_NUMBER, 2, 400, "--sheet", &play->sheet);
    if (code == CLI_FINE && play->sheet && (!play->for_text || play->frames_text))
        return cli_fail(CLI_BAD_INPUT, play->name,
                        "--sheet spreads its frames over a time; say which with --for");
    if (play->for_ms && !play->frames_text) /* every frame that begins within it */
        play->frames = (uint32_t)(((uint64_t)play->for_ms * play->rate_mhz + 999999u) / 1000000u);
    if (play->sheet)
        play->frames = play->sheet;
    return code;
}

int cli_add_faults(const char *name, struct dia_rig *rig, const char *const *faults, int count)
{
    static struct dia_desk desk;
    dia_desk_init(&desk, rig);
    for (int i = 0; i < count; i++) {
        struct dia_diagnostic wrong = {""};
        if (dia_desk_fault(&desk, faults[i], &wrong) != DIA_OK)
            return cli_fail(CLI_BAD_INPUT, name, "--fault: %s", wrong.text);
        if (rig->fault_count == DIA_RIG_FAULTS)
            return cli_fail(CLI_BAD_INPUT, name, "a rig has at most %d faults", DIA_RIG_FAULTS);
        snprintf(rig->faults[rig->fault_count], sizeof rig->faults[0], "%s", faults[i]);
        rig->fault_count++;
    }
    return CLI_FINE;
}

#define SIGNAL_MHZ 200000u /* how finely a signal is looked at, unless it says */

static int no_rig(struct play *play, struct cli_options *options)
{
    if (cli_options_argument(options) || play->look_name || play->show_path || play->line_count)
        return cli_fail(CLI_BAD_INPUT, play->name,
                        "--signal needs no rig, look, layer or key; leave them out");
    play->rig.frame_rate_mhz = SIGNAL_MHZ;
    return CLI_FINE;
}

int play_read(struct play *play, const struct cli_command *command, int argc, const char **argv)
{
    struct cli_options options;
    play->name = command->name;
    int code = CLI_BAD_INPUT;
    if (cli_options_read(&options, command, argc, argv, take_setting, play) == 0)
        code = play->signal_text ? no_rig(play, &options) : cli_load_rig(&options, &play->rig);
    if (play->live_streams)
        dia_rig_plays_live(&play->rig);
    if (code == CLI_FINE && options.rig_path && !(play->rig_path = strdup(options.rig_path))) {
        cli_fail(CLI_MACHINE, play->name, "out of memory");
        play->no_memory = 1;
    }
    cli_options_free(&options);
    if (play->no_memory)
        return CLI_MACHINE;
    if (code == CLI_FINE && play->signal_text)
        return read_run(play);
    if (code == CLI_FINE)
        code = cli_add_faults(play->name, &play->rig, play->faults, play->fault_count);
    if (code == CLI_FINE)
        code = read_layers(play);
    if (code == CLI_FINE)
        code = read_changes(play);
    return code == CLI_FINE ? read_run(play) : code;
}

int play_again(struct play *next, const struct play *was)
{
    struct dia_diagnostic wrong = {""};
    *next = *was;
    next->texts = 0;
    dia_show_init(&next->show);
    enum dia_status status = cli_read_rig(&next->rig, next->rig_path, &wrong);
    int code = status == DIA_OK ? CLI_FINE : cli_fail_with(status, &wrong);
    if (code == CLI_FINE)
        code = cli_add_faults(next->name, &next->rig, next->faults, next->fault_count);
    if (code == CLI_FINE)
        code = read_layers(next);
    if (code == CLI_FINE)
        code = read_run(next);
    if (code != CLI_FINE) {
        dia_show_free(&next->show);
        dia_rig_free(&next->rig);
    }
    return code;
}

static int too_slow(const struct play *play, uint64_t frame_ns)
{
    char asked[40], most[40];
    dia_quantity_write(play->rate_mhz, DIA_RATE, asked, sizeof asked);
    dia_quantity_write(dia_rate_at_most(frame_ns), DIA_RATE, most, sizeof most);
    return cli_fail(CLI_LIMIT, play->name,
                    "%s asked for, but a frame takes %.2f ms on the wire: %s at most", asked,
                    (double)frame_ns / 1e6, most);
}

int play_judged(const struct dia_player *player)
{
    const struct dia_findings *findings = dia_player_findings(player);
    for (uint32_t i = 0; i < findings->count; i++)
        finding_print(stderr, &findings->items[i], 0);
    return dia_findings_of(findings, DIA_ERROR) ? CLI_LIMIT : CLI_FINE;
}

uint64_t play_time_us(const struct play *play, uint32_t k)
{
    if (play->sheet)
        return (uint64_t)play->from_ms * 1000u + (uint64_t)play->for_ms * 1000u * k / play->sheet;
    return dia_frame_us(play->from_ms, play->rate_mhz, k);
}

void play_free(struct play *play)
{
    for (int k = 0; k < play->line_count; k++)
        free(play->lines[k]);
    play->line_count = 0;
    free(play->rig_path);
    play->rig_path = NULL;
    dia_live_free(play->live);
    dia_changes_free(&play->changes);
    play->live = NULL;
    dia_show_free(&play->show);
    dia_rig_free(&play->rig);
}

int play_failed(const struct play *play, enum dia_status status)
{
    const char *why = play->trouble.text[0] ? play->trouble.text
                      : play->live          ? dia_show_trouble(dia_live_show(play->live))
                                            : dia_show_trouble(&play->show);
    if (why[0])
        return cli_fail(status == DIA_BAD_VALUE ? CLI_BAD_INPUT : CLI_MACHINE, play->name, "%s",
                        why);
    return cli_fail(CLI_MACHINE, play->name, "the simulated port failed");
}

int play_run(struct play *play, struct dia_player *player, play_frame *each, void *self)
{
    uint64_t start_ns = dia_player_now_ns(player) + 1000000; /* a while of rest before */
    for (uint32_t k = 0; k < play->frames; k++) {
        uint64_t time_us = play_time_us(play, k), frame_ns;
        uint64_t due = time_us - (uint64_t)play->from_ms * 1000u;
        dia_player_rest_until(player, start_ns + due * 1000u);
        enum dia_status status = play_show(play, player, time_us, &frame_ns);
        if (status != DIA_OK)
            return play_failed(play, status);
        if (frame_ns * play->rate_mhz > 1000000000000u)
            return too_slow(play, frame_ns);
        int code = each(self, player, time_us);
        if (code != CLI_FINE)
            return code;
        play->shown = k + 1;
        cli_progress_of_frames(play->shown, play->frames);
    }
    return play_judged(player);
}

int play_end(struct play *play, struct dia_player *player)
{
    if (play->hold)
        return CLI_FINE;
    int dark = dia_player_dark(player) == DIA_OK &&
               (play->rig.fault_count != 0 || dia_player_is_dark(player));
    if (!dark && dia_findings_of(dia_player_findings(player), DIA_ERROR))
        return CLI_LIMIT; /* what the bench found has been said, and is why */
    if (!dark)
        return cli_fail(CLI_MACHINE, play->name, "the rig could not be made dark");
    return CLI_FINE;
}

void play_summary(const struct play *play, char *text, size_t size)
{
    char from[40], to[40];
    uint64_t last = play_time_us(play, play->frames - 1);
    dia_quantity_write(play->from_ms, DIA_TIME, from, sizeof from);
    dia_quantity_write((int64_t)(last / 1000), DIA_TIME, to, sizeof to);
    if (play->frames == 1)
        snprintf(text, size, "%s at %s", play_name(play), from);
    else
        snprintf(text, size, "%s, %" PRIu32 " frames from %s to %s", play_name(play), play->frames,
                 from, to);
}
