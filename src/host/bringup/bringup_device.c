/* SPDX-License-Identifier: MIT */
#include "bringup_device.h"
#include "check_devices.h"

struct dia_rig_device *device_believed(struct run *run)
{
    return &run->report->rig.devices[run->device];
}

int device_lamp_is_lit(const struct run *run, uint32_t lamp)
{
    const struct dia_rig_device *there = &run->desk->rig.devices[run->device];
    uint32_t turns = there->kind != DIA_KIND_DIGITS ? 1 : there->on_commons ? 8 : there->digits;
    return dia_player_lamp(run->player, (uint32_t)run->device, lamp) * turns > 65535 / 40;
}

void device_is_disturbed(struct run *run)
{
    const struct dia_rig *rig = &run->report->rig;
    const struct dia_rig_device *device = device_believed(run);
    uint32_t supply_mv = rig->supplies[device->supply].voltage_mv;
    struct device_levels needs = check_levels(device, supply_mv);
    bringup_signal(run, device->shifter_mv ? device->shifter_mv : rig->controller.logic_high_mv,
                   needs.input_high_mv, supply_mv, "devices");
}

int device_shows_nothing(struct run *run)
{
    struct dia_cause *cause = run_cause(run, "it shows nothing at all");
    cause_evidence(cause, "nothing lit that was sent");
    cause_wiring(cause,
                 "look at its supply, ground, and each of its pins; the first chip of a chain "
                 "is fed at its input, not its output");
    return 0;
}

int bringup_device(struct run *run)
{
    const struct dia_rig_device *device = device_believed(run);
    switch (device->kind) { /* what is left of them shows their text, or nothing */
    case DIA_KIND_SHIFT:
        return bringup_shift(run);
    case DIA_KIND_CHARACTERS:
        return bringup_characters(run);
    case DIA_KIND_MATRIX:
        return device->digits ? bringup_digits(run) : bringup_dots(run);
    default:
        return bringup_digits(run);
    }
}
