/* SPDX-License-Identifier: MIT */
#ifndef DIA_CLI_JSON_H
#define DIA_CLI_JSON_H

#include <cjson/cJSON.h>

#include <diachrome/finding.h>
#include <diachrome/parts.h>

/* The findings as a list 'findings' of root. */
void json_findings(cJSON *root, const struct dia_findings *all);

/* Prints on stdout and frees. Says so and ends with CLI_MACHINE when memory ran out. */
void json_print(cJSON *root);

/* The parts around a rig, as a list. */
cJSON *parts_json(const struct dia_parts *parts);

#endif
