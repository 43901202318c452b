/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_CHECK_LIMITS_H
#define DIA_HOST_CHECK_LIMITS_H

#include <diachrome/check.h>

/* Holds what was measured against the limits: adds the findings, those of the bench first. */
void check_limits(struct dia_check *check, const struct dia_rig *rig,
                  const struct dia_findings *of_bench);

#endif
