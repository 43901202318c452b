/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_RIG_BUS_H
#define DIA_HOST_RIG_BUS_H

#include <diachrome/rig.h>

#include "rig_fields.h"
#include "yaml_tree.h"

/* Whether a pin that is in use may be this one of another device too: all that is on it so far is
 * the same wire of a bus. */
int dia_rig_may_share(const struct dia_rig *rig, uint32_t pin, const struct dia_rig_device *device,
                      uint8_t role);

/* SPI and I2C buses of the controller are given out in the order of the file; devices with the
 * same pins are on the same bus. */
enum dia_status dia_rig_find_bus(struct rig_reader *reader, const struct tree_node *node,
                                 struct dia_rig *rig, struct dia_rig_device *device);

#endif
