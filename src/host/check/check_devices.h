/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_CHECK_DEVICES_H
#define DIA_HOST_CHECK_DEVICES_H

#include <diachrome/check.h>

/* What each device needs, from its sheet and its settings. frame_ns has been measured. */
void dia_check_devices(struct dia_check *check, const struct dia_rig *rig);

/* Checks it against the limits. */
void dia_check_device_limits(struct dia_check *check, const struct dia_rig *rig);

#endif
