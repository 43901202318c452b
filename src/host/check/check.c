/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/check.h>

#include "check_devices.h"
#include "contexts.h"
#include "check_limits.h"
#include "host_private.h"

/* Frames of each look, spread over a minute; fewer where there are many pixels. No round step, so
 * that periods of a look are met at all phases. */
#define MOMENTS      36
#define MOMENT_MS    1693u
#define PIXEL_FRAMES 3000000u

static void measure_wires(struct dia_check *check, const struct dia_rig *rig,
                          const struct dia_player *player, uint64_t frame_ns)
{
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        uint64_t ns = dia_player_lane_ns(player, i);
        if (ns > check->lanes[i].frame_ns)
            check->lanes[i].frame_ns = ns;
    }
    for (uint32_t i = 0; i < rig->device_count; i++) {
        uint64_t ns = dia_player_device_ns(player, i);
        if (ns > check->devices[i].frame_ns)
            check->devices[i].frame_ns = ns;
        check->devices[i].refused |= dia_player_refused(player, i);
    }
    if (frame_ns == 0)
        return; /* nothing but displays, which are written when their time comes */
    uint32_t rate = dia_rate_at_most(frame_ns);
    if (check->rate_mhz == 0 || rate < check->rate_mhz)
        check->rate_mhz = rate;
}

static void measure_currents(struct dia_check *check, const struct dia_rig *rig,
                             const struct dia_player *player, uint32_t look)
{
    for (uint32_t i = 0; i < rig->supply_count; i++) {
        struct dia_check_current *current = &check->currents[i][look];
        uint64_t asked = (uint64_t)dia_player_asked_ua(player, i) + rig->supplies[i].reserve_ua;
        uint64_t drawn = dia_player_gives_ua(player, i), most = dia_player_most_ua(player, i);
        dia_share share = dia_player_share(player, i);
        current->asked_ua = asked > current->asked_ua ? asked : current->asked_ua;
        /* where it gave too much that is told, with this number */
        if (most > rig->supplies[i].current_ua && most > check->overdrawn_ua[i])
            check->overdrawn_ua[i] = current->drawn_ua = most;
        current->drawn_ua = drawn > current->drawn_ua ? drawn : current->drawn_ua;
        current->least_drawn_ua = drawn < current->least_drawn_ua ? drawn : current->least_drawn_ua;
        current->least_share = share < current->least_share ? share : current->least_share;
    }
}

/* What run_all is at. */
struct run {
    struct dia_check *check;
    const struct dia_rig *rig;
    struct dia_player *player;
    void (*progress)(uint32_t done, uint32_t all);
    uint32_t moments, done, all; /* moments of a look that moves; frames of all looks */
};

static uint32_t moments_of(const struct run *run, uint32_t number)
{
    return number == 0 || dia_looks[number - 1] == &dia_look_steady ? 2 : run->moments;
}

static enum dia_status run_look(struct run *run, uint32_t number)
{
    const struct dia_look *look = number == 0 ? &dia_look_steady : dia_looks[number - 1];
    union dia_look_values values;
    look->defaults(&values);
    if (number == 0)
        values.steady.colour = (struct dia_rgb){255, 255, 255};
    for (uint32_t i = 0; i < run->rig->supply_count; i++) {
        run->check->currents[i][number].look = number == 0 ? "full white" : look->name;
        run->check->currents[i][number].least_share = DIA_SHARE_ONE;
        run->check->currents[i][number].least_drawn_ua = UINT64_MAX;
    }
    dia_player_restart_pixels(run->player);
    /* from dark: what was there before would be set aside with what comes */
    struct dia_steady black = {{0, 0, 0}};
    enum dia_status status = dia_player_show(run->player, &dia_look_steady, &black, 0, 0, NULL);
    for (uint32_t k = 0; k < moments_of(run, number) && status == DIA_OK; k++) {
        uint64_t frame_ns;
        status = dia_player_show(run->player, look, &values, k * MOMENT_MS, k, &frame_ns);
        if (status != DIA_OK)
            return status;
        measure_wires(run->check, run->rig, run->player, frame_ns);
        measure_currents(run->check, run->rig, run->player, number);
        if (run->progress)
            run->progress(++run->done, run->all);
    }
    return status;
}

/* The bit planes, of as many bytes as the longest lane has. */
static uint32_t group_bytes(const struct dia_rig *rig, uint32_t number)
{
    uint32_t width = 0, longest = 0;
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        const struct dia_rig_lane *lane = &rig->lanes[i];
        uint32_t bytes = DIA_STRIP_BYTES(lane->part.channels->count, lane->count);
        if (lane->group != number + 1)
            continue;
        width++;
        longest = bytes > longest ? bytes : longest;
    }
    return DIA_PLANES_BYTES(width, longest) + CONTEXT_BYTES(rig, group);
}

static enum dia_status volts(struct dia_check *check, const struct dia_rig *rig,
                             const struct dia_player *player)
{
    struct dia_lane_network network;
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        const struct dia_fed *fed = dia_player_fed(player, i);
        if (rig->lanes[i].feed_count == 0 || !fed)
            continue;
        check->lanes[i].fed = *fed;
        check->lanes[i].fed.mv = NULL;
        dia_lane_network(&network, rig, &rig->lanes[i]);
        struct dia_lane_lit white = dia_lane_white(&rig->lanes[i]);
        enum dia_status status = dia_lane_volts(&network, &white, &check->lanes[i].white);
        if (status != DIA_OK)
            return status;
    }
    return DIA_OK;
}

static void sizes(struct dia_check *check, const struct dia_rig *rig)
{
    for (uint32_t k = 0; k < rig->group_count; k++) {
        check->group_ram[k] = group_bytes(rig, k);
        check->frame_ram += check->group_ram[k];
    }
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        struct dia_check_lane *lane = &check->lanes[i];
        const struct dia_pixel_part *part = &rig->lanes[i].part;
        uint32_t bytes = DIA_STRIP_BYTES(part->channels->count, rig->lanes[i].count);
        lane->bits =
            8u *
            (part->family == DIA_CLOCKED ? dia_clocked_bytes(part, rig->lanes[i].count) : bytes);
        if (part->family == DIA_CLOCKED)
            bytes = DIA_CLOCKED_BYTES(part->channels->count, rig->lanes[i].count);
        lane->ram_bytes = rig->lanes[i].count * 3u + bytes + CONTEXT_BYTES(rig, strip);
        if (part->family == DIA_ONEWIRE && !rig->lanes[i].group)
            check->inplace_ram +=
                lane->ram_bytes -
                DIA_INPLACE_STRIP_BYTES(part->channels->count, rig->lanes[i].count) -
                CONTEXT_BYTES(rig, inplace_strip);
        lane->rate_mhz = dia_rate_at_most(lane->frame_ns);
        check->frame_ram += lane->ram_bytes;
    }
    dia_check_devices(check, rig);
    check->stack_ram = DIA_CHECK_STACK_BYTES;
}

static enum dia_status run_all(struct run *run)
{
    uint32_t pixels = 0, looks = run->check->look_count;
    for (uint32_t i = 0; i < run->rig->lane_count; i++)
        pixels += run->rig->lanes[i].count;
    uint32_t afford = pixels ? PIXEL_FRAMES / pixels : MOMENTS;
    run->moments = afford > MOMENTS ? MOMENTS : afford < 4 ? 4 : afford;
    for (uint32_t n = 0; n < looks; n++)
        run->all += moments_of(run, n);
    for (uint32_t n = 0; n < looks; n++) {
        enum dia_status status = run_look(run, n);
        if (status != DIA_OK)
            return status;
    }
    return DIA_OK;
}

enum dia_status dia_check_run(struct dia_check *check, const struct dia_rig *rig,
                              void (*progress)(uint32_t, uint32_t), struct dia_diagnostic *wrong)
{
    memset(check, 0, sizeof *check);
    dia_findings_init(&check->findings);
    while (dia_looks[check->look_count] && check->look_count < DIA_CHECK_LOOKS - 1)
        check->look_count++;
    check->look_count++; /* and full white */
    struct dia_player *player = dia_player_new(rig, wrong);
    if (!player)
        return DIA_PORT_FAILED;
    struct run run = {.check = check, .rig = rig, .player = player, .progress = progress};
    enum dia_status status = run_all(&run);
    if (status == DIA_OK)
        status = dia_check_stretches(rig, player);
    if (status == DIA_OK)
        status = volts(check, rig, player);
    if (status == DIA_OK) {
        sizes(check, rig);
        status = dia_check_processor(check, rig, player);
    }
    if (status == DIA_OK) {
        dia_check_limits(check, rig, dia_player_findings(player));
    } else {
        dia_host_wrong(wrong, "%s: the bench: %s", rig->name, dia_status_text(status));
        status = DIA_PORT_FAILED;
    }
    dia_player_free(player);
    return status;
}

void dia_check_free(struct dia_check *check)
{
    dia_findings_free(&check->findings);
}
