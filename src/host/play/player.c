/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/player.h>

#include "host_private.h"
#include "player_private.h"

static int build(struct dia_player *player)
{
    const struct dia_rig *rig = player->rig;
    player->bench = dia_bench_new();
    if (!player->bench)
        return -1;
    dia_sim_init(&player->sim, rig->controller.clock_hz);
    player->port = &player->sim.port;
    if (rig->controller.holds)
        dia_sim_hold(&player->sim);
    dia_sim_listen(&player->sim, dia_bench_take, player->bench);
    dia_sim_bursts(&player->sim, dia_bench_take_burst);
    for (uint32_t i = 0; i < rig->supply_count; i++) {
        const struct dia_rig_supply *supply = &rig->supplies[i];
        player->supplies[i] =
            dia_bench_supply(player->bench, supply->name, supply->current_ua, supply->reserve_ua);
        dia_bench_terminals(player->bench, player->supplies[i], supply->voltage_mv,
                            player->desk->sag_mohm[i] * 1e-3);
        player->set_supplies[i].given_ua = supply->current_ua - supply->reserve_ua;
    }
    if (dia_play_shapes(player) != 0 || dia_play_lanes_connect(player) != 0 ||
        dia_play_devices_connect(player) != 0)
        return -1;
    dia_play_buttons_connect(player);
    if (rig->device_count + rig->lane_count == 0)
        return 0; /* a node that has nothing but buttons */
    return dia_set_init(&player->set, player->set_supplies, (uint8_t)rig->supply_count,
                        player->members, (uint8_t)(rig->device_count + rig->lane_count)) == DIA_OK
               ? 0
               : -1;
}

void dia_play_no_memory(const struct dia_rig *rig, struct dia_diagnostic *wrong)
{
    errno = ENOMEM;
    dia_host_failed(wrong, rig->name, "the bench cannot be built");
}

static struct dia_player *of_nodes(const struct dia_rig *rig, const struct dia_desk *desk,
                                   struct dia_diagnostic *wrong)
{
    struct dia_player *player = calloc(1, sizeof *player);
    if (!player) {
        dia_play_no_memory(rig, wrong);
        return NULL;
    }
    player->nodes = dia_play_nodes_new(rig, wrong);
    if (!player->nodes) {
        free(player);
        return NULL;
    }
    player->rig = rig;
    player->desk = desk;
    player->master = rig->master;
    return player;
}

struct dia_player *dia_player_on(const struct dia_rig *rig, const struct dia_desk *desk,
                                 struct dia_diagnostic *wrong)
{
    if (dia_play_has_nodes(rig)) {
        dia_host_wrong(wrong, "%s: the rig is driven by nodes; take one at a time", rig->path);
        return NULL;
    }
    struct dia_player *player = calloc(1, sizeof *player);
    if (player) {
        player->rig = rig;
        player->master = rig->master;
        player->desk = desk;
        if (build(player) == 0)
            return player;
    }
    dia_player_free(player);
    dia_play_no_memory(rig, wrong);
    return NULL;
}

struct dia_player *dia_player_new(const struct dia_rig *rig, struct dia_diagnostic *wrong)
{
    struct dia_desk *desk = calloc(1, sizeof *desk);
    if (!desk) {
        dia_play_no_memory(rig, wrong);
        return NULL;
    }
    dia_desk_init(desk, rig);
    for (uint32_t i = 0; i < rig->fault_count; i++)
        dia_desk_fault(desk, rig->faults[i], wrong); /* they were right when the file was read */
    struct dia_player *player =
        dia_play_has_nodes(rig) ? of_nodes(rig, desk, wrong) : dia_player_on(rig, desk, wrong);
    if (player)
        player->own = desk;
    else
        free(desk);
    return player;
}

void dia_player_master(struct dia_player *player, dia_share master)
{
    player->master = master;
    for (uint32_t k = 0; player->nodes && k < player->nodes->count; k++)
        dia_player_master(player->nodes->players[k], master);
    for (uint32_t i = 0; i < player->set.member_count; i++)
        dia_driver_master(player->members[i].driver, master);
}

void dia_player_drives(struct dia_player *player, struct dia_outlet *outlet)
{
    player->outlet = outlet;
}

void dia_player_refresh(struct dia_player *player)
{
    for (uint32_t k = 0; player->nodes && k < player->nodes->count; k++)
        dia_player_refresh(player->nodes->players[k]);
    if (player->nodes)
        return;
    if (player->outlet)
        dia_outlet_refresh(player->outlet);
    for (uint32_t i = 0; i < player->rig->device_count; i++)
        dia_driver_refresh(player->devices[i].driver);
}

struct dia_bench *dia_player_bench(struct dia_player *player)
{
    return player->bench;
}

const struct dia_rig *dia_player_desk(const struct dia_player *player)
{
    return &player->desk->rig;
}

void dia_player_free(struct dia_player *player)
{
    if (!player)
        return;
    dia_play_nodes_free(player->nodes);
    dia_play_kept_free(player);
    dia_play_lanes_free(player);
    dia_play_devices_free(player);
    free(player->shapes);
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
    for (uint32_t k = 0; player->nodes && k < player->nodes->count; k++)
        dia_player_rest_until(player->nodes->players[k], t_ns);
    if (player->nodes)
        return;
    if (t_ns > player->sim.now_ns)
        dia_sim_advance_us(&player->sim, (t_ns - player->sim.now_ns) / 1000u);
    dia_bench_settle(player->bench, player->sim.now_ns);
}

uint64_t dia_player_now_ns(const struct dia_player *player)
{
    if (player->nodes)
        return dia_play_nodes_now_ns(player->nodes);
    return player->sim.now_ns;
}

static struct play_time *time_of(struct dia_player *player, uint32_t member)
{
    uint32_t devices = player->rig->device_count;
    return member < devices ? &player->devices[member].time : &player->lanes[member - devices].time;
}

/* A set holds some back for others, and a controller sends one group after the other. */
static int waits(const struct dia_player *player, uint32_t member)
{
    const struct dia_rig *rig = player->rig;
    if (player->members[member].driver->hold)
        return 1;
    if (member < rig->device_count)
        return 0;
    const struct dia_rig_lane *lane = &rig->lanes[member - rig->device_count];
    if (!lane->group)
        return 0;
    const struct play_group *in = &player->groups[lane->group - 1];
    return dia_group_is_waiting(&in->group, (uint8_t)(lane->pin - in->first_pin));
}

static void begin(struct dia_player *player, uint64_t now_ns)
{
    for (uint32_t i = 0; i < player->set.member_count; i++)
        *time_of(player, i) =
            (struct play_time){now_ns, now_ns, 1, player->members[i].driver->hold};
}

/* 1: some are still on their way, displays apart: frames do not wait for those, they are up to
 * date when they are looked at. */
static int note(struct dia_player *player)
{
    int any = 0;
    for (uint32_t i = 0; i < player->set.member_count; i++) {
        struct play_time *time = time_of(player, i);
        if (i < player->rig->device_count && player->members[i].status != DIA_OK &&
            player->members[i].status != DIA_BUSY)
            player->devices[i].refused = 1;
        if (!time->on_its_way)
            continue;
        if (time->waits)
            time->began_ns = player->sim.now_ns;
        time->waits = (uint8_t)waits(player, i);
        time->on_its_way = player->members[i].status == DIA_BUSY;
        if (!time->on_its_way)
            time->shown_ns = player->sim.now_ns;
        any |= time->on_its_way && !(i < player->rig->device_count && player->devices[i].is_cells);
    }
    return any;
}

/* Until all show. A device that does not answer does not keep the others, nor is it the port that
 * failed. */
static enum dia_status wait(struct dia_player *player, uint64_t *shown_ns)
{
    enum dia_status status = DIA_BUSY;
    int frames = 1;
    while (status != DIA_OK) {
        uint32_t again_us;
        status = dia_set_poll(&player->set, &again_us);
        if (frames)
            *shown_ns = player->sim.now_ns;
        frames = note(player);
        uint64_t tick_us = dia_play_next_tick_us(&player->sim);
        if (status == DIA_BUSY)
            dia_sim_advance_us(&player->sim, again_us < tick_us ? again_us : tick_us);
    }
    return dia_play_lanes_status(player);
}

void dia_player_complain(struct dia_player *player, const char *place, const char *code,
                         enum dia_finding_level level, const char *text)
{
    struct dia_finding finding = {.level = level, .place = ""};
    snprintf(finding.place, sizeof finding.place, "%s", place);
    snprintf(finding.code, sizeof finding.code, "%s", code);
    snprintf(finding.text, sizeof finding.text, "%s", text);
    finding.t_ns = player->sim.now_ns;
    dia_bench_complain(player->bench, &finding);
}

/* What interrupts have no time for does not happen: lamps flicker, or stay as they were. */
static void complain_of_ticks(struct dia_player *player)
{
    if (player->sim.missed != player->missed)
        dia_player_complain(
            player, "controller", "ticks-missed", DIA_ERROR,
            "some ticks are left out, as all of them take more time than there is: lower "
            "'refresh' or 'depth', or 'clock' for SPI instead of pins");
    player->missed = player->sim.missed;
}

enum dia_status dia_player_show_content(struct dia_player *player,
                                        const struct dia_content *content, uint32_t slot,
                                        uint64_t *frame_ns)
{
    if (player->nodes)
        return dia_play_nodes_content(player->nodes, content, slot, frame_ns);
    dia_play_devices_draw(player, content);
    dia_play_lanes_draw(player, content, slot);
    dia_play_keep_from_flashing(player);
    if (player->outlet)
        dia_outlet_take(player->outlet, player);
    /* an error that a tick met since the last frame is told once; it may not keep this one */
    while (dia_set_poll(&player->set, NULL) != DIA_OK)
        note(player);
    uint64_t start_ns = player->sim.now_ns, shown_ns = start_ns;
    dia_set_show(&player->set); /* all are at rest; each member's status says how it went */
    begin(player, start_ns);
    enum dia_status status = wait(player, &shown_ns);
    if (frame_ns)
        *frame_ns = shown_ns - start_ns;
    dia_play_devices_look(player);
    dia_bench_settle(player->bench, player->sim.now_ns);
    complain_of_ticks(player);
    return status;
}

const struct dia_shown *dia_player_shown(const struct dia_player *player, uint32_t lane)
{
    player = dia_play_of_lane(player, &lane);
    return dia_bench_shown(player->bench, player->lanes[lane].chain);
}

struct dia_rgb dia_player_seen(const struct dia_player *player, uint32_t lane, uint32_t pixel)
{
    player = dia_play_of_lane(player, &lane);
    const struct dia_shown *shown = dia_player_shown(player, lane);
    return dia_seen((const uint8_t(*)[4])shown->lit + pixel, 1, shown->scale);
}

const struct dia_fed *dia_player_fed(const struct dia_player *player, uint32_t lane)
{
    player = dia_play_of_lane(player, &lane);
    return dia_bench_fed(player->bench, player->lanes[lane].chain);
}

void dia_player_restart_pixels(struct dia_player *player)
{
    for (uint32_t k = 0; player->nodes && k < player->nodes->count; k++)
        dia_player_restart_pixels(player->nodes->players[k]);
    if (player->nodes)
        return;
    dia_bench_restart_pixels(player->bench, player->sim.now_ns);
}

uint64_t dia_player_lane_ns(const struct dia_player *player, uint32_t lane)
{
    player = dia_play_of_lane(player, &lane);
    const struct play_time *time = &player->lanes[lane].time;
    return time->shown_ns - time->began_ns;
}

static uint64_t sum_ua(const struct dia_player *player, uint32_t supply, enum play_sum what)
{
    return dia_play_nodes_sum_ua(player->nodes, player->rig->supplies[supply].name, what);
}

uint32_t dia_player_alike(const struct dia_player *player, uint32_t supply)
{
    return player->nodes ? dia_play_nodes_with(player->nodes, player->rig->supplies[supply].name)
                         : 1;
}

uint32_t dia_player_asked_ua(const struct dia_player *player, uint32_t supply)
{
    if (player->nodes)
        return (uint32_t)sum_ua(player, supply, PLAY_ASKED);
    return dia_set_asked_ua(&player->set, (uint8_t)supply);
}

dia_share dia_player_share(const struct dia_player *player, uint32_t supply)
{
    if (player->nodes)
        return dia_play_nodes_share(player->nodes, player->rig->supplies[supply].name);
    return dia_set_share(&player->set, (uint8_t)supply);
}

uint64_t dia_player_gives_ua(const struct dia_player *player, uint32_t supply)
{
    if (player->nodes)
        return sum_ua(player, supply, PLAY_GIVES);
    return dia_bench_gives_ua(player->bench, player->supplies[supply]);
}

uint64_t dia_player_most_ua(const struct dia_player *player, uint32_t supply)
{
    if (player->nodes)
        return sum_ua(player, supply, PLAY_MOST);
    return dia_bench_most_ua(player->bench, player->supplies[supply]);
}

const struct dia_findings *dia_player_findings(const struct dia_player *player)
{
    if (player->nodes)
        return dia_play_nodes_findings(player->nodes);
    return dia_bench_findings(player->bench);
}

uint32_t dia_rate_at_most(uint64_t frame_ns)
{
    uint64_t rate = frame_ns ? 1000000000000u / frame_ns : 0, digit = 1;
    while (rate / digit >= 1000)
        digit *= 10;
    rate = rate / digit * digit;
    return rate > UINT32_MAX ? UINT32_MAX : (uint32_t)rate;
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
