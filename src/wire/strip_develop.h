/* SPDX-License-Identifier: MIT */
#ifndef DIA_WIRE_STRIP_DEVELOP_H
#define DIA_WIRE_STRIP_DEVELOP_H

#include <diachrome/develop.h>
#include <diachrome/part.h>
#include <diachrome/power.h>

/* Colours to drive bytes r g b (w), inside what a supply gives. */
static inline void strip_develop(struct dia_develop *develop,
                                 const DIA_ROM struct dia_pixel_part *part, uint32_t given_ua,
                                 dia_share share, uint32_t slot, const struct dia_rgb *pixels,
                                 uint16_t count, uint8_t *bytes)
{
    struct dia_carry carry;
    dia_develop_begin(develop, slot);
    if (given_ua != DIA_NO_LIMIT) {
        struct dia_budget budget;
        dia_budget_init(&budget, given_ua, 0);
        dia_budget_add(&budget, develop, &part->power, pixels, count);
        dia_develop_limit(develop, dia_budget_share(&budget));
    }
    if (share != DIA_SHARE_ONE)
        dia_develop_limit(develop, share);
    dia_carry_begin(&carry, develop);
    dia_develop_run(develop, &carry, pixels, count, bytes);
}

#endif
