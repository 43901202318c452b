/* SPDX-License-Identifier: MIT */
#include <inttypes.h>
#include <stdlib.h>
#include <string.h>

#include <cjson/cJSON.h>

#include <diachrome/judge.h>
#include <diachrome/picture.h>
#include <diachrome/quantity.h>
#include <diachrome/reel.h>

#include "cli.h"
#include "findings_text.h"
#include "json.h"

#define MAPS_MOST   64
#define FRAMES_MOST 20 /* that are printed; the last one always is */

static int as_json;
static char *rig_path, *sampled_text, *out_path;
static struct dia_judge_map maps[MAPS_MOST];
static uint32_t map_count;

const struct poptOption cli_judge_options[] = {
    {"rig", 0, POPT_ARG_STRING, &rig_path, 0, "what is on the wires", "RIG"},
    {"wire", 'w', POPT_ARG_STRING, NULL, 'w', "a wire of the capture is this one of the rig",
     "D0=NAME"},
    {"sampled", 0, POPT_ARG_STRING, &sampled_text, 0, "rate of the capture; found out without it",
     "RATE"},
    {"out", 'o', POPT_ARG_STRING, &out_path, 0, "the last frame as a picture", "FILE.png"},
    {"json", 'j', POPT_ARG_NONE, &as_json, 0, "the same facts for programs", NULL},
    CLI_NODE,
    POPT_AUTOHELP POPT_TABLEEND};

static int each_option(void *self, int val, const char *arg)
{
    static struct cli_wire wires[MAPS_MOST];
    struct cli_wire *wire = &wires[map_count];
    (void)self;
    (void)val;
    if (map_count == MAPS_MOST)
        return cli_fail(CLI_BAD_INPUT, "judge", "more than %d times --wire", MAPS_MOST);
    int code = cli_wire_read(wire, "judge", arg);
    if (code == CLI_FINE)
        maps[map_count++] = (struct dia_judge_map){wire->of_capture, wire->of_rig};
    return code;
}

/* Frames as they come: what each lane shows, in stretches of one colour. */
struct told {
    FILE *out; /* kept, since the verdict comes first */
    const struct dia_rig *rig;
    uint32_t frames; /* printed so far */
    uint32_t all;
    cJSON *list;
};

#define STRETCHES_MOST 8

static void print_shown(FILE *out, const struct dia_player *player, uint32_t lane)
{
    uint32_t count = dia_player_shown(player, lane)->count, stretches = 0;
    for (uint32_t from = 0; from < count;) {
        struct dia_rgb colour = dia_player_seen(player, lane, from);
        uint32_t to = from + 1;
        for (; to < count; to++) {
            struct dia_rgb next = dia_player_seen(player, lane, to);
            if (next.r != colour.r || next.g != colour.g || next.b != colour.b)
                break;
        }
        if (stretches++ == STRETCHES_MOST) {
            fprintf(out, " ...");
            return;
        }
        fprintf(out, "%s%" PRIu32, stretches % 4 == 1 && stretches > 1 ? "\n              " : " ",
                from);
        if (to > from + 1)
            fprintf(out, "-%" PRIu32, to - 1);
        if (colour.r || colour.g || colour.b)
            fprintf(out, " #%02x%02x%02x", colour.r, colour.g, colour.b);
        else
            fprintf(out, " dark");
        fprintf(out, "%s", to < count ? "," : "");
        from = to;
    }
}

static cJSON *frame_json(const struct dia_rig *rig, struct dia_player *player,
                         const struct dia_judge_frame *frame)
{
    cJSON *json = cJSON_CreateObject();
    uint32_t count = dia_player_shown(player, frame->lane)->count;
    cJSON_AddStringToObject(json, "lane", rig->lanes[frame->lane].name);
    cJSON_AddNumberToObject(json, "time_ns", (double)frame->t_ns);
    cJSON *seen = cJSON_AddArrayToObject(json, "seen");
    for (uint32_t i = 0; i < count; i++) {
        struct dia_rgb rgb = dia_player_seen(player, frame->lane, i);
        char text[8];
        snprintf(text, sizeof text, "#%02x%02x%02x", rgb.r, rgb.g, rgb.b);
        cJSON_AddItemToArray(seen, cJSON_CreateString(text));
    }
    return json;
}

static void sees(void *self, struct dia_player *player, const struct dia_judge_frame *frame)
{
    struct told *told = self;
    told->all++;
    if (told->list) {
        cJSON_AddItemToArray(told->list, frame_json(told->rig, player, frame));
        return;
    }
    if (told->frames == FRAMES_MOST)
        return;
    if (told->frames++ == 0)
        fprintf(told->out, "\nframes\n");
    fprintf(told->out, "%10.3f ms  %s:", (double)frame->t_ns / 1e6,
            told->rig->lanes[frame->lane].name);
    print_shown(told->out, player, frame->lane);
    fputc('\n', told->out);
}

static void print_wires(const struct dia_judge *judge)
{
    printf("\nwire                    of the capture               edges\n");
    for (uint32_t i = 0; i < judge->wire_count; i++) {
        const struct dia_judge_wire *wire = &judge->wires[i];
        if (wire->capture[0])
            printf("%-24.24s%-24.24s%10" PRIu64 "\n", wire->name, wire->capture, wire->edges);
        else
            printf("%-24.24s%-24s\n", wire->name, "not in it");
    }
}

static void print_verdict(const struct dia_judge *judge, const char *path)
{
    int in_colour = cli_in_colour();
    uint32_t errors = dia_findings_of(&judge->findings, DIA_ERROR);
    uint32_t warnings = dia_findings_of(&judge->findings, DIA_WARNING);
    printf("%s%s: ", in_colour ? "\033[1m" : "", path);
    if (errors)
        printf("%" PRIu32 " limit%s broken", errors, errors == 1 ? " is" : "s are");
    else
        printf("all that was heard is as the sheets say");
    if (warnings)
        printf("; %" PRIu32 " warning%s", warnings, warnings == 1 ? "" : "s");
    printf("%s\n%.3f ms of capture", in_colour ? "\033[0m" : "",
           (double)(judge->to_ns - judge->from_ns) / 1e6);
    if (judge->sampled_khz)
        printf(", sampled at %.6g MHz, so times may be off by %" PRIu32 " ns",
               judge->sampled_khz / 1e3, judge->slack_ns);
    printf("%s\n", judge->findings.count ? "\n" : "");
    findings_print(stdout, &judge->findings, in_colour);
}

static void print_text(const struct dia_judge *judge, const struct told *told, const char *path,
                       const char *frames)
{
    print_verdict(judge, path);
    fputs(frames, stdout);
    if (told->all > told->frames)
        printf("              and %" PRIu32 " more\n", told->all - told->frames);
    for (uint32_t i = 0; told->all > told->frames && i < told->rig->lane_count; i++) {
        if (judge->frames[i] == 0)
            continue;
        printf("  at the end  %s:", told->rig->lanes[i].name);
        print_shown(stdout, judge->player, i);
        putchar('\n');
    }
    print_wires(judge);
}

static void print_json(const struct dia_judge *judge, cJSON *frames)
{
    cJSON *root = cJSON_CreateObject();
    cJSON_AddNumberToObject(root, "from_ns", (double)judge->from_ns);
    cJSON_AddNumberToObject(root, "to_ns", (double)judge->to_ns);
    cJSON_AddNumberToObject(root, "sampled_hz", judge->sampled_khz * 1e3);
    cJSON *wires = cJSON_AddArrayToObject(root, "wires");
    for (uint32_t i = 0; i < judge->wire_count; i++) {
        const struct dia_judge_wire *wire = &judge->wires[i];
        cJSON *json = cJSON_CreateObject();
        cJSON_AddItemToArray(wires, json);
        cJSON_AddStringToObject(json, "name", wire->name);
        if (wire->capture[0])
            cJSON_AddStringToObject(json, "capture", wire->capture);
        cJSON_AddNumberToObject(json, "edges", (double)wire->edges);
        cJSON_AddNumberToObject(json, "unknown", (double)wire->unknown);
    }
    cJSON_AddItemToObject(root, "frames", frames);
    json_findings(root, &judge->findings);
    json_print(root);
}

/* The last frame. */
static int write_picture(const struct dia_judge *judge)
{
    struct dia_diagnostic wrong = {""};
    struct dia_reel reel;
    const char *end = strrchr(out_path, '.');
    if (!end || strcmp(end, ".png") != 0)
        return cli_fail(CLI_BAD_INPUT, "judge", "'%s': the name must end in .png", out_path);
    enum dia_status status =
        dia_reel_init(&reel, dia_player_desk(judge->player), "capture", 1, &wrong);
    if (status == DIA_OK) {
        dia_reel_add(&reel, judge->player, (judge->to_ns - judge->from_ns) / 1000);
        status = dia_reel_write_png(&reel, out_path, &wrong);
    }
    dia_reel_free(&reel);
    return status == DIA_OK ? CLI_FINE : cli_fail_with(status, &wrong);
}

static int judged(const struct dia_rig *rig, const char *path)
{
    static struct dia_judge judge;
    struct dia_diagnostic wrong = {""};
    struct told told = {.rig = rig, .list = as_json ? cJSON_CreateArray() : NULL};
    int64_t hz = 0;
    char *frames = NULL;
    size_t size;
    if (sampled_text && dia_quantity_read(sampled_text, DIA_CLOCK, 10000, 2000000000, "--sampled",
                                          &hz, &wrong) != DIA_OK)
        return cli_fail(CLI_BAD_INPUT, "judge", "%s", wrong.text);
    told.out = open_memstream(&frames, &size);
    if (!told.out)
        return cli_fail(CLI_MACHINE, "judge", "out of memory");
    enum dia_status status = dia_judge_capture(&judge, rig, path, maps, map_count,
                                               (uint32_t)(hz / 1000), sees, &told, &wrong);
    int code = status == DIA_OK ? CLI_FINE : cli_fail_with(status, &wrong);
    if (fclose(told.out) != 0 && code == CLI_FINE)
        code = cli_fail(CLI_MACHINE, "judge", "out of memory");
    if (code == CLI_FINE && as_json)
        print_json(&judge, told.list);
    else if (code == CLI_FINE)
        print_text(&judge, &told, path, frames);
    else
        cJSON_Delete(told.list);
    if (code == CLI_FINE && out_path)
        code = write_picture(&judge);
    if (code == CLI_FINE && dia_findings_of(&judge.findings, DIA_ERROR))
        code = CLI_LIMIT;
    free(frames);
    dia_judge_free(&judge);
    return code;
}

int cli_judge(const struct cli_command *self, int argc, const char **argv)
{
    static struct dia_rig rig;
    struct dia_diagnostic wrong = {""};
    struct cli_options options;
    int code = CLI_BAD_INPUT;
    const char *path = NULL;
    if (cli_options_read(&options, self, argc, argv, each_option, NULL) == 0) {
        path = cli_options_argument(&options);
        const char *more = path ? cli_options_argument(&options) : NULL;
        if (!path || !rig_path)
            cli_fail(CLI_BAD_INPUT, "judge", "%s; write 'diachrome judge CAPTURE.vcd --rig RIG'",
                     path ? "no rig file" : "no capture");
        else if (more)
            cli_fail(CLI_BAD_INPUT, "judge", "one capture at a time; '%s' is too many", more);
        else
            code = CLI_FINE;
    }
    if (code == CLI_FINE) {
        enum dia_status status = cli_read_rig(&rig, rig_path, &wrong);
        code = status == DIA_OK ? judged(&rig, path) : cli_fail_with(status, &wrong);
    }
    cli_options_free(&options);
    return cli_finish(code);
}
