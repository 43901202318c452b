/* SPDX-License-Identifier: MIT */
#ifndef DIA_CLI_CHECK_REPORT_H
#define DIA_CLI_CHECK_REPORT_H

#include <diachrome/check.h>

/* A check on stdout: for people at 80 columns, and the same facts for programs. */
void check_report_text(const struct dia_check *check, const struct dia_rig *rig, int in_colour);
void check_report_json(const struct dia_check *check, const struct dia_rig *rig);

#endif
