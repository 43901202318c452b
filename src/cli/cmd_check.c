/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/show.h>

#include "check_nodes.h"
#include "check_report.h"
#include "cli.h"
#include "json.h"

static int as_json, each_look;
static char *show_path;

const struct poptOption cli_check_options[] = {
    {"json", 'j', POPT_ARG_NONE, &as_json, 0, "the same facts for programs", NULL},
    {"looks", 0, POPT_ARG_NONE, &each_look, 0, "the currents of each look too", NULL},
    {"show", 'S', POPT_ARG_STRING, &show_path, 0, "check the texts of a show on it too", "FILE"},
    CLI_NODE,
    POPT_AUTOHELP POPT_TABLEEND};

/* Signs of its texts that cannot be shown where they are. CLI_FINE or the exit code, said. */
static int check_show(struct dia_check *check, const struct dia_rig *rig)
{
    static struct dia_show show;
    struct dia_diagnostic wrong = {""};
    const char *slash = strrchr(show_path, '/');
    dia_show_init(&show);
    enum dia_status status = dia_show_rig_values(&show, rig, &wrong);
    if (status == DIA_OK)
        status = dia_show_load(&show, rig, show_path, &wrong);
    if (status == DIA_OK)
        status = dia_show_check(&show, &wrong);
    for (uint32_t k = 0; status == DIA_OK && k < show.layer_count; k++) {
        struct dia_finding finding = {.level = DIA_WARNING, .code = "no-glyph"};
        struct dia_diagnostic note = {""};
        int lacks = dia_show_lacks(&show, rig, k, &note);
        if (!lacks)
            continue;
        finding.level = lacks > 1 ? DIA_ERROR : DIA_WARNING;
        if (show.names[k][0])
            snprintf(finding.place, sizeof finding.place, "%.20s, layer %s",
                     slash ? slash + 1 : show_path, show.names[k]);
        else
            snprintf(finding.place, sizeof finding.place, "%.20s, layer %u",
                     slash ? slash + 1 : show_path, (unsigned)k + 1);
        snprintf(finding.text, sizeof finding.text, "%.239s", note.text);
        dia_findings_add(&check->findings, &finding);
    }
    dia_show_free(&show);
    return status == DIA_OK ? CLI_FINE : cli_fail_with(status, &wrong);
}

/* A rig, or a node's part of one. CLI_FINE where the check was made; then free it. */
static int check_one(struct dia_check *check, const struct dia_rig *rig)
{
    struct dia_diagnostic wrong = {""};
    enum dia_status status = dia_check_run(check, rig, cli_progress, &wrong);
    int code = status == DIA_OK ? CLI_FINE : cli_fail_with(status, &wrong);
    if (code == CLI_FINE && show_path)
        code = check_show(check, rig);
    if (code != CLI_FINE)
        dia_check_free(check);
    return code;
}

static struct dia_check check;

static int check_each_node(const struct dia_rig *whole, uint32_t count)
{
    static struct dia_rig part;
    const char *names[DIA_RIG_NODES];
    struct dia_diagnostic wrong = {""};
    dia_rig_nodes(whole, names, DIA_RIG_NODES);
    if (each_look && !as_json)
        return cli_fail(CLI_BAD_INPUT, "check",
                        "--looks is about one node; say which with --node, such as --node %s",
                        names[0]);
    struct check_nodes *nodes = check_nodes_new(whole, as_json);
    int code = nodes ? CLI_FINE : cli_fail(CLI_MACHINE, "check", "out of memory");
    for (uint32_t k = 0; k < count && code == CLI_FINE; k++) {
        enum dia_status status = dia_rig_part(&part, whole, names[k], &wrong);
        code = status == DIA_OK ? check_one(&check, &part) : cli_fail_with(status, &wrong);
        if (code != CLI_FINE)
            break;
        check_nodes_add(nodes, &check, &part);
        dia_check_free(&check);
    }
    if (code == CLI_FINE)
        code = check_nodes_report(nodes, cli_in_colour());
    check_nodes_free(nodes);
    return code;
}

static int check_all(const struct dia_rig *rig)
{
    const char *first;
    uint32_t count = rig->whole ? 0 : dia_rig_nodes(rig, &first, 1);
    if (count)
        return check_each_node(rig, count);
    int code = check_one(&check, rig);
    if (code != CLI_FINE)
        return code;
    if (as_json)
        json_print(check_json(&check, rig));
    else
        check_report_text(&check, rig, each_look, cli_in_colour());
    code = dia_findings_of(&check.findings, DIA_ERROR) ? CLI_LIMIT : CLI_FINE;
    dia_check_free(&check);
    return code;
}

int cli_check(const struct cli_command *self, int argc, const char **argv)
{
    static struct dia_rig rig;
    struct cli_options options;
    int code = CLI_BAD_INPUT;
    if (cli_options_read(&options, self, argc, argv, NULL, NULL) == 0)
        code = cli_load_rig(&options, &rig);
    cli_options_free(&options);
    if (code == CLI_FINE)
        code = check_all(&rig);
    dia_rig_free(&rig);
    return cli_finish(code);
}
