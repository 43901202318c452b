/* SPDX-License-Identifier: MIT */
#ifndef DIA_WIRE_STRIP_DEVELOP_H
#define DIA_WIRE_STRIP_DEVELOP_H

#include <diachrome/develop.h>
#include <diachrome/part.h>
#include <diachrome/power.h>

/* Until it is chosen how to dither, the limiter reckons with the most that it may add. */
static inline void strip_begin(struct dia_develop *develop, uint32_t slot, int chooses)
{
    dia_develop_begin(develop, slot);
    if (chooses && develop->time_from > DIA_TIME_ALWAYS && develop->time_from != DIA_WHOLE_STEPS)
        develop->phase = 255;
}

/* Colours to drive bytes r g b (w), inside what a supply gives. chooses: whether a frame may be
 * dithered in time where its pixels allow it. */
static inline void strip_develop(struct dia_develop *develop,
                                 const DIA_ROM struct dia_pixel_part *part, uint32_t given_ua,
                                 dia_share share, uint32_t slot, const struct dia_rgb *pixels,
                                 uint16_t count, uint8_t *bytes, int chooses)
{
    struct dia_carry carry;
    strip_begin(develop, slot, chooses);
    if (given_ua != DIA_NO_LIMIT) {
        struct dia_budget budget;
        dia_budget_init(&budget, given_ua, 0);
        dia_budget_add(&budget, develop, &part->power, pixels, count);
        dia_develop_limit(develop, dia_budget_share(&budget));
    }
    if (share != DIA_SHARE_ONE)
        dia_develop_limit(develop, share);
    if (chooses && develop->time_from == DIA_WHOLE_STEPS) {
        dia_develop_run_whole(develop, pixels, count, bytes);
        return;
    }
    if (chooses)
        dia_develop_choose(develop, slot, pixels, count);
    dia_carry_begin(&carry, develop);
    dia_develop_run(develop, &carry, pixels, count, bytes);
}

#endif
