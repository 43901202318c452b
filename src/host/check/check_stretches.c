/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/feed_plan.h>

#include "check_limits.h"

/* A stretch of one lane is lit, as bright as the master, and nothing else is. */
struct stretch {
    struct dia_rgb colour;
    uint32_t lane, first, count;
};

static void pixels(void *self, uint32_t lane, uint32_t count, struct dia_rgb *out)
{
    const struct stretch *stretch = self;
    memset(out, 0, count * sizeof *out);
    for (uint32_t k = 0; lane == stretch->lane && k < stretch->count; k++)
        out[stretch->first + k] = stretch->colour;
}

static void lamps(void *self, uint32_t device, uint32_t count, uint8_t *levels)
{
    (void)self;
    (void)device;
    memset(levels, 0, count);
}

static enum dia_status show(struct dia_player *player, uint32_t lane,
                            const struct dia_lane_lit *lit, struct dia_rgb colour, uint32_t slot)
{
    struct stretch stretch = {colour, lane, lit->first, lit->count};
    const struct dia_content content = {.self = &stretch, .pixels = pixels, .lamps = lamps};
    struct stretch none = {colour, lane, 0, 0};
    const struct dia_content dark = {.self = &none, .pixels = pixels, .lamps = lamps};
    dia_player_restart_pixels(player);
    enum dia_status status = dia_player_show_content(player, &dark, slot, NULL);
    return status == DIA_OK ? dia_player_show_content(player, &content, slot, NULL) : status;
}

enum dia_status dia_check_stretches(const struct dia_rig *rig, struct dia_player *player)
{
    enum dia_status status = DIA_OK;
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        struct dia_lane_lit lit[DIA_FEED_STRETCHES];
        struct dia_feed_wish wish;
        if (rig->lanes[i].feed_count == 0)
            continue;
        dia_feed_wish_init(&wish, rig, i);
        uint32_t n = dia_feed_stretches(rig, &rig->lanes[i], &wish, lit);
        for (uint32_t k = 0; k < n && status == DIA_OK; k++)
            status = show(player, i, &lit[k], wish.colour, k);
    }
    return status;
}
