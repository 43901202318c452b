/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_RIG_FEEDS_H
#define DIA_HOST_RIG_FEEDS_H

#include "rig_fields.h"

/* Reads where a lane is fed, all else of which has been read, and how much its rails resist. */
enum dia_status dia_rig_read_feeds(struct rig_reader *reader, const struct tree_node *node,
                                   const char *where, const struct dia_rig *rig,
                                   struct dia_rig_lane *lane);

#endif
