/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/player.h>

#include "host_private.h"

struct lane {
    struct dia_develop develop;
    union {
        struct dia_onewire onewire;
        struct dia_clocked clocked;
    } line; /* by the family of the part */
    struct dia_rgb *pixels;
    uint8_t *bytes;
    int chain;
    uint64_t started_ns;
    uint64_t draws; /* of its last frame, for comparing; see draw_of */
};

struct dia_player {
    const struct dia_rig *rig;
    struct dia_sim sim;
    struct dia_bench *bench;
    int supplies[DIA_RIG_SUPPLIES]; /* numbers on the bench */
    struct dia_budget budgets[DIA_RIG_SUPPLIES];
    struct lane lanes[DIA_RIG_LANES];
};

/* Order of the bytes as the bench wants it: with an L for a level, which comes first. */
static void order_on_bench(const struct dia_rig_lane *lane, char order[6])
{
    const char *level = lane->part.channels == &dia_channels_level ? "L" : "";
    snprintf(order, 6, "%s%.4s", level, lane->order);
}

static enum dia_status connect_line(struct dia_player *player, uint32_t i)
{
    const struct dia_rig_lane *from = &player->rig->lanes[i];
    struct lane *lane = &player->lanes[i];
    struct dia_port *port = &player->sim.port;
    if (from->part.family == DIA_ONEWIRE)
        return dia_onewire_init(&lane->line.onewire, port, (uint8_t)from->pin, &from->part);
    enum dia_status status =
        dia_sim_spi_pins(&player->sim, from->bus, (uint8_t)from->clock_pin, (uint8_t)from->pin);
    return status == DIA_OK
               ? dia_clocked_init(&lane->line.clocked, port, from->bus, &from->part, from->clock_hz)
               : status;
}

static int connect(struct dia_player *player, uint32_t i)
{
    const struct dia_rig_lane *from = &player->rig->lanes[i];
    struct lane *lane = &player->lanes[i];
    char order[6];
    order_on_bench(from, order);
    struct dia_chain_setup setup = {
        .name = from->name,
        .part = from->part.name,
        .order = order,
        .pin = (uint8_t)from->pin,
        .clock_pin = (uint8_t)from->clock_pin,
        .count = from->count,
        .supply = player->supplies[from->supply],
        .channel_ua = from->channel_ua,
        .idle_ua = from->idle_ua,
    };
    lane->pixels = calloc(from->count, sizeof *lane->pixels);
    lane->bytes = calloc(from->count, from->part.channels->count);
    lane->chain = dia_bench_chain(player->bench, &setup);
    if (!lane->pixels || !lane->bytes || lane->chain < 0)
        return -1;
    dia_develop_init(&lane->develop, from->part.channels);
    memcpy(lane->develop.white, from->white, sizeof from->white);
    lane->develop.master = player->rig->master;
    return connect_line(player, i) == DIA_OK ? 0 : -1;
}

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
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        if (connect(player, i) != 0)
            return -1;
    }
    return 0;
}

struct dia_player *dia_player_new(const struct dia_rig *rig, struct dia_diagnostic *wrong)
{
    struct dia_player *player = calloc(1, sizeof *player);
    if (player) {
        player->rig = rig;
        if (build(player) == 0)
            return player;
    }
    dia_player_free(player);
    errno = ENOMEM;
    host_failed(wrong, rig->name, "the bench cannot be built");
    return NULL;
}

void dia_player_free(struct dia_player *player)
{
    if (!player)
        return;
    for (uint32_t i = 0; i < DIA_RIG_LANES; i++) {
        free(player->lanes[i].pixels);
        free(player->lanes[i].bytes);
    }
    dia_bench_free(player->bench);
    free(player);
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

static void draw(struct dia_player *player, const struct dia_look *look, const void *values,
                 uint32_t ms, uint32_t slot)
{
    const struct dia_rig *rig = player->rig;
    for (uint32_t i = 0; i < rig->supply_count; i++)
        dia_budget_init(&player->budgets[i], rig->supplies[i].current_ua,
                        rig->supplies[i].reserve_ua);
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        const struct dia_rig_lane *from = &rig->lanes[i];
        struct lane *lane = &player->lanes[i];
        look->render(values, &from->surface, ms, 0, from->count, lane->pixels);
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

static enum dia_status start(const struct dia_rig_lane *from, struct lane *lane)
{
    if (from->part.family == DIA_CLOCKED)
        return dia_clocked_start(&lane->line.clocked, lane->bytes, from->count);
    return dia_onewire_start(&lane->line.onewire, lane->bytes,
                             from->count * from->part.channels->count);
}

static enum dia_status poll(const struct dia_rig_lane *from, struct lane *lane)
{
    return from->part.family == DIA_CLOCKED ? dia_clocked_poll(&lane->line.clocked)
                                            : dia_onewire_poll(&lane->line.onewire);
}

static void develop(struct dia_player *player, uint64_t draws[DIA_RIG_LANES])
{
    for (uint32_t i = 0; i < player->rig->lane_count; i++) {
        const struct dia_rig_lane *from = &player->rig->lanes[i];
        struct lane *lane = &player->lanes[i];
        struct dia_carry carry;
        dia_develop_limit(&lane->develop, dia_budget_share(&player->budgets[from->supply]));
        dia_carry_begin(&carry, &lane->develop);
        dia_develop_run(&lane->develop, &carry, lane->pixels, (uint16_t)from->count, lane->bytes);
        draws[i] = draw_of(from, lane->bytes);
        arrange(from, lane->bytes);
    }
}

/* Until every lane is at rest. All are asked in turn, since a lane's latch gap counts from when its
 * end was noticed; one that is broken off does not keep the others. */
static enum dia_status wait(struct dia_player *player)
{
    enum dia_status worst = DIA_OK;
    for (int busy = 1; busy;) {
        busy = 0;
        for (uint32_t i = 0; i < player->rig->lane_count; i++) {
            enum dia_status status = poll(&player->rig->lanes[i], &player->lanes[i]);
            busy |= status == DIA_BUSY;
            if (status == DIA_PORT_FAILED)
                worst = status;
        }
    }
    return worst;
}

/*
 * Lanes latch at moments of their own, so for a while a supply feeds old frames and new ones. Both
 * together stay inside its budget when the lanes that get darker go first, and those that get
 * brighter begin when the others have latched. Where only one of the two happens, all go at once.
 */
static enum dia_status send(struct dia_player *player, const uint64_t draws[DIA_RIG_LANES])
{
    const struct dia_rig *rig = player->rig;
    uint8_t darker[DIA_RIG_SUPPLIES] = {0};
    for (uint32_t i = 0; i < rig->lane_count; i++)
        darker[rig->lanes[i].supply] |= draws[i] < player->lanes[i].draws;
    enum dia_status status = DIA_OK;
    for (int second = 0; second < 2 && status == DIA_OK; second++) {
        int started = 0;
        for (uint32_t i = 0; i < rig->lane_count && status == DIA_OK; i++) {
            const struct dia_rig_lane *from = &rig->lanes[i];
            struct lane *lane = &player->lanes[i];
            int waits = draws[i] > lane->draws && darker[from->supply];
            if (waits != second)
                continue;
            lane->started_ns = player->sim.now_ns;
            status = start(from, lane);
            started = 1;
        }
        if (started && status == DIA_OK)
            status = wait(player);
        dia_bench_settle(player->bench, player->sim.now_ns);
    }
    for (uint32_t i = 0; i < rig->lane_count; i++)
        player->lanes[i].draws = draws[i];
    return status;
}

enum dia_status dia_player_show(struct dia_player *player, const struct dia_look *look,
                                const void *values, uint32_t ms, uint32_t slot, uint64_t *frame_ns)
{
    uint64_t draws[DIA_RIG_LANES];
    enum dia_status status = wait(player);
    if (status != DIA_OK)
        return status;
    draw(player, look, values, ms, slot);
    develop(player, draws);
    uint64_t start_ns = player->sim.now_ns;
    status = send(player, draws);
    if (frame_ns)
        *frame_ns = player->sim.now_ns - start_ns;
    return status;
}

const struct dia_shown *dia_player_shown(const struct dia_player *player, uint32_t lane)
{
    return dia_bench_shown(player->bench, player->lanes[lane].chain);
}

uint64_t dia_player_lane_ns(const struct dia_player *player, uint32_t lane)
{
    return dia_player_shown(player, lane)->latched_ns - player->lanes[lane].started_ns;
}

uint32_t dia_player_asked_ua(const struct dia_player *player, uint32_t supply)
{
    return dia_budget_asked_ua(&player->budgets[supply]);
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
