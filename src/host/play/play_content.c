/* SPDX-License-Identifier: MIT */
#include <string.h>

#include "player_private.h"

static void black_pixels(void *self, uint32_t lane, uint32_t count, struct dia_rgb *pixels)
{
    (void)self;
    (void)lane;
    memset(pixels, 0, count * sizeof *pixels);
}

static void dark_lamps(void *self, uint32_t device, uint32_t count, uint8_t *levels)
{
    (void)self;
    (void)device;
    memset(levels, 0, count);
}

/* Lanes get a black frame; each device is left in its own way of being dark. */
enum dia_status dia_player_dark(struct dia_player *player)
{
    struct dia_content nothing = {NULL, black_pixels, dark_lamps, NULL};
    enum dia_status status = dia_player_show_content(player, &nothing, 0, NULL);
    play_devices_dark(player);
    dia_sim_advance_us(&player->sim, 1000);
    dia_bench_settle(player->bench, player->sim.now_ns);
    return status;
}

int dia_player_is_dark(const struct dia_player *player)
{
    const struct dia_rig *desk = &player->desk->rig;
    uint32_t lit = 0;
    for (uint32_t i = 0; i < desk->lane_count; i++) {
        for (uint32_t k = 0; k < desk->lanes[i].count; k++) {
            struct dia_rgb seen = dia_player_seen(player, i, k);
            lit += seen.r || seen.g || seen.b;
        }
    }
    for (uint32_t i = 0; i < desk->device_count; i++) {
        const struct dia_cells_shown *cells = dia_player_cells(player, i);
        for (uint32_t k = 0; k < desk->devices[i].lamps; k++)
            lit += dia_player_lamp(player, i, k) != 0;
        lit += cells && cells->on;
    }
    return lit == 0;
}
