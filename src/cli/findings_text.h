/* SPDX-License-Identifier: MIT */
#ifndef DIA_CLI_FINDINGS_TEXT_H
#define DIA_CLI_FINDINGS_TEXT_H

#include <stdio.h>

#include <diachrome/finding.h>

/* One finding, wrapped at 80 columns: level, place, text, source, and how often from when. */
void finding_print(FILE *out, const struct dia_finding *finding, int in_colour);

/* All of them: what is wrong, then what is close to a limit, then what is good to know. */
void findings_print(FILE *out, const struct dia_findings *all, int in_colour);

/* Words one after the other from a column on, on a new line where the next does not fit. */
void text_wrapped(FILE *out, const char *text, int indent);

#endif
