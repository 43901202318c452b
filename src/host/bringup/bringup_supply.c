/* SPDX-License-Identifier: MIT */
#include <string.h>

#include "bringup_lane.h"

static int looks_white(struct run *run)
{
    static const char *const looks[] = {"white", "yellowish or red", NULL};
    if (dia_run_renew(run) != 0)
        return -1;
    run->lit = (struct lighting){.colour = (struct dia_rgb){255, 255, 255},
                                 .to = dia_lane_believed(run)->count};
    dia_run_show(run);
    struct dia_rgb seen = dia_player_seen(run->player, (uint32_t)run->lane, 0);
    /* blue goes first */
    return dia_run_ask(run, looks, dia_lane_is_lit(seen) && seen.b < seen.r / 4 * 3,
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
