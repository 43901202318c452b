/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/check.h>

#include "check_limits.h"
#include "host_private.h"

#define MOMENTS   60    /* of each look, spread over a minute */
#define MOMENT_MS 1009u /* no round number, so that periods of a look are met at all phases */

static void measure_lanes(struct dia_check *check, const struct dia_rig *rig,
                          const struct dia_player *player, uint64_t frame_ns)
{
    uint64_t start = dia_player_now_ns(player) - frame_ns;
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        uint64_t ns = dia_player_shown(player, i)->latched_ns - start;
        if (ns > check->lanes[i].frame_ns)
            check->lanes[i].frame_ns = ns;
    }
    uint32_t rate = (uint32_t)(1000000000000u / frame_ns);
    if (check->rate_mhz == 0 || rate < check->rate_mhz)
        check->rate_mhz = rate;
}

static void measure_currents(struct dia_check *check, const struct dia_rig *rig,
                             const struct dia_player *player, uint32_t look)
{
    for (uint32_t i = 0; i < rig->supply_count; i++) {
        struct dia_check_current *current = &check->currents[i][look];
        uint64_t asked = (uint64_t)dia_player_asked_ua(player, i) + rig->supplies[i].reserve_ua;
        uint64_t drawn = dia_player_gives_ua(player, i);
        dia_share share = dia_player_share(player, i);
        current->asked_ua = asked > current->asked_ua ? asked : current->asked_ua;
        current->drawn_ua = drawn > current->drawn_ua ? drawn : current->drawn_ua;
        current->least_share = share < current->least_share ? share : current->least_share;
    }
}

static enum dia_status run_look(struct dia_check *check, const struct dia_rig *rig,
                                struct dia_player *player, uint32_t number)
{
    const struct dia_look *look = number == 0 ? &dia_look_steady : dia_looks[number - 1];
    union dia_look_values values;
    look->defaults(&values);
    if (number == 0)
        values.steady.colour = (struct dia_rgb){255, 255, 255};
    for (uint32_t i = 0; i < rig->supply_count; i++) {
        check->currents[i][number].look = number == 0 ? "full white" : look->name;
        check->currents[i][number].least_share = DIA_SHARE_ONE;
    }
    uint32_t moments = look == &dia_look_steady ? 2 : MOMENTS;
    for (uint32_t k = 0; k < moments; k++) {
        uint64_t frame_ns;
        enum dia_status status =
            dia_player_show(player, look, &values, k * MOMENT_MS, k, &frame_ns);
        if (status != DIA_OK)
            return status;
        measure_lanes(check, rig, player, frame_ns);
        measure_currents(check, rig, player, number);
    }
    return DIA_OK;
}

static void sizes(struct dia_check *check, const struct dia_rig *rig)
{
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        struct dia_check_lane *lane = &check->lanes[i];
        uint32_t bytes = DIA_STRIP_BYTES(rig->lanes[i].part.channels->count, rig->lanes[i].count);
        lane->bits = bytes * 8u;
        lane->ram_bytes = bytes + (uint32_t)sizeof(struct dia_strip);
        lane->rate_mhz = (uint32_t)(1000000000000u / lane->frame_ns);
        check->frame_ram += lane->ram_bytes;
    }
    check->stack_ram = DIA_CHECK_STACK_BYTES;
}

static enum dia_status run_all(struct dia_check *check, const struct dia_rig *rig,
                               struct dia_player *player, void (*progress)(uint32_t, uint32_t))
{
    for (uint32_t n = 0; n < check->look_count; n++) {
        if (progress)
            progress(n, check->look_count);
        enum dia_status status = run_look(check, rig, player, n);
        if (status != DIA_OK)
            return status;
    }
    if (progress)
        progress(check->look_count, check->look_count);
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
    enum dia_status status = run_all(check, rig, player, progress);
    if (status == DIA_OK) {
        sizes(check, rig);
        check_limits(check, rig, dia_player_findings(player));
    } else {
        host_wrong(wrong, "%s: the bench: %s", rig->name, dia_status_text(status));
        status = DIA_PORT_FAILED;
    }
    dia_player_free(player);
    return status;
}

void dia_check_free(struct dia_check *check)
{
    dia_findings_free(&check->findings);
}
