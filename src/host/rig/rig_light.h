/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_RIG_LIGHT_H
#define DIA_HOST_RIG_LIGHT_H

#include "rig_fields.h"

/* Reads how the light of a lane is to be: `white` or `white_seen`, and `curve`. Its part and order
 * are known. */
enum dia_status dia_rig_read_light(struct rig_reader *reader, const struct tree_node *node,
                                   struct dia_rig_lane *lane);

#endif
