/* SPDX-License-Identifier: MIT */
#include <diachrome/flicker.h>
#include <diachrome/quantity.h>

#include "check_limits.h"
#include "family.h"

static void add(struct dia_check *check, const char *name, const char *cause, const char *source,
                uint32_t mhz, uint32_t modulation_permille, uint8_t runs_free)
{
    if (mhz == 0 || modulation_permille == 0 || check->flicker_count == DIA_CHECK_FLICKERS)
        return;
    check->flickers[check->flicker_count++] = (struct dia_check_flicker){
        .name = name,
        .cause = cause,
        .source = source,
        .mhz = mhz,
        .modulation_permille = modulation_permille,
        .runs_free = runs_free,
        .risk = (uint8_t)dia_flicker_class(mhz, modulation_permille),
    };
}

/* A strip's own PWM has all its light on or off at every level but full. */
static void of_lane(struct dia_check *check, const struct dia_rig *rig,
                    const struct dia_rig_lane *lane)
{
    const struct dia_flicker_part *part = dia_flicker_part(lane->part.name);
    struct dia_words w[2];
    if (part) {
        add(check, lane->name, "its own PWM", part->source, part->pwm_mhz, 1000, 1);
        add(check, lane->name, "PWM of its level", part->source, part->level_mhz, 1000, 1);
    }
    if (lane->dithering != DIA_DITHERING_TIME)
        return;
    /* between step 1 and 2, the dimmest that is always lit */
    uint32_t half_mhz = rig->frame_rate_mhz / 2, worst = dia_flicker_dithering_permille(1);
    add(check, lane->name, "dithering in time", "half of frame_rate", half_mhz, worst, 0);
    uint8_t least = dia_rig_time_from(rig);
    if (dia_flicker_class(half_mhz, worst) == DIA_FLICKER_ABOVE)
        dia_check_add(check, DIA_WARNING, "flicker", lane->name, "IEEE 1789-2015",
                      "'dithering: time' at %s: light below step %u of 255 flickers at %s and "
                      "slower: write auto or space",
                      dia_quantity_as(rig->frame_rate_mhz, DIA_RATE, &w[0]),
                      least ? (unsigned)least : 255u, dia_quantity_as(half_mhz, DIA_RATE, &w[1]));
}

void dia_check_flickers(struct dia_check *check, const struct dia_rig *rig)
{
    for (uint32_t i = 0; i < rig->lane_count; i++)
        of_lane(check, rig, &rig->lanes[i]);
    for (uint32_t i = 0; i < rig->device_count; i++) {
        const struct dia_rig_device *device = &rig->devices[i];
        const struct dia_check_device *c = &check->devices[i];
        int by_ticks = c->tick_mhz != 0;
        if (device->depth != 1 || device->digits)
            add(check, device->name, device->digits || !by_ticks ? "lit in turns" : "slices",
                by_ticks ? "refresh of the rig" : "usual scan of its sheet", c->refresh_mhz, 1000,
                !by_ticks);
        add(check, device->name, "late ticks", "frame_rate of the rig", rig->frame_rate_mhz,
            c->modulation_permille, 0);
    }
}
