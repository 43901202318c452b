/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_RIG_CONTROLLER_H
#define DIA_HOST_RIG_CONTROLLER_H

#include "rig_fields.h"

/* "ATmega328P", or keys, of which 'chip' is one. NULL: nothing is said, and nothing read. */
enum dia_status dia_rig_read_controller(struct rig_reader *reader, const struct tree_node *node,
                                        struct dia_rig_controller *controller);

#endif
