/* SPDX-License-Identifier: MIT */
#include "check_devices.h"
#include "family.h"

int dia_check_ticks(const struct dia_rig *rig, const struct dia_rig_device *device,
                    struct dia_refresh_setup *setup)
{
    if (device->family->ticks)
        device->family->ticks(rig, device, setup);
    return device->family->ticks != NULL;
}

/* Of those with ticks: what they come to. */
static void ticks(struct dia_check_device *c, const struct dia_rig *rig,
                  const struct dia_rig_device *device)
{
    struct dia_refresh_setup setup;
    struct dia_refresh refresh;
    if (!dia_check_ticks(rig, device, &setup))
        return;
    setup.most_permille = 1000;
    dia_refresh_at(&refresh, &setup, device->refresh_mhz, device->depth, device->slices);
    c->refresh_mhz = refresh.refresh_mhz;
    c->tick_mhz = refresh.ticks_mhz;
    c->tick_permille = refresh.load_permille;
    c->slice_us = refresh.unit_us;
    c->tick_us = refresh.tick_us;
    c->longest_us = refresh.longest_us;
    c->lit_permille = refresh.lit_permille;
    c->slice_short = refresh.why == DIA_REFRESH_SLICE_SHORT;
}

void dia_check_devices(struct dia_check *check, const struct dia_rig *rig)
{
    for (uint32_t i = 0; i < rig->device_count; i++) {
        struct dia_check_device *c = &check->devices[i];
        rig->devices[i].family->numbers(c, rig, &rig->devices[i]);
        ticks(c, rig, &rig->devices[i]);
        c->rate_mhz = dia_rate_at_most(c->frame_ns);
        if (check->rate_mhz == 0)
            check->rate_mhz = c->rate_mhz;
        check->frame_ram += c->ram_bytes;
        check->tick_permille += c->tick_permille;
    }
}
