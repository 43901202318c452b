/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_RIG_AT_H
#define DIA_HOST_RIG_AT_H

#include "rig_fields.h"

/* Reads where a lane or device is on the desk, if its map says so. */
enum dia_status dia_rig_read_at(struct rig_reader *reader, const struct tree_node *node,
                                struct dia_rig_at *at);

#endif
