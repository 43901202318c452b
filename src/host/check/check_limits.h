/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_CHECK_LIMITS_H
#define DIA_HOST_CHECK_LIMITS_H

#include <diachrome/check.h>

/* Checks what was measured against the limits, and adds the findings, those of the bench first. */
void dia_check_limits(struct dia_check *check, const struct dia_rig *rig,
                      const struct dia_findings *of_bench);

/* Shows the worst that budgets allow of lanes whose feeds are known, for the bench to judge. */
enum dia_status dia_check_stretches(const struct dia_rig *rig, struct dia_player *player);

/* The feeds of lanes: their wires, fuses and what they leave. */
void dia_check_feeds(struct dia_check *check, const struct dia_rig *rig);

/* What one processor has to do, and how late its ticks come; and what is wrong with that. */
enum dia_status dia_check_processor(struct dia_check *check, const struct dia_rig *rig,
                                    struct dia_player *player);
void dia_check_processor_limits(struct dia_check *check, const struct dia_rig *rig);

/* All causes of flicker, of all that is lit. */
void dia_check_flickers(struct dia_check *check, const struct dia_rig *rig);

/* Adds a finding. */
void dia_check_add(struct dia_check *check, enum dia_finding_level level, const char *code,
                   const char *place, const char *source, const char *format, ...)
    __attribute__((format(printf, 6, 7)));

#endif
