/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_RIG_NODE_H
#define DIA_HOST_RIG_NODE_H

#include "rig_fields.h"

/* A node is a name as others are; "" is none. */
enum dia_status dia_rig_check_node(struct rig_reader *reader, const struct tree_node *node,
                                   const char *name);

/* All of a rig say who drives them, or none does. */
enum dia_status dia_rig_check_nodes(struct rig_reader *reader, const struct tree_node *root,
                                    const struct dia_rig *rig);

#endif
