/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>
#include <strings.h>

#include <diachrome/nearest.h>

#include "host_private.h"
#include "judge_wires.h"

void dia_judge_list(struct dia_judge *judge, const struct dia_rig *rig)
{
    char name[64];
    uint8_t pin;
    for (uint32_t k = 0; dia_rig_wire(rig, k, name, &pin); k++) {
        struct dia_judge_wire *wire = &judge->wires[judge->wire_count];
        uint32_t other = 0;
        while (other < judge->wire_count && judge->wires[other].pin != pin)
            other++;
        if (other < judge->wire_count)
            continue; /* a wire of a bus, by its name on another device */
        for (uint32_t i = 0; i < rig->lane_count; i++)
            judge->lane_wires +=
                rig->lanes[i].pin == pin ||
                (rig->lanes[i].part.family == DIA_CLOCKED && rig->lanes[i].clock_pin == pin);
        memcpy(wire->name, name, sizeof wire->name);
        wire->pin = pin;
        judge->wire_count++;
    }
}

/* By any of its names: a wire of a bus has one for each device. -1: there is none. */
int32_t dia_judge_wire_named(const struct dia_judge *judge, const struct dia_rig *rig,
                             const char *wanted)
{
    char name[64];
    uint8_t pin;
    for (uint32_t k = 0; dia_rig_wire(rig, k, name, &pin); k++) {
        if (strcasecmp(name, wanted) != 0)
            continue;
        for (uint32_t i = 0; i < judge->wire_count; i++) {
            if (judge->wires[i].pin == pin)
                return (int32_t)i;
        }
    }
    return -1;
}

static enum dia_status no_wire(const struct dia_judge *judge, const char *wanted,
                               struct dia_diagnostic *wrong)
{
    const char *names[sizeof judge->wires / sizeof judge->wires[0] + 1];
    uint32_t n = 0;
    for (; n < judge->wire_count; n++)
        names[n] = judge->wires[n].name;
    names[n] = NULL;
    const char *near = dia_nearest(wanted, names);
    return dia_host_wrong(wrong, "the rig has no wire '%s'; %s '%s'", wanted,
                          near ? "did you mean" : "there is", near ? near : names[0]);
}

static void join(struct dia_judge *judge, struct joined *joined, const struct dia_capture *capture,
                 uint32_t of_capture, int32_t of_rig)
{
    joined->wire_of[of_capture] = of_rig;
    joined->any++;
    snprintf(judge->wires[of_rig].capture, sizeof judge->wires[of_rig].capture, "%s",
             dia_capture_name(capture, of_capture));
}

static enum dia_status join_as_told(struct dia_judge *judge, struct joined *joined,
                                    const struct dia_rig *rig, const struct dia_capture *capture,
                                    const struct dia_judge_map *map, struct dia_diagnostic *wrong)
{
    const char *names[DIA_CAPTURE_WIRES + 1];
    uint32_t count = dia_capture_wires(capture), k = 0;
    int32_t wire = dia_judge_wire_named(judge, rig, map->rig);
    if (wire < 0)
        return no_wire(judge, map->rig, wrong);
    for (; k < count && strcmp(dia_capture_name(capture, k), map->capture) != 0; k++)
        names[k] = dia_capture_name(capture, k);
    if (k < count && joined->wire_of[k] < 0 && !judge->wires[wire].capture[0]) {
        join(judge, joined, capture, k, wire);
        return DIA_OK;
    }
    if (k < count)
        return dia_host_wrong(wrong, "'%s' and '%s' are joined twice; each wire is another one",
                              map->capture, map->rig);
    names[count] = NULL;
    const char *near = dia_nearest(map->capture, names);
    if (count == 0)
        return dia_host_wrong(wrong, "the capture has no wires at all");
    return dia_host_wrong(wrong, "the capture has no wire '%s'; %s '%s'", map->capture,
                          near ? "did you mean" : "there is", near ? near : names[0]);
}

static void join_the_others(struct dia_judge *judge, struct joined *joined,
                            const struct dia_rig *rig, const struct dia_capture *capture)
{
    uint32_t count = dia_capture_wires(capture), left = 0, last = 0, free_wires = 0, last_free = 0;
    for (uint32_t k = 0; k < count; k++) {
        int32_t wire = dia_judge_wire_named(judge, rig, dia_capture_name(capture, k));
        if (joined->wire_of[k] < 0 && wire >= 0 && !judge->wires[wire].capture[0])
            join(judge, joined, capture, k, wire);
    }
    for (uint32_t k = 0; k < count; k++) {
        left += joined->wire_of[k] < 0;
        last = joined->wire_of[k] < 0 ? k : last;
    }
    for (uint32_t i = 0; i < judge->wire_count; i++) {
        free_wires += !judge->wires[i].capture[0];
        last_free = !judge->wires[i].capture[0] ? i : last_free;
    }
    if (left == 1 && free_wires == 1)
        join(judge, joined, capture, last, (int32_t)last_free);
}

enum dia_status dia_judge_join(struct dia_judge *judge, struct joined *joined,
                               const struct dia_rig *rig, const struct dia_capture *capture,
                               const struct dia_judge_map *maps, uint32_t n,
                               struct dia_diagnostic *wrong)
{
    char theirs[160] = "", ours[160] = "";
    joined->any = 0;
    for (uint32_t k = 0; k < DIA_CAPTURE_WIRES; k++)
        joined->wire_of[k] = -1;
    for (uint32_t k = 0; k < n; k++) {
        enum dia_status status = join_as_told(judge, joined, rig, capture, &maps[k], wrong);
        if (status != DIA_OK)
            return status;
    }
    join_the_others(judge, joined, rig, capture);
    if (joined->any)
        return DIA_OK;
    for (uint32_t k = 0; k < dia_capture_wires(capture) && k < 6; k++)
        snprintf(theirs + strlen(theirs), sizeof theirs - strlen(theirs), "%s%.20s", k ? ", " : "",
                 dia_capture_name(capture, k));
    for (uint32_t k = 0; k < judge->wire_count && k < 6; k++)
        snprintf(ours + strlen(ours), sizeof ours - strlen(ours), "%s%.20s", k ? ", " : "",
                 judge->wires[k].name);
    return dia_host_wrong(
        wrong,
        "no wire of the capture (%s%s) has the name of one of the rig (%s%s): say "
        "which is which, such as --wire \"%.20s=%.20s\"",
        theirs[0] ? theirs : "it has none", dia_capture_wires(capture) > 6 ? ", ..." : "", ours,
        judge->wire_count > 6 ? ", ..." : "", theirs[0] ? dia_capture_name(capture, 0) : "D0",
        judge->wires[0].name);
}
