/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_RIG_LAYOUT_H
#define DIA_HOST_RIG_LAYOUT_H

#include "rig_fields.h"

/* Reads which of `line`, `ring`, `grid` and so on a lane has, and checks it against its count. */
enum dia_status dia_rig_read_layout(struct rig_reader *reader, const struct tree_node *lane,
                                    const char *where, uint32_t count, struct dia_rig *rig,
                                    struct dia_rig_layout *layout);

/* Reads the order of the panels of a lane, of which there are layout->wall.count. */
enum dia_status dia_rig_read_order(struct rig_reader *reader, const struct tree_node *list,
                                   struct dia_rig_layout *layout);

/* Reads a list of pixels without a place: numbers, and ranges such as 12-14. */
enum dia_status dia_rig_read_gaps(struct rig_reader *reader, const struct tree_node *list,
                                  uint32_t count, struct dia_rig_layout *layout);

/* Which of the words (ended by NULL) a scalar is; `*choice` stays as it is when node is NULL. */
enum dia_status dia_rig_read_choice(struct rig_reader *reader, const struct tree_node *node,
                                    const char *what, const char *const *words, uint8_t *choice);

#endif
