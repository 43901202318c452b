/* SPDX-License-Identifier: MIT */
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
