/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <diachrome/quantity.h>

#include "family.h"

/* What pictures, tables and files ask of a device, answered by its family. */

const char *dia_rig_role(const struct dia_rig_device *device, uint8_t role)
{
    for (uint8_t k = 0; k < role; k++) {
        if (!device->family->roles[k])
            return NULL;
    }
    return role < DIA_RIG_PINS ? device->family->roles[role] : NULL;
}

enum dia_lies dia_rig_lies(const struct dia_rig_device *device)
{
    return device->digits ? DIA_LIES_DIGITS : (enum dia_lies)device->family->lies;
}

uint16_t dia_rig_digits_text(const struct dia_rig_device *device, const char *text,
                             uint32_t *segments)
{
    uint8_t seven[DIA_RIG_LAMPS / 8];
    uint16_t count = (uint16_t)device->digits;
    if (device->per_digit == 15)
        return dia_segments14_text(text, segments, count);
    if (device->per_digit == 17)
        return dia_segments16_text(text, segments, count);
    uint16_t left = dia_segments_text(text, seven, count);
    for (uint16_t k = 0; k < count; k++)
        segments[k] = seven[k];
    return left;
}

uint8_t dia_rig_is_chain(const struct dia_rig_device *device)
{
    return device->family->is_chain;
}

uint8_t dia_rig_has_keys(const struct dia_rig_device *device)
{
    return device->family->has_keys;
}

uint32_t dia_rig_turns(const struct dia_rig_device *device)
{
    return device->family->turns ? device->family->turns(device) : 1;
}

void dia_rig_title(const struct dia_rig_device *device, char *text, size_t size)
{
    if (device->family->is_chain)
        snprintf(text, size, "%s: %u x %s", device->name, (unsigned)device->count, device->chip);
    else if (device->channels == 3)
        snprintf(text, size, "%s: %u x %u pixels", device->name, (unsigned)device->surface.count,
                 (unsigned)(device->lamps / device->surface.count));
    else if (!device->part)
        snprintf(text, size, "%s: %u %s%s", device->name,
                 (unsigned)(device->digits ? device->digits : device->lamps),
                 device->digits ? "digit" : "lamp",
                 (device->digits ? device->digits : device->lamps) == 1 ? "" : "s");
    else
        snprintf(text, size, "%s: %s", device->name, device->chip);
}

void dia_rig_facts(const struct dia_rig_device *device, char *text, size_t size)
{
    const char *role, *between = "";
    char clock[40];
    int used = 0;
    if (device->family->facts) {
        device->family->facts(device, text, size);
        return;
    }
    text[0] = 0;
    for (uint8_t k = 0; (role = dia_rig_role(device, k)) != NULL; k++) {
        if (device->pins[k] == DIA_NO_PIN || used >= (int)size)
            continue;
        used +=
            snprintf(text + used, size - (size_t)used, "%s%s %u", between, role, device->pins[k]);
        between = ", ";
    }
    if (device->clock_hz && used < (int)size)
        snprintf(text + used, size - (size_t)used, ", %s",
                 dia_quantity_write(device->clock_hz, DIA_CLOCK, clock, sizeof clock));
}

const char *dia_rig_shifter_name(uint32_t is)
{
    static const char *const names[] = {NULL, "74AHCT125", "74HCT245", "BSS138"};
    return is < DIA_RIG_SHIFTERS ? names[is] : NULL;
}

uint32_t dia_rig_lane_high_mv(const struct dia_rig *rig, const struct dia_rig_lane *lane)
{
    return lane->shifter.mv ? lane->shifter.mv : rig->controller.logic_high_mv;
}

uint32_t dia_rig_lane_logic_mv(const struct dia_rig *rig, const struct dia_rig_lane *lane)
{
    uint32_t supply = rig->supplies[lane->supply].voltage_mv;
    return supply < lane->part.logic_max_mv ? supply : lane->part.logic_max_mv;
}

uint32_t dia_rig_lane_needs_mv(const struct dia_rig *rig, const struct dia_rig_lane *lane)
{
    return dia_rig_lane_logic_mv(rig, lane) * lane->part.input_high_permille / 1000;
}

uint8_t dia_rig_time_from(const struct dia_rig *rig)
{
    uint32_t rate = rig->frame_rate_mhz / 1000u;
    return DIA_TIME_FROM(rate);
}
