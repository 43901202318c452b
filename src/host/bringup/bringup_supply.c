/* SPDX-License-Identifier: MIT */
#include <string.h>

#include "bringup_lane.h"

/* Blue goes first, and where the volts are fewest: less of it is lit than of red, by a part that is
 * seen beside white. (Not less than red: that may be the white that is wanted.) */
#define BLUE_SEEN_PERCENT 85u

static uint32_t is_yellowish(const struct run *run)
{
    const struct dia_shown *shown = dia_player_shown(run->player, (uint32_t)run->lane);
    for (uint32_t i = 0; i < shown->count; i++) {
        const uint8_t *sent = shown->drive[i], *lit = shown->lit[i];
        if (100u * lit[2] * sent[0] < BLUE_SEEN_PERCENT * lit[0] * sent[2])
            return 1;
    }
    return 0;
}

static int looks_white(struct run *run)
{
    static const char *const looks[] = {"white", "yellowish or red", NULL};
    if (dia_run_renew(run) != 0)
        return -1;
    run->lit = (struct lighting){.colour = (struct dia_rgb){255, 255, 255},
                                 .to = dia_lane_believed(run)->count};
    dia_run_show(run);
    return dia_run_ask(run, looks, is_yellowish(run),
                       "All of '%s' is white, as bright as the supply may. How does it look?",
                       dia_lane_believed(run)->name);
}

/* The longest lane on it at full master; then less current, until white stays white. */
int dia_bringup_supply(struct run *run, uint32_t number)
{
    struct dia_rig *rig = &run->report->rig;
    struct dia_rig_supply *supply = &rig->supplies[number];
    dia_share master = rig->master;
    uint32_t longest = 0;
    run->lane = -1;
    for (uint32_t i = 0; i < rig->lane_count; i++) {
        if (rig->lanes[i].supply == number && rig->lanes[i].count > longest) {
            longest = rig->lanes[i].count;
            run->lane = (int)i;
        }
    }
    if (run->lane < 0)
        return 0;
    rig->master = DIA_SHARE_ONE;
    uint32_t stated = supply->current_ua, good = supply->reserve_ua + stated / 16, bad = stated;
    int answer = looks_white(run);
    for (int k = 0; answer > 0 && k < 5; k++) {
        supply->current_ua = good + (bad - good) / 2;
        int still = looks_white(run);
        if (still < 0)
            answer = -1;
        else if (still)
            bad = supply->current_ua;
        else
            good = supply->current_ua;
    }
    rig->master = master;
    supply->current_ua = stated;
    if (answer <= 0)
        return answer;
    supply->current_ua = good / 10000 * 10000;
    struct dia_cause *cause =
        dia_run_cause(run, "the voltage sags when it has to give more than %u mA",
                      (unsigned)(supply->current_ua / 1000));
    memcpy(cause->place, supply->name, sizeof cause->place);
    dia_cause_evidence(cause, "at %u mA white turns yellow: blue goes first below some 4 V",
                       (unsigned)(bad / 1000));
    dia_cause_wiring(cause, "thicker or shorter supply wires, fed in at both ends; until then less "
                            "current");
    dia_cause_edit(cause, "supplies", "", "current", "%u mA",
                   (unsigned)(supply->current_ua / 1000));
    return 0;
}
