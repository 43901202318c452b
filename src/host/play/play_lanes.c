/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/feeding.h>

#include "player_private.h"

/* Order of the bytes as the bench wants it: with an L for a level, which comes first. */
static void order_on_bench(const struct dia_rig_lane *lane, char order[6])
{
    const char *level = lane->part.channels == &dia_channels_level ? "L" : "";
    snprintf(order, 6, "%s%.4s", level, lane->order);
}

/* Its wires, where the rig says where they are. A strip that is shorter than that ends sooner. */
static void feeds_on_bench(const struct dia_player *player, const struct dia_rig_lane *there,
                           struct dia_chain_feed *feeds, struct dia_chain_power *power)
{
    struct dia_lane_network network;
    dia_lane_network(&network, &player->desk->rig, there);
    *power = (struct dia_chain_power){.rail_ohm = network.setup.supply_ohm,
                                      .feeds = feeds,
                                      .feed_count = there->feed_count,
                                      .signal_mv = dia_rig_lane_high_mv(player->rig, there)};
    for (uint32_t i = 0; i < there->feed_count; i++) {
        const struct dia_rig_feed *from = &there->feeds[i];
        feeds[i] = (struct dia_chain_feed){
            .element = from->element < there->count ? from->element : there->count - 1,
            .supply = from->supply == DIA_RIG_NO_SUPPLY ? 0 : player->supplies[from->supply],
            .supply_ohm = network.feeds[i].supply_ohm,
            .ground_ohm = network.feeds[i].ground_ohm,
            .fuse_ua = from->fuse_ua};
    }
}

/* The chain as it lies on the desk, which may be another one than the rig says. */
static int on_bench(struct dia_player *player, uint32_t i)
{
    const struct dia_rig_lane *there = &player->desk->rig.lanes[i];
    const struct dia_desk_lane *desk = &player->desk->lanes[i];
    struct dia_chain_fault fault = desk->chain;
    char order[6];
    struct dia_chain_feed feeds[DIA_RIG_FEEDS];
    struct dia_chain_power power;
    order_on_bench(there, order);
    feeds_on_bench(player, there, feeds, &power);
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
        .power = there->feed_count ? &power : NULL,
    };
    int chain = dia_bench_chain(player->bench, &setup);
    if (player->rig->lanes[i].shifter.mv)
        fault.wrong_ppm = 0; /* a level shifter makes the high what it must be */
    fault.seed = player->desk->seed + i;
    dia_bench_chain_fault(player->bench, chain, &fault);
    dia_bench_noise(player->bench, (uint8_t)there->pin, desk->noise_ppm, player->desk->seed + i);
    if (there->part.family == DIA_CLOCKED)
        dia_bench_noise(player->bench, (uint8_t)there->clock_pin, desk->noise_ppm,
                        player->desk->seed + i);
    return chain;
}

/* The driver of a lane, in its group where it has one. */
static enum dia_status connect_line(struct dia_player *player, uint32_t i)
{
    const struct dia_rig_lane *from = &player->rig->lanes[i];
    struct play_lane *lane = &player->lanes[i];
    struct dia_port *port = player->port;
    if (from->group) {
        struct play_group *in = &player->groups[from->group - 1];
        return dia_strip_init_lane(&lane->strip, &in->group, (uint8_t)(from->pin - in->first_pin),
                                   &from->part, lane->pixels, lane->memory, (uint16_t)from->count);
    }
    int is_onewire = from->part.family == DIA_ONEWIRE;
    enum dia_status status = is_onewire
                                 ? dia_play_pulses(player, from)
                                 : dia_play_spi(player, from->bus, from->spi,
                                                (uint8_t)from->clock_pin, (uint8_t)from->pin);
    if (status == DIA_OK && is_onewire)
        return dia_strip_init(&lane->strip, port, (uint8_t)from->pin, &from->part, lane->pixels,
                              lane->memory, (uint16_t)from->count);
    return status == DIA_OK
               ? dia_strip_init_clocked(&lane->strip, port, from->bus, &from->part, from->clock_hz,
                                        lane->pixels, lane->memory, (uint16_t)from->count)
               : status;
}

static int connect(struct dia_player *player, uint32_t i)
{
    const struct dia_rig_lane *from = &player->rig->lanes[i];
    struct play_lane *lane = &player->lanes[i];
    lane->pixels = calloc(from->count, sizeof *lane->pixels);
    lane->memory = calloc(DIA_CLOCKED_BYTES(from->part.channels->count, from->count), 1);
    player->connecting = from->name;
    lane->chain = player->bench ? on_bench(player, i) : 0;
    if (!lane->pixels || !lane->memory || lane->chain < 0 || connect_line(player, i) != DIA_OK)
        return -1;
    struct dia_develop *develop = &lane->strip.develop;
    memcpy(develop->white, from->white, sizeof from->white);
    if (from->gamma && dia_curve_gamma(lane->curve, from->gamma) == DIA_OK)
        develop->curve = lane->curve;
    develop->time_from = from->dithering == DIA_DITHERING_TIME   ? DIA_TIME_ALWAYS
                         : from->dithering == DIA_DITHERING_AUTO ? dia_rig_time_from(player->rig)
                                                                 : 0;
    if (from->dithering == DIA_DITHERING_NONE)
        dia_develop_whole(develop, lane->whole); /* the rig has none that cannot */
    dia_driver_master(&lane->strip.driver, player->master);
    player->members[player->rig->device_count + i] =
        (struct dia_set_member){.driver = &lane->strip.driver, .supply = (uint8_t)from->supply};
    return dia_driver_wait(&lane->strip.driver) == DIA_OK ? 0 : -1; /* the gap after init */
}

static int connect_group(struct dia_player *player, uint32_t k)
{
    struct play_group *group = &player->groups[k];
    const struct dia_rig_lane *any = NULL;
    uint32_t first = DIA_SIM_PINS, longest = 0;
    uint8_t width = 0;
    for (uint32_t i = 0; i < player->rig->lane_count; i++) {
        const struct dia_rig_lane *lane = &player->rig->lanes[i];
        if (lane->group != k + 1)
            continue;
        uint32_t bytes = DIA_STRIP_BYTES(lane->part.channels->count, lane->count);
        first = lane->pin < first ? lane->pin : first;
        longest = bytes > longest ? bytes : longest;
        any = lane;
        width++;
    }
    group->first_pin = (uint8_t)first;
    group->planes = calloc(DIA_PLANES_BYTES(width, longest), 1);
    return group->planes && dia_group_init(&group->group, player->port, group->first_pin, width,
                                           &any->part, group->planes, longest) == DIA_OK
               ? 0
               : -1;
}

int dia_play_lanes_connect(struct dia_player *player)
{
    for (uint32_t k = 0; k < player->rig->group_count; k++) {
        if (connect_group(player, k) != 0)
            return -1;
    }
    for (uint32_t i = 0; i < player->rig->lane_count; i++) {
        if (connect(player, i) != 0)
            return -1;
    }
    return 0;
}

void dia_play_lanes_free(struct dia_player *player)
{
    for (uint32_t i = 0; i < DIA_RIG_LANES; i++) {
        free(player->lanes[i].pixels);
        free(player->lanes[i].memory);
    }
    for (uint32_t k = 0; k < DIA_RIG_GROUPS; k++)
        free(player->groups[k].planes);
}

void dia_play_lanes_draw(struct dia_player *player, const struct dia_content *content,
                         uint32_t slot)
{
    for (uint32_t i = 0; i < player->rig->lane_count; i++) {
        content->pixels(content->self, i, player->rig->lanes[i].count, player->lanes[i].pixels);
        player->lanes[i].strip.slot = slot;
    }
}

enum dia_status dia_play_lanes_status(const struct dia_player *player)
{
    enum dia_status worst = DIA_OK;
    for (uint32_t i = 0; i < player->rig->lane_count; i++) {
        uint8_t status = player->members[player->rig->device_count + i].status;
        worst = status != DIA_OK ? (enum dia_status)status : worst;
    }
    return worst;
}
