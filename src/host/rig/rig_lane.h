/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_RIG_LANE_H
#define DIA_HOST_RIG_LANE_H

#include "rig_fields.h"

/* Reads a lane behind the ones rig has; its supplies must have been read. */
enum dia_status dia_rig_read_lane(struct rig_reader *reader, const struct tree_node *node,
                                  struct dia_rig *rig);

/* When all lanes are read: those of a group are on neighbouring pins. */
enum dia_status dia_rig_check_groups(struct rig_reader *reader, const struct tree_node *lanes,
                                     const struct dia_rig *rig);

/* The number of the supply that the 'supply' of a lane or device names; without one that of the
 * only one there is. `where` is how to call the lane or device. */
enum dia_status dia_rig_find_supply(struct rig_reader *reader, const struct tree_node *lane,
                                    const char *where, const char *word, const struct dia_rig *rig,
                                    uint32_t *supply);

#endif
