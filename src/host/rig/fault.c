/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include <diachrome/nearest.h>

#include "fault_kinds.h"
#include "host_private.h"

void dia_desk_init(struct dia_desk *desk, const struct dia_rig *rig)
{
    memset(desk, 0, sizeof *desk);
    desk->rig = *rig;
    desk->seed = rig->seed;
    for (uint32_t i = 0; i < DIA_RIG_DEVICES; i++)
        desk->devices[i].shift = (struct dia_shift_fault){-1, 0, -1};
}

static void find_target(const struct dia_desk *desk, struct said *said)
{
    said->lane = said->device = said->supply = -1;
    for (uint32_t i = 0; i < desk->rig.lane_count; i++) {
        if (strcmp(desk->rig.lanes[i].name, said->target) == 0)
            said->lane = (int)i;
    }
    for (uint32_t i = 0; i < desk->rig.device_count; i++) {
        if (strcmp(desk->rig.devices[i].name, said->target) == 0)
            said->device = (int)i;
    }
    for (uint32_t i = 0; i < desk->rig.supply_count; i++) {
        if (strcmp(desk->rig.supplies[i].name, said->target) == 0)
            said->supply = (int)i;
    }
}

static enum dia_status unknown_word(const struct said *said, struct dia_diagnostic *wrong)
{
    const char *names[FAULT_KINDS_MOST + 1] = {NULL};
    char all[300] = "";
    for (size_t k = 0; fault_kinds[k].word; k++) {
        size_t used = strlen(all);
        names[k] = fault_kinds[k].word;
        snprintf(all + used, sizeof all - used, "%s%s", k ? ", " : "", fault_kinds[k].word);
    }

    const char *near = dia_nearest(said->word, names);
    if (near)
        return host_wrong(wrong, "unknown fault '%s'; did you mean '%s'?", said->word, near);
    return host_wrong(wrong, "unknown fault '%s'; known: %s", said->word, all);
}

enum dia_status dia_desk_fault(struct dia_desk *desk, const char *text,
                               struct dia_diagnostic *wrong)
{
    char copy[64], *rest = NULL;
    struct said said = {0};
    snprintf(copy, sizeof copy, "%s", text);
    char *colon = strchr(copy, ':');
    if (!colon || strlen(text) >= sizeof copy)
        return host_wrong(wrong,
                          "a fault is written as 'TARGET: WHAT', such as 'rail: dead 17'; "
                          "found '%.60s'",
                          text);
    *colon = 0;
    said.target = copy;
    said.word = strtok_r(colon + 1, " ", &rest);
    said.first = said.word ? strtok_r(NULL, " ", &rest) : NULL;
    said.second = said.first ? strtok_r(NULL, " ", &rest) : NULL;
    if (!said.word)
        return host_wrong(wrong, "fault '%s:' does not say what is wrong", said.target);
    find_target(desk, &said);
    if (said.lane < 0 && said.device < 0 && said.supply < 0)
        return host_wrong(wrong, "there is no lane, device or supply '%s'", said.target);
    for (size_t k = 0; fault_kinds[k].word; k++) {
        if (strcmp(fault_kinds[k].word, said.word) != 0)
            continue;
        if (!(fault_kinds[k].of & OF_LANE))
            said.lane = -1;
        if (!(fault_kinds[k].of & OF_DEVICE))
            said.device = -1;
        if (said.lane < 0 && said.device < 0 &&
            !(fault_kinds[k].of & OF_SUPPLY && said.supply >= 0))
            return host_wrong(wrong, "'%s' cannot have the fault '%s', which is for a %s",
                              said.target, said.word,
                              fault_kinds[k].of & OF_SUPPLY ? "supply"
                              : fault_kinds[k].of & OF_LANE ? "lane"
                                                            : "device");
        return fault_kinds[k].put(desk, &said, wrong);
    }
    return unknown_word(&said, wrong);
}
