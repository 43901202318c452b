/* SPDX-License-Identifier: MIT */
#include <ctype.h>
#include <stdlib.h>
#include <string.h>

#include "host_private.h"
#include "rig_wire.h"

int dia_rig_output(const char *text, uint32_t chips)
{
    char *end;
    unsigned long chip = strtoul(text, &end, 10);
    if (end == text || chip == 0 || chip > chips || *end < 'A' || *end > 'H' || end[1] != 0)
        return -1;
    return (int)((chip - 1) * 8) + (*end - 'A');
}

/* Letters of the colours; the level of parts that have one comes before them and is not written. */
enum dia_status dia_rig_set_order(struct dia_rig_lane *lane, const char *order,
                                  struct dia_diagnostic *wrong)
{
    static const char letters[] = "RGBW";
    uint8_t from = lane->part.channels == &dia_channels_level;
    uint8_t channels = (uint8_t)(lane->part.channels->count - from);
    unsigned seen = 0;
    size_t n = strlen(order);
    if (n == 0) {
        memset(lane->order, 0, sizeof lane->order);
        for (uint8_t k = 0; k < channels; k++)
            lane->order[k] = letters[lane->part.order.channel[from + k]];
        return DIA_OK;
    }
    for (size_t k = 0; k < n && k < channels; k++) {
        const char *at = strchr(letters, order[k]);
        if (!at)
            break;
        seen |= 1u << (at - letters);
    }
    if (n != channels || seen != (1u << channels) - 1)
        return dia_host_wrong(
            wrong, "'order' of %s takes the letters %s, each once, such as %s; found '%s'",
            lane->part.name, channels == 4 ? "R G B W" : "R G B", channels == 4 ? "GRBW" : "GRB",
            order);
    for (size_t k = 0; k < n; k++)
        lane->part.order.channel[from + k] = (uint8_t)(strchr(letters, order[k]) - letters);
    memmove(lane->order, order, n + 1);
    return DIA_OK;
}

enum dia_status dia_rig_set_part(struct dia_rig_lane *lane, const char *part,
                                 struct dia_diagnostic *wrong)
{
    const struct dia_pixel_part *const *parts =
        lane->part.family == DIA_CLOCKED ? dia_clocked_parts : dia_onewire_parts;
    for (; *parts; parts++) {
        if (strcmp((*parts)->name, part) == 0) {
            lane->part = **parts;
            for (uint8_t c = 0; c < 4; c++)
                lane->white[c] = DIA_SHARE_ONE;
            return dia_rig_set_order(lane, "", wrong);
        }
    }
    return dia_host_wrong(wrong, "there is no such chip '%.40s' in place of %s", part,
                          lane->part.name);
}

static int wire_is(char name[64], uint8_t *pin, const char *of, const char *line, uint32_t number)
{
    snprintf(name, 64, "%.31s%.31s", of, line);
    *pin = (uint8_t)number;
    return 1;
}

int dia_rig_wire(const struct dia_rig *rig, uint32_t k, char name[64], uint8_t *pin)
{
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        const struct dia_rig_lane *lane = &rig->lanes[i];
        int clocked = lane->part.family == DIA_CLOCKED;
        if (clocked && k-- == 0)
            return wire_is(name, pin, lane->name, "_clock", lane->clock_pin);
        if (k-- == 0)
            return wire_is(name, pin, lane->name, clocked ? "_data" : "", lane->pin);
    }
    for (uint32_t i = 0; i < rig->device_count; i++) {
        const struct dia_rig_device *device = &rig->devices[i];
        const char *role;
        for (uint8_t n = 0; (role = dia_rig_role(device, n)) != NULL; n++) {
            char line[16] = "_";
            for (size_t c = 0; c < sizeof line - 2 && role[c]; c++)
                line[c + 1] = (char)toupper((unsigned char)role[c]);
            if (device->pins[n] != DIA_NO_PIN && k-- == 0)
                return wire_is(name, pin, device->name, line, device->pins[n]);
        }
    }
    return k < rig->button_count &&
           wire_is(name, pin, rig->buttons[k].name, "", rig->buttons[k].pin);
}
