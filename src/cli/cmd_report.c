/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include <cjson/cJSON.h>

#include <diachrome/report.h>

#include "check_report.h"
#include "json.h"
#include "play.h"

#define USUAL_FOR_MS 60000u
#define FRAME_MS     100u /* of the moving picture */

static struct play play;
static int as_json;

const struct poptOption cli_report_options[] = {PLAY_LOOK,
                                                PLAY_CHANGES,
                                                PLAY_TIME,
                                                PLAY_OUT,
                                                {"json", 'j', POPT_ARG_NONE, &as_json, 0,
                                                 "the same facts for programs, without pictures",
                                                 NULL},
                                                CLI_NODE,
                                                POPT_AUTOHELP POPT_TABLEEND};

static struct dia_report report;
static struct dia_check check;
static struct dia_parts parts;

/* The currents of the whole time, then the first seconds as a moving picture. */
static int run(struct dia_player *player)
{
    uint32_t lasts_ms = play.for_ms ? play.for_ms : USUAL_FOR_MS;
    uint32_t samples =
        lasts_ms / 20u < DIA_REPORT_SAMPLES ? lasts_ms / 20u + 1 : DIA_REPORT_SAMPLES;
    uint32_t frames = as_json ? 1 : DIA_REPORT_FRAMES, all = samples + frames;
    for (uint32_t k = 0; k < all; k++) {
        uint32_t i = k < samples ? k : k - samples;
        uint64_t ms = play.from_ms +
                      (k < samples ? (uint64_t)lasts_ms * i / samples : (uint64_t)i * FRAME_MS);
        enum dia_status status = play_show(&play, player, ms * 1000u, NULL);
        if (status != DIA_OK)
            return play_failed(&play, status);
        if (k < samples)
            dia_report_sample(&report, player, (uint32_t)ms);
        else
            dia_report_frame(&report, player, ms * 1000u);
        cli_progress(k + 1, all);
    }
    return CLI_FINE;
}

static cJSON *limits_json(void)
{
    struct dia_report_limits limits;
    if (dia_report_limits(&limits, &play.rig, &check) != DIA_OK)
        exit(cli_fail(CLI_MACHINE, play.name, "out of memory"));
    cJSON *list = cJSON_CreateArray();
    for (uint32_t i = 0; i < limits.count; i++) {
        const struct dia_report_limit *limit = &limits.items[i];
        cJSON *json = cJSON_CreateObject();
        cJSON_AddItemToArray(list, json);
        cJSON_AddStringToObject(json, "place", limit->place);
        cJSON_AddStringToObject(json, "what", limit->what);
        cJSON_AddStringToObject(json, "is", limit->is);
        cJSON_AddStringToObject(json, "may_be", limit->may);
        if (limit->margin_permille != INT32_MAX)
            cJSON_AddNumberToObject(json, "margin", limit->margin_permille / 1e3);
        cJSON_AddStringToObject(json, "source", limit->source);
    }
    dia_report_limits_free(&limits);
    return list;
}

static cJSON *currents_json(void)
{
    cJSON *list = cJSON_CreateArray();
    for (uint32_t i = 0; i < play.rig.supply_count; i++) {
        cJSON *json = cJSON_CreateObject(), *at, *gives;
        cJSON_AddItemToArray(list, json);
        cJSON_AddStringToObject(json, "supply", play.rig.supplies[i].name);
        at = cJSON_AddArrayToObject(json, "ms");
        gives = cJSON_AddArrayToObject(json, "gives_ua");
        for (uint32_t k = 0; k < report.sample_count; k++) {
            cJSON_AddItemToArray(at, cJSON_CreateNumber(report.sample_ms[k]));
            cJSON_AddItemToArray(gives, cJSON_CreateNumber((double)report.gives_ua[i][k]));
        }
    }
    return list;
}

static cJSON *pins_json(void)
{
    cJSON *list = cJSON_CreateArray();
    char name[64];
    uint8_t pin;
    for (uint32_t k = 0; dia_rig_wire(&play.rig, k, name, &pin); k++) {
        cJSON *json = cJSON_CreateObject();
        cJSON_AddItemToArray(list, json);
        cJSON_AddNumberToObject(json, "pin", pin);
        cJSON_AddStringToObject(json, "wire", name);
    }
    return list;
}

static void print_json(void)
{
    cJSON *root = cJSON_CreateObject();
    cJSON_AddStringToObject(root, "shown", play_name(&play));
    cJSON_AddItemToObject(root, "check", check_json(&check, &play.rig));
    cJSON_AddItemToObject(root, "limits", limits_json());
    cJSON_AddItemToObject(root, "pins", pins_json());
    cJSON_AddItemToObject(root, "parts", parts_json(&parts));
    cJSON_AddItemToObject(root, "current_over_time", currents_json());
    json_print(root);
}

static int write(void)
{
    struct dia_diagnostic wrong = {""};
    if (as_json) {
        print_json();
        return CLI_FINE;
    }
    enum dia_status status = dia_report_write(&report, play.out, &wrong);
    if (status != DIA_OK)
        return cli_fail_with(status, &wrong);
    printf("%s: report of %s\n", play.out, play.rig.name);
    return CLI_FINE;
}

/* What check found is what the report begins with, so its exit code is that of check. */
static int reported(void)
{
    struct dia_diagnostic wrong = {""};
    enum dia_status status = dia_check_run(&check, &play.rig, cli_progress, &wrong);
    if (status == DIA_OK && dia_parts_list(&parts, &play.rig) != DIA_OK)
        return cli_fail(CLI_MACHINE, play.name, "out of memory");
    if (status == DIA_OK)
        status = dia_report_init(&report, &play.rig, &check, &parts, play_name(&play), &wrong);
    if (status != DIA_OK)
        return cli_fail_with(status, &wrong);
    struct dia_player *player = dia_player_new(&play.rig, &wrong);
    if (!player)
        return cli_fail_with(DIA_PORT_FAILED, &wrong);
    int code = run(player);
    dia_player_free(player);
    if (code == CLI_FINE)
        code = write();
    return code == CLI_FINE && dia_findings_of(&check.findings, DIA_ERROR) ? CLI_LIMIT : code;
}

int cli_report(const struct cli_command *self, int argc, const char **argv)
{
    play.usual = &dia_look_hue_sweep;
    int code = play_read(&play, self, argc, argv);
    if (code == CLI_FINE && play.frames_text)
        code = cli_fail(CLI_BAD_INPUT, play.name, "say how long with --for, not --frames");
    if (code == CLI_FINE && !as_json &&
        (!play.out || strlen(play.out) < 6 ||
         strcmp(play.out + strlen(play.out) - 5, ".html") != 0))
        code = cli_fail(CLI_BAD_INPUT, play.name, "no file to write; add '--out FILE.html'");
    if (code == CLI_FINE)
        code = reported();
    dia_report_free(&report);
    dia_parts_free(&parts);
    dia_check_free(&check);
    play_free(&play);
    return cli_finish(code);
}
