/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_RIG_LIVE_H
#define DIA_HOST_RIG_LIVE_H

#include "rig_fields.h"

/* Reads `live`: how the rig is to be served on the network. */
enum dia_status dia_rig_read_live(struct rig_reader *reader, const struct tree_node *node,
                                  struct dia_rig_live *live);

#endif
