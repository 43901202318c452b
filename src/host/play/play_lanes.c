/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "player_private.h"

/* Order of the bytes as the bench wants it: with an L for a level, which comes first. */
static void order_on_bench(const struct dia_rig_lane *lane, char order[6])
{
    const char *level = lane->part.channels == &dia_channels_level ? "L" : "";
    snprintf(order, 6, "%s%.4s", level, lane->order);
}

static enum dia_status connect_line(struct dia_player *player, uint32_t i)
{
    const struct dia_rig_lane *from = &player->rig->lanes[i];
    struct play_lane *lane = &player->lanes[i];
    struct dia_port *port = &player->sim.port;
    if (from->group)
        return DIA_OK; /* connected with the others of its group */
    if (from->part.family == DIA_ONEWIRE)
        return dia_onewire_init(&lane->line.onewire, port, (uint8_t)from->pin, &from->part);
    enum dia_status status =
        dia_sim_spi_pins(&player->sim, from->bus, (uint8_t)from->clock_pin, (uint8_t)from->pin);
    return status == DIA_OK
               ? dia_clocked_init(&lane->line.clocked, port, from->bus, &from->part, from->clock_hz)
               : status;
}

/* The chain as it lies on the desk, which may be another one than the rig says. */
static int on_bench(struct dia_player *player, uint32_t i)
{
    const struct dia_rig_lane *there = &player->desk->rig.lanes[i];
    const struct dia_desk_lane *desk = &player->desk->lanes[i];
    struct dia_chain_fault fault = desk->chain;
    char order[6];
    order_on_bench(there, order);
    struct dia_chain_setup setup = {
        .name = there->name,
        .part = there->part.name,
        .order = order,
        .pin = (uint8_t)there->pin,
        .clock_pin = (uint8_t)there->clock_pin,
        .count = there->count,
        .supply = player->supplies[there->supply],
        .channel_ua = there->channel_ua,
        .idle_ua = there->idle_ua,
    };
    int chain = dia_bench_chain(player->bench, &setup);
    if (player->rig->lanes[i].shifter_mv)
        fault.wrong_ppm = 0; /* a level shifter makes the high what it must be */
    fault.seed = player->desk->seed + i;
    dia_bench_chain_fault(player->bench, chain, &fault);
    dia_bench_noise(player->bench, (uint8_t)there->pin, desk->noise_ppm, player->desk->seed + i);
    if (there->part.family == DIA_CLOCKED)
        dia_bench_noise(player->bench, (uint8_t)there->clock_pin, desk->noise_ppm,
                        player->desk->seed + i);
    return chain;
}

static int connect(struct dia_player *player, uint32_t i)
{
    const struct dia_rig_lane *from = &player->rig->lanes[i];
    struct play_lane *lane = &player->lanes[i];
    lane->pixels = calloc(from->count, sizeof *lane->pixels);
    lane->bytes = calloc(from->count, from->part.channels->count);
    lane->chain = on_bench(player, i);
    if (!lane->pixels || !lane->bytes || lane->chain < 0)
        return -1;
    dia_develop_init(&lane->develop, from->part.channels);
    memcpy(lane->develop.white, from->white, sizeof from->white);
    lane->develop.master = player->rig->master;
    if (from->gamma && dia_curve_gamma(lane->curve, from->gamma) == DIA_OK)
        lane->develop.curve = lane->curve;
    return connect_line(player, i) == DIA_OK ? 0 : -1;
}

static int connect_group(struct dia_player *player, uint32_t k)
{
    const struct dia_rig *rig = player->rig;
    struct play_group *group = &player->groups[k];
    const struct dia_rig_lane *any = NULL;
    uint32_t first = DIA_SIM_PINS, longest = 0;
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        const struct dia_rig_lane *lane = &rig->lanes[i];
        if (lane->group != k + 1)
            continue;
        uint32_t bytes = lane->count * lane->part.channels->count;
        first = lane->pin < first ? lane->pin : first;
        longest = bytes > longest ? bytes : longest;
        any = lane;
        group->width++;
    }
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        if (rig->lanes[i].group == k + 1)
            group->lane_of[rig->lanes[i].pin - first] = (uint8_t)i;
    }
    group->planes = calloc(DIA_PLANES_BYTES(group->width, longest), 1);
    if (!group->planes || dia_parallel_init(&group->line, &player->sim.port, (uint8_t)first,
                                            group->width, &any->part) != DIA_OK)
        return -1;
    return 0;
}

int play_lanes_connect(struct dia_player *player)
{
    for (uint32_t i = 0; i < player->rig->lane_count; i++) {
        if (connect(player, i) != 0)
            return -1;
    }
    for (uint32_t k = 0; k < player->rig->group_count; k++) {
        if (connect_group(player, k) != 0)
            return -1;
    }
    return 0;
}

void play_lanes_free(struct dia_player *player)
{
    for (uint32_t i = 0; i < DIA_RIG_LANES; i++) {
        free(player->lanes[i].pixels);
        free(player->lanes[i].bytes);
    }
    for (uint32_t k = 0; k < DIA_RIG_GROUPS; k++)
        free(player->groups[k].planes);
}

void play_lanes_draw(struct dia_player *player, const struct dia_content *content, uint32_t slot)
{
    const struct dia_rig *rig = player->rig;
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        const struct dia_rig_lane *from = &rig->lanes[i];
        struct play_lane *lane = &player->lanes[i];
        content->pixels(content->self, i, from->count, lane->pixels);
        dia_develop_begin(&lane->develop, slot);
        dia_budget_add(&player->budgets[from->supply], &lane->develop, &from->part.power,
                       lane->pixels, (uint16_t)from->count);
    }
}

/* What a frame of drive bytes draws, idle apart; for comparing frames of one lane. */
static uint64_t draw_of(const struct dia_rig_lane *lane, const uint8_t *bytes)
{
    const struct dia_channels *channels = lane->part.channels;
    uint64_t sum = 0;
    for (uint32_t i = 0; i < lane->count; i++, bytes += channels->count) {
        uint64_t most = 0, all = 0;
        for (uint8_t c = 0; c < (channels == &dia_channels_level ? 3 : channels->count); c++) {
            most = bytes[c] > most ? bytes[c] : most;
            all += (uint64_t)bytes[c] * lane->part.power.channel_ua[c];
        }
        if (channels->powers == 1)
            all = most * lane->part.power.channel_ua[0];
        sum += channels == &dia_channels_level ? all * bytes[3] : all;
    }
    return sum;
}

static void arrange(const struct dia_rig_lane *lane, uint8_t *bytes)
{
    if (lane->part.family == DIA_CLOCKED)
        dia_clocked_arrange(&lane->part, lane->part.order, bytes, lane->count);
    else
        dia_onewire_arrange(bytes, lane->count, lane->part.channels->count, lane->part.order);
}

static enum dia_status start(const struct dia_rig_lane *from, struct play_lane *lane)
{
    if (from->part.family == DIA_CLOCKED)
        return dia_clocked_start(&lane->line.clocked, lane->bytes, from->count);
    return dia_onewire_start(&lane->line.onewire, lane->bytes,
                             from->count * from->part.channels->count);
}

static enum dia_status poll(const struct dia_rig_lane *from, struct play_lane *lane)
{
    return from->part.family == DIA_CLOCKED ? dia_clocked_poll(&lane->line.clocked)
                                            : dia_onewire_poll(&lane->line.onewire);
}

static void develop(struct dia_player *player, uint64_t draws[DIA_RIG_LANES])
{
    for (uint32_t i = 0; i < player->rig->lane_count; i++) {
        const struct dia_rig_lane *from = &player->rig->lanes[i];
        struct play_lane *lane = &player->lanes[i];
        struct dia_carry carry;
        dia_develop_limit(&lane->develop, dia_budget_share(&player->budgets[from->supply]));
        dia_carry_begin(&carry, &lane->develop);
        dia_develop_run(&lane->develop, &carry, lane->pixels, (uint16_t)from->count, lane->bytes);
        draws[i] = draw_of(from, lane->bytes);
        arrange(from, lane->bytes);
    }
}

/* A lane that is broken off does not keep the others. */
static int still_busy(enum dia_status status, enum dia_status *worst)
{
    if (status == DIA_PORT_FAILED)
        *worst = status;
    return status == DIA_BUSY;
}

/* All are asked in turn, since a lane's latch gap counts from when its end was noticed. */
enum dia_status play_lanes_wait(struct dia_player *player)
{
    enum dia_status worst = DIA_OK;
    for (int busy = 1; busy;) {
        busy = 0;
        for (uint32_t i = 0; i < player->rig->lane_count; i++) {
            const struct dia_rig_lane *from = &player->rig->lanes[i];
            if (!from->group)
                busy |= still_busy(poll(from, &player->lanes[i]), &worst);
        }
        for (uint32_t k = 0; k < player->rig->group_count; k++)
            busy |= still_busy(dia_parallel_poll(&player->groups[k].line), &worst);
        if (busy)
            play_devices_poll(player); /* they go on meanwhile */
    }
    return worst;
}

/* The lanes of a group that go now; the others rest, and show what they showed. */
static enum dia_status start_group(struct dia_player *player, struct play_group *group,
                                   const uint8_t *goes, int *started)
{
    const uint8_t *bytes[DIA_PARALLEL_MOST];
    uint32_t lengths[DIA_PARALLEL_MOST], any = 0;
    for (uint8_t k = 0; k < group->width; k++) {
        uint8_t i = group->lane_of[k];
        const struct dia_rig_lane *from = &player->rig->lanes[i];
        bytes[k] = player->lanes[i].bytes;
        lengths[k] = goes[i] ? from->count * from->part.channels->count : 0;
        any |= lengths[k];
    }
    if (any == 0)
        return DIA_OK;
    enum dia_status status = DIA_BUSY;
    dia_planes_make(group->planes, group->width, bytes, lengths);
    while (status == DIA_BUSY) { /* a controller sends one group after the other */
        for (uint8_t k = 0; k < group->width; k++)
            player->lanes[group->lane_of[k]].started_ns = player->sim.now_ns;
        status = dia_parallel_start(&group->line, group->planes, lengths);
    }
    *started = 1;
    return status;
}

static enum dia_status start_some(struct dia_player *player, const uint8_t *goes, int *started)
{
    const struct dia_rig *rig = player->rig;
    enum dia_status status = DIA_OK;
    for (uint32_t i = 0; i < rig->lane_count && status == DIA_OK; i++) {
        if (!goes[i] || rig->lanes[i].group)
            continue;
        player->lanes[i].started_ns = player->sim.now_ns;
        status = start(&rig->lanes[i], &player->lanes[i]);
        *started = 1;
    }
    for (uint32_t k = 0; k < rig->group_count && status == DIA_OK; k++)
        status = start_group(player, &player->groups[k], goes, started);
    return status;
}

/*
 * Lanes latch at moments of their own, so for a while a supply feeds old frames and new ones. Both
 * together stay inside its budget when the lanes that get darker go first, and those that get
 * brighter begin when the others have latched. Where only one of the two happens, all go at once.
 * So it is inside a group too: it is sent twice then, some of its lanes resting each time.
 */
static enum dia_status send(struct dia_player *player, const uint64_t draws[DIA_RIG_LANES])
{
    const struct dia_rig *rig = player->rig;
    uint8_t darker[DIA_RIG_SUPPLIES] = {0};
    for (uint32_t i = 0; i < rig->lane_count; i++)
        darker[rig->lanes[i].supply] |= draws[i] < player->lanes[i].draws;
    enum dia_status status = DIA_OK;
    for (int second = 0; second < 2 && status == DIA_OK; second++) {
        uint8_t goes[DIA_RIG_LANES];
        int started = 0;
        for (uint32_t i = 0; i < rig->lane_count; i++)
            goes[i] = (draws[i] > player->lanes[i].draws && darker[rig->lanes[i].supply]) == second;
        status = start_some(player, goes, &started);
        if (started && status == DIA_OK)
            status = play_lanes_wait(player);
        dia_bench_settle(player->bench, player->sim.now_ns);
    }
    for (uint32_t i = 0; i < rig->lane_count; i++)
        player->lanes[i].draws = draws[i];
    return status;
}

enum dia_status play_lanes_send(struct dia_player *player)
{
    uint64_t draws[DIA_RIG_LANES];
    develop(player, draws);
    return send(player, draws);
}
