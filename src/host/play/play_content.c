/* SPDX-License-Identifier: MIT */
#include <string.h>

#include "player_private.h"

/* What was lit in turns is looked at from then on. */
enum dia_status dia_player_dark(struct dia_player *player)
{
    enum dia_status worst = DIA_OK;
    for (uint32_t k = 0; player->nodes && k < player->nodes->count; k++) {
        enum dia_status status = dia_player_dark(player->nodes->players[k]);
        worst = status != DIA_OK ? status : worst;
    }
    if (player->nodes)
        return worst;
    dia_set_dark(&player->set);
    for (uint32_t i = 0; i < player->rig->device_count; i++) {
        if (dia_driver_has_tick(player->members[i].driver))
            dia_bench_expose(player->bench, player->devices[i].on_bench, player->sim.now_ns);
    }
    dia_sim_advance_us(&player->sim, 1000);
    dia_bench_settle(player->bench, player->sim.now_ns);
    return dia_play_lanes_status(player);
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
        for (uint32_t k = 0; k < desk->devices[i].lamps * desk->devices[i].channels; k++)
            lit += dia_player_lamp(player, i, k) != 0;
        lit += cells && cells->on;
    }
    return lit == 0;
}
