/* SPDX-License-Identifier: MIT */
#include <stdlib.h>

#include "check_report.h"
#include "cli.h"

static int as_json;

const struct poptOption cli_check_options[] = {
    {"json", 'j', POPT_ARG_NONE, &as_json, 0, "the same facts for programs", NULL},
    POPT_AUTOHELP POPT_TABLEEND};

int cli_check(const struct cli_command *self, int argc, const char **argv)
{
    static struct dia_rig rig;
    static struct dia_check check;
    struct cli_options options;
    int code = CLI_BAD_INPUT;
    if (cli_options_read(&options, self, argc, argv, NULL, NULL) == 0)
        code = cli_load_rig(&options, &rig);
    cli_options_free(&options);
    if (code != CLI_FINE)
        return code;
    struct dia_diagnostic wrong = {""};
    enum dia_status status = dia_check_run(&check, &rig, cli_progress, &wrong);
    if (status == DIA_OK) {
        if (as_json)
            check_report_json(&check, &rig);
        else
            check_report_text(&check, &rig, cli_in_colour());
        code = dia_findings_of(&check.findings, DIA_ERROR) ? CLI_LIMIT : CLI_FINE;
    } else {
        code = cli_fail_with(status, &wrong);
    }
    dia_check_free(&check);
    return cli_finish(code);
}
