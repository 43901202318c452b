/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_RIG_WIRE_H
#define DIA_HOST_RIG_WIRE_H

#include <diachrome/rig.h>

/* "2C": chip 2 (1 is next to the controller), output QC; as a number, or -1. */
int dia_rig_output(const char *text, uint32_t chips);

/* Gives a lane another colour order ("" for its part's) or another part of the same family, with
 * that part's own order. DIA_BAD_VALUE and a diagnostic. */
enum dia_status dia_rig_set_order(struct dia_rig_lane *lane, const char *order,
                                  struct dia_diagnostic *wrong);
enum dia_status dia_rig_set_part(struct dia_rig_lane *lane, const char *part,
                                 struct dia_diagnostic *wrong);

#endif
