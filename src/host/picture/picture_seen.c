/* SPDX-License-Identifier: MIT */
#include <stdlib.h>

#include "host_private.h"
#include "picture.h"

struct dia_rgb *dia_picture_seen_lane(const struct dia_reel *reel, uint32_t frame, uint32_t number)
{
    const struct dia_rig_lane *lane = &reel->rig->lanes[number];
    const uint8_t(*drive)[4] = dia_reel_lane(reel, frame, number);
    struct dia_rgb *seen = calloc(lane->count, sizeof *seen);
    for (uint32_t i = 0; seen && i < lane->count; i++)
        seen[i] = dia_seen(drive + i, 1, dia_scale_of(&lane->part));
    return seen;
}

struct dia_rgb *dia_picture_seen_device(const struct dia_reel *reel, uint32_t frame,
                                        uint32_t number)
{
    const struct dia_rig_device *device = &reel->rig->devices[number];
    const uint8_t(*drive)[4] = dia_reel_device(reel, frame, number);
    uint32_t count = dia_reel_elements(device);
    struct dia_rgb *seen = calloc(count, sizeof *seen);
    for (uint32_t i = 0; seen && i < count; i++)
        seen[i] = dia_view_seen(device, drive[i]);
    return seen;
}
