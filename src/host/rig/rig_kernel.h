/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_RIG_KERNEL_H
#define DIA_HOST_RIG_KERNEL_H

#include "rig_fields.h"

/* Devices of Linux that a rig names. Each tells a mistake with what would be right. */

/* That a key, where it is there, has the path of a device: example is such a one. */
enum dia_status dia_rig_is_device(struct rig_reader *reader, const struct tree_node *node,
                                  const char *key, const char *example);

/* That `spi` of a lane is its own. */
enum dia_status dia_rig_lane_kernel(struct rig_reader *reader, const struct tree_node *node,
                                    const struct dia_rig *rig, const struct dia_rig_lane *lane);

/* Takes `spi` or `i2c` of a device that has its bus: those on one bus have the same, on others
 * another one. */
enum dia_status dia_rig_device_kernel(struct rig_reader *reader, const struct tree_node *node,
                                      const struct dia_rig *rig,
                                      const struct dia_rig_device *device);

#endif
