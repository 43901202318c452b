/* SPDX-License-Identifier: MIT */
#include "check_devices.h"
#include "family.h"

void dia_check_devices(struct dia_check *check, const struct dia_rig *rig)
{
    for (uint32_t i = 0; i < rig->device_count; i++) {
        struct dia_check_device *c = &check->devices[i];
        rig->devices[i].family->numbers(c, rig, &rig->devices[i]);
        c->rate_mhz = dia_rate_at_most(c->frame_ns);
        if (check->rate_mhz == 0)
            check->rate_mhz = c->rate_mhz;
        check->frame_ram += c->ram_bytes;
        check->tick_permille += c->tick_permille;
    }
}
