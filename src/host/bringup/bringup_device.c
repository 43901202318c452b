/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include "bringup_device.h"
#include "family.h"

struct dia_rig_device *dia_device_believed(struct run *run)
{
    return &run->report->rig.devices[run->device];
}

int dia_device_lamp_is_lit(const struct run *run, uint32_t lamp)
{
    uint32_t turns = dia_rig_turns(&run->desk->rig.devices[run->device]);
    return dia_player_lamp(run->player, (uint32_t)run->device, lamp) * turns > 65535 / 40;
}

void dia_device_is_disturbed(struct run *run)
{
    const struct dia_rig *rig = &run->report->rig;
    const struct dia_rig_device *device = dia_device_believed(run);
    uint32_t supply_mv = rig->supplies[device->supply].voltage_mv;
    struct family_levels needs = device->family->levels(device->part, supply_mv);
    const char *two_way = device->family->two_way ? device->family->two_way(device) : NULL;
    char but[120] = "";
    if (two_way)
        snprintf(but, sizeof but, "; into %s, which goes both ways, put " DIA_TWO_WAY_SHIFTER,
                 two_way);
    dia_bringup_signal(run, device->shifter.mv ? device->shifter.mv : rig->controller.logic_high_mv,
                       needs.input_high_mv, supply_mv, "devices", but);
}

int dia_device_shows_nothing(struct run *run)
{
    struct dia_cause *cause = dia_run_cause(run, "it shows nothing at all");
    dia_cause_evidence(cause, "nothing lit that was sent");
    dia_cause_wiring(cause,
                     "look at its supply, ground, and each of its pins; the first chip of a chain "
                     "is fed at its input, not its output");
    return 0;
}

int dia_bringup_device(struct run *run)
{
    const struct dia_rig_family *family = dia_device_believed(run)->family;
    return family->ask ? family->ask(run) : 0;
}
