/* SPDX-License-Identifier: MIT */
#include <string.h>

#include "family_turns.h"
#include "host_private.h"
#include "rig_wire.h"

/* What may be wrong with a shift-register chain. */

static enum dia_status stuck(struct dia_desk *desk, const struct said *said,
                             struct dia_diagnostic *wrong)
{
    struct dia_shift_fault *fault = &desk->devices[said->device].shift;
    int output =
        said->first ? dia_rig_output(said->first, desk->rig.devices[said->device].count) : -1;
    int high = said->second && strcmp(said->second, "high") == 0;
    if (output < 0 || !said->second || (!high && strcmp(said->second, "low") != 0))
        return dia_host_wrong(
            wrong, "fault '%s: stuck' takes an output and a level, such as 2C high", said->target);
    fault->stuck_output = output;
    fault->stuck_level = (uint8_t)high;
    return DIA_OK;
}

static enum dia_status deaf(struct dia_desk *desk, const struct said *said,
                            struct dia_diagnostic *wrong)
{
    uint32_t chip = 0;
    enum dia_status status =
        dia_fault_number(said, said->first, 1, desk->rig.devices[said->device].count, &chip, wrong);
    if (status == DIA_OK)
        desk->devices[said->device].shift.deaf_chip = (int)chip - 1;
    return status;
}

/* Two chips in each other's place: the lamps of one hang on the other. */
static enum dia_status swapped(struct dia_desk *desk, const struct said *said,
                               struct dia_diagnostic *wrong)
{
    struct dia_rig_device *device = &desk->rig.devices[said->device];
    uint32_t a = 0, b = 0;
    enum dia_status status = dia_fault_number(said, said->first, 1, device->count, &a, wrong);
    if (status == DIA_OK)
        status = dia_fault_number(said, said->second, 1, device->count, &b, wrong);
    if (status == DIA_OK && a == b)
        return dia_host_wrong(wrong, "fault '%s: swapped' takes two chips, such as 1 2",
                              said->target);
    if (status == DIA_OK && device->commons)
        dia_family_turns_swap(device, a, b);
    for (uint32_t i = 0; i < device->lamps && status == DIA_OK && !device->commons; i++) {
        if (device->output_of[i] == DIA_RIG_NOWHERE)
            continue;
        uint32_t chip = device->output_of[i] / 8u + 1u, to = chip == a ? b : chip == b ? a : chip;
        device->output_of[i] = (uint16_t)((to - 1) * 8 + device->output_of[i] % 8u);
    }
    return status;
}

/* Commons of the other kind than the rig says. */
static enum dia_status polarity(struct dia_desk *desk, const struct said *said,
                                struct dia_diagnostic *wrong)
{
    struct dia_rig_device *device = &desk->rig.devices[said->device];
    if (!device->digits)
        return dia_host_wrong(wrong, "'%s' has no digits with a common", said->target);
    device->anode ^= 1;
    return DIA_OK;
}

/* Two segments of digits in turns in each other's place, by their letters. */
static enum dia_status crossed(struct dia_desk *desk, const struct said *said,
                               struct dia_diagnostic *wrong)
{
    struct dia_rig_device *device = &desk->rig.devices[said->device];
    const char *letters = "abcdefg", *a, *b;
    a = said->first && strlen(said->first) == 1 ? strchr(letters, said->first[0]) : NULL;
    b = said->second && strlen(said->second) == 1 ? strchr(letters, said->second[0]) : NULL;
    if (!device->commons || !a || !b || a == b)
        return dia_host_wrong(wrong,
                              "fault '%s: crossed' is for digits in turns, and takes two segments, "
                              "such as b f",
                              said->target);
    uint16_t kept = device->segment_output[a - letters];
    device->segment_output[a - letters] = device->segment_output[b - letters];
    device->segment_output[b - letters] = kept;
    return DIA_OK;
}

const struct fault_kind dia_family_shift_faults[] = {
    {"stuck", OF_DEVICE, stuck}, {"polarity", OF_DEVICE, polarity}, {"crossed", OF_DEVICE, crossed},
    {"deaf", OF_DEVICE, deaf},   {"swapped", OF_DEVICE, swapped},   {NULL, 0, NULL}};
