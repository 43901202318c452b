/* SPDX-License-Identifier: MIT */
#ifndef DIA_CLI_CHECK_REPORT_H
#define DIA_CLI_CHECK_REPORT_H

#include <cjson/cJSON.h>

#include <diachrome/check.h>

/* A check on stdout: for people at 80 columns, with a line for each look when that is asked for;
 * and the same facts for programs. */
void check_report_text(const struct dia_check *check, const struct dia_rig *rig, int each_look,
                       int in_colour);
/* The one line that says it all, and what was found. */
void check_report_verdict(const char *name, const struct dia_findings *findings, int in_colour);

/* Of a supply, over all looks. */
struct dia_check_current check_most_of(const struct dia_check *check, uint32_t supply);
void check_report_connected(const struct dia_rig *rig);
cJSON *check_json(const struct dia_check *check, const struct dia_rig *rig);

#endif
