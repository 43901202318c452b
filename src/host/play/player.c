/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/player.h>
#include <diachrome/reel.h>

#include "host_private.h"
#include "player_private.h"

static int build(struct dia_player *player)
{
    const struct dia_rig *rig = player->rig;
    player->bench = dia_bench_new();
    if (!player->bench)
        return -1;
    dia_sim_init(&player->sim, rig->controller.clock_hz);
    dia_sim_listen(&player->sim, dia_bench_take, player->bench);
    for (uint32_t i = 0; i < rig->supply_count; i++)
        player->supplies[i] =
            dia_bench_supply(player->bench, rig->supplies[i].name, rig->supplies[i].current_ua,
                             rig->supplies[i].reserve_ua);
    return play_lanes_connect(player) == 0 ? play_devices_connect(player) : -1;
}

struct dia_player *dia_player_on(const struct dia_rig *rig, const struct dia_desk *desk,
                                 struct dia_diagnostic *wrong)
{
    struct dia_player *player = calloc(1, sizeof *player);
    if (player) {
        player->rig = rig;
        player->desk = desk;
        if (build(player) == 0)
            return player;
    }
    dia_player_free(player);
    errno = ENOMEM;
    host_failed(wrong, rig->name, "the bench cannot be built");
    return NULL;
}

struct dia_player *dia_player_new(const struct dia_rig *rig, struct dia_diagnostic *wrong)
{
    struct dia_desk *desk = calloc(1, sizeof *desk);
    if (!desk) {
        host_failed(wrong, rig->name, "the bench cannot be built");
        return NULL;
    }
    dia_desk_init(desk, rig);
    for (uint32_t i = 0; i < rig->fault_count; i++)
        dia_desk_fault(desk, rig->faults[i], wrong); /* they were right when the file was read */
    struct dia_player *player = dia_player_on(rig, desk, wrong);
    if (player)
        player->own = desk;
    else
        free(desk);
    return player;
}

void dia_player_refresh(struct dia_player *player)
{
    for (uint32_t i = 0; i < player->rig->device_count; i++)
        dia_driver_refresh(&player->devices[i].driver.any);
}

const struct dia_rig *dia_player_desk(const struct dia_player *player)
{
    return &player->desk->rig;
}

void dia_player_free(struct dia_player *player)
{
    if (!player)
        return;
    play_lanes_free(player);
    play_devices_free(player);
    dia_bench_free(player->bench);
    free(player->own);
    free(player);
}

uint8_t dia_player_level(const struct dia_player *player, uint8_t pin)
{
    return player->sim.level[pin];
}

void dia_player_listen(struct dia_player *player, dia_edge_listener *take, void *self)
{
    dia_sim_listen(&player->sim, take, self);
}

void dia_player_rest_until(struct dia_player *player, uint64_t t_ns)
{
    if (t_ns > player->sim.now_ns)
        dia_sim_advance_us(&player->sim, (t_ns - player->sim.now_ns) / 1000u);
    dia_bench_settle(player->bench, player->sim.now_ns);
}

uint64_t dia_player_now_ns(const struct dia_player *player)
{
    return player->sim.now_ns;
}

enum dia_status dia_player_show_content(struct dia_player *player,
                                        const struct dia_content *content, uint32_t slot,
                                        uint64_t *frame_ns)
{
    const struct dia_rig *rig = player->rig;
    enum dia_status status = play_lanes_wait(player);
    if (status != DIA_OK)
        return status;
    play_devices_draw(player, content);
    for (uint32_t i = 0; i < rig->supply_count; i++) {
        uint64_t kept = rig->supplies[i].reserve_ua + play_devices_ask_ua(player, i);
        dia_budget_init(&player->budgets[i], rig->supplies[i].current_ua,
                        kept > UINT32_MAX ? UINT32_MAX : (uint32_t)kept);
    }
    play_lanes_draw(player, content, slot);
    uint64_t start_ns = player->sim.now_ns;
    status = play_devices_start(player);
    if (status == DIA_OK)
        status = play_lanes_send(player);
    while (play_devices_poll(player))
        dia_sim_advance_us(&player->sim, 1);
    if (frame_ns)
        *frame_ns = player->sim.now_ns - start_ns;
    play_devices_look(player);
    dia_bench_settle(player->bench, player->sim.now_ns);
    return status;
}

const struct dia_shown *dia_player_shown(const struct dia_player *player, uint32_t lane)
{
    return dia_bench_shown(player->bench, player->lanes[lane].chain);
}

/* Wires that are too thin or long: blue and green need some 4 V, and go first below that. */
#define FADES_FROM_MV 4000
#define GONE_AT_MV    3500

struct dia_rgb dia_player_seen(const struct dia_player *player, uint32_t lane, uint32_t pixel)
{
    const struct dia_shown *shown = dia_player_shown(player, lane);
    struct dia_rgb seen = dia_seen((const uint8_t(*)[4])shown->drive + pixel, 1, shown->scale);
    uint32_t supply = player->rig->lanes[lane].supply;
    int64_t drop_mv =
        (int64_t)(dia_player_gives_ua(player, supply) * player->desk->sag_mohm[supply] / 1000000);
    int64_t left = player->rig->supplies[supply].voltage_mv - drop_mv;
    if (drop_mv == 0 || left >= FADES_FROM_MV)
        return seen;
    left = left < GONE_AT_MV ? 0 : left - GONE_AT_MV;
    seen.g = (uint8_t)(seen.g * (left + FADES_FROM_MV - GONE_AT_MV) /
                       (2 * (FADES_FROM_MV - GONE_AT_MV)));
    seen.b = (uint8_t)(seen.b * left / (FADES_FROM_MV - GONE_AT_MV));
    return seen;
}

uint64_t dia_player_lane_ns(const struct dia_player *player, uint32_t lane)
{
    return dia_player_shown(player, lane)->latched_ns - player->lanes[lane].started_ns;
}

uint32_t dia_player_asked_ua(const struct dia_player *player, uint32_t supply)
{
    return dia_budget_asked_ua(&player->budgets[supply]) +
           (uint32_t)play_devices_ask_ua(player, supply);
}

dia_share dia_player_share(const struct dia_player *player, uint32_t supply)
{
    return dia_budget_share(&player->budgets[supply]);
}

uint64_t dia_player_gives_ua(const struct dia_player *player, uint32_t supply)
{
    return dia_bench_gives_ua(player->bench, player->supplies[supply]);
}

const struct dia_findings *dia_player_findings(const struct dia_player *player)
{
    return dia_bench_findings(player->bench);
}

uint64_t dia_frame_us(uint32_t from_ms, uint32_t rate_mhz, uint32_t k)
{
    return (uint64_t)from_ms * 1000u + (uint64_t)k * 1000000000u / rate_mhz;
}

/* rounded, so that a time a little before or after the ideal one has the same slot */
uint32_t dia_frame_slot(uint64_t time_us, uint32_t rate_mhz)
{
    return (uint32_t)((time_us * rate_mhz + 500000000u) / 1000000000u);
}
