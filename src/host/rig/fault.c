/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include <diachrome/nearest.h>

#include "family.h"
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

#define WORDS_MOST 63

/* Adds the words of a list to all of them. */
static size_t add_words(const struct fault_kind *kinds, const char **names, size_t n)
{
    for (; kinds && kinds->word && n < WORDS_MOST; kinds++)
        names[n++] = kinds->word;
    return n;
}

static enum dia_status unknown_word(const struct said *said, struct dia_diagnostic *wrong)
{
    const char *names[WORDS_MOST + 1];
    char all[512] = "";
    size_t n = add_words(dia_fault_kinds, names, 0), used = 0;
    for (const struct dia_rig_family *const *family = dia_rig_families; *family; family++)
        n = add_words((*family)->faults, names, n);
    names[n] = NULL;
    for (size_t k = 0; k < n && used < sizeof all; k++)
        used += (size_t)snprintf(all + used, sizeof all - used, "%s%s", k ? ", " : "", names[k]);
    const char *near = dia_nearest(said->word, names);
    if (near)
        return dia_host_wrong(wrong, "unknown fault '%s'; did you mean '%s'?", said->word, near);
    return dia_host_wrong(wrong, "unknown fault '%s'; known: %s", said->word, all);
}

static const struct fault_kind *find_word(const struct fault_kind *kinds, const char *word)
{
    for (; kinds && kinds->word; kinds++) {
        if (strcmp(kinds->word, word) == 0)
            return kinds;
    }
    return NULL;
}

/* A fault that one family has, on a device of it. NULL and a diagnostic for any other. */
static const struct fault_kind *find_of_family(const struct dia_desk *desk, const struct said *said,
                                               struct dia_diagnostic *wrong)
{
    const struct dia_rig_family *const *family = dia_rig_families;
    const struct fault_kind *kind = NULL;
    if (said->device >= 0)
        kind = find_word(desk->rig.devices[said->device].family->faults, said->word);
    if (kind)
        return kind;
    char whom[160] = ""; /* "a shift-register chain or digits from pins" */
    for (; *family; family++) {
        size_t used = strlen(whom);
        if (find_word((*family)->faults, said->word))
            snprintf(whom + used, sizeof whom - used, "%s%s", used ? " or " : "", (*family)->what);
    }
    if (!whom[0])
        unknown_word(said, wrong);
    else if (said->device >= 0)
        dia_host_wrong(wrong, "fault '%s' is for %s; '%s' is none", said->word, whom, said->target);
    else
        dia_host_wrong(wrong, "'%s' cannot have the fault '%s', which is for %s", said->target,
                       said->word, whom);
    return NULL;
}

enum dia_status dia_desk_fault(struct dia_desk *desk, const char *text,
                               struct dia_diagnostic *wrong)
{
    char copy[64], *rest = NULL;
    struct said said = {0};
    snprintf(copy, sizeof copy, "%s", text);
    char *colon = strchr(copy, ':');
    if (!colon || strlen(text) >= sizeof copy)
        return dia_host_wrong(wrong,
                              "a fault is written as 'TARGET: WHAT', such as 'rail: dead 17'; "
                              "found '%.60s'",
                              text);
    *colon = 0;
    said.target = copy;
    said.word = strtok_r(colon + 1, " ", &rest);
    said.first = said.word ? strtok_r(NULL, " ", &rest) : NULL;
    said.second = said.first ? strtok_r(NULL, " ", &rest) : NULL;
    if (!said.word)
        return dia_host_wrong(wrong, "fault '%s:' does not say what is wrong", said.target);
    find_target(desk, &said);
    if (said.lane < 0 && said.device < 0 && said.supply < 0)
        return dia_host_wrong(wrong, "there is no lane, device or supply '%s'", said.target);
    const struct fault_kind *kind = find_word(dia_fault_kinds, said.word);
    if (!kind) {
        kind = find_of_family(desk, &said, wrong);
        return kind ? kind->put(desk, &said, wrong) : DIA_BAD_VALUE;
    }
    if (!(kind->of & OF_LANE))
        said.lane = -1;
    if (!(kind->of & OF_DEVICE))
        said.device = -1;
    if (said.lane < 0 && said.device < 0 && !(kind->of & OF_SUPPLY && said.supply >= 0))
        return dia_host_wrong(wrong, "'%s' cannot have the fault '%s', which is for a %s",
                              said.target, said.word,
                              kind->of & OF_SUPPLY ? "supply"
                              : kind->of & OF_LANE ? "lane"
                                                   : "device");
    return kind->put(desk, &said, wrong);
}
