/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_CHECK_DEVICES_H
#define DIA_HOST_CHECK_DEVICES_H

#include <diachrome/check.h>

/* What each device needs, from its sheet and its settings. frame_ns has been measured. */
void check_devices(struct dia_check *check, const struct dia_rig *rig);

/* Holds it against the limits. */
void check_device_limits(struct dia_check *check, const struct dia_rig *rig);

/* Supply and logic levels of a device by its sheet: high input at a supply voltage, mV. */
struct device_levels {
    uint32_t supply_min_mv, supply_max_mv, input_high_mv;
    const char *source;
};
struct device_levels check_levels(const struct dia_rig_device *device, uint32_t supply_mv);

#endif
