/* SPDX-License-Identifier: MIT */
#include <stdarg.h>
#include <stdio.h>

#include "check_limits.h"

void dia_check_add(struct dia_check *check, enum dia_finding_level level, const char *code,
                   const char *place, const char *source, const char *format, ...)
{
    struct dia_finding finding = {.level = level};
    va_list args;
    va_start(args, format);
    vsnprintf(finding.text, sizeof finding.text, format, args);
    va_end(args);
    snprintf(finding.code, sizeof finding.code, "%s", code);
    snprintf(finding.place, sizeof finding.place, "%s", place);
    snprintf(finding.source, sizeof finding.source, "%s", source);
    dia_findings_add(&check->findings, &finding);
}
