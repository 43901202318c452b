/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <diachrome/judge.h>

#include "host_private.h"
#include "judge_wires.h"
#include "sampling.h"

/* ---- the first pass: is it whole, how was it sampled
 * ---------------------------------------------- */

static enum dia_status look_through(struct dia_judge *judge, const char *path,
                                    const struct joined *joined, struct sampling *sampling,
                                    struct dia_diagnostic *wrong)
{
    struct dia_capture_change change;
    enum dia_status status;
    struct dia_capture *capture = dia_capture_open(path, wrong);
    int first = 1;
    if (!capture)
        return DIA_PORT_FAILED;
    while ((status = dia_capture_next(capture, &change, wrong)) == DIA_OK) {
        if (first)
            judge->from_ns = change.t_ns;
        first = 0;
        if (joined->wire_of[change.wire] >= 0)
            dia_sampling_take(sampling, change.t_ns);
    }
    judge->to_ns = dia_capture_time_ns(capture);
    dia_capture_close(capture);
    return status == DIA_BUSY ? DIA_OK : status;
}

/* ---- the second: to the models
 * -------------------------------------------------------------------- */

struct listening {
    struct dia_judge *judge;
    const struct joined *joined;
    struct dia_bench *bench;
    uint64_t begin_ns; /* of the capture, on the clock of the bench */
    uint32_t frames[DIA_RIG_LANES];
    int8_t level[sizeof((struct dia_judge *)0)->wires / sizeof((struct dia_judge *)0)->wires[0]];
    dia_judge_sees *sees;
    void *self;
};

static void see_frames(struct listening *l)
{
    struct dia_judge *judge = l->judge;
    for (uint32_t i = 0; i < judge->desk->lane_count; i++) {
        const struct dia_shown *shown = dia_player_shown(judge->player, i);
        if (shown->frames == l->frames[i])
            continue;
        l->frames[i] = shown->frames;
        judge->frames[i]++;
        struct dia_judge_frame frame = {i, shown->latched_ns - l->begin_ns + judge->from_ns};
        if (l->sees)
            l->sees(l->self, judge->player, &frame);
    }
}

static void take(struct listening *l, const struct dia_capture_change *change)
{
    int32_t number = l->joined->wire_of[change->wire];
    if (number < 0)
        return;
    struct dia_judge_wire *wire = &l->judge->wires[number];
    if (change->value == DIA_CAPTURE_UNKNOWN) {
        wire->unknown++;
        return;
    }
    if (l->level[number] == (int8_t)change->value)
        return;
    wire->edges += l->level[number] >= 0;
    l->level[number] = (int8_t)change->value;
    struct dia_edge edge = {.t_ns = l->begin_ns + change->t_ns - l->judge->from_ns,
                            .pin = wire->pin,
                            .level = change->value};
    dia_bench_take(l->bench, &edge, 1);
    see_frames(l);
}

static enum dia_status listen(struct listening *l, const char *path, struct dia_diagnostic *wrong)
{
    struct dia_capture_change change;
    enum dia_status status;
    struct dia_capture *capture = dia_capture_open(path, wrong);
    if (!capture)
        return DIA_PORT_FAILED;
    while ((status = dia_capture_next(capture, &change, wrong)) == DIA_OK)
        take(l, &change);
    dia_capture_close(capture);
    if (status != DIA_BUSY)
        return status;
    dia_bench_settle(l->bench, l->begin_ns + l->judge->to_ns - l->judge->from_ns);
    see_frames(l);
    return DIA_OK;
}

/* Times of the capture instead of the bench; and what the file itself left open. */
static void take_findings(struct listening *l)
{
    struct dia_judge *judge = l->judge;
    const struct dia_findings *all = dia_player_findings(judge->player);
    for (uint32_t i = 0; i < all->count; i++) {
        struct dia_finding finding = all->items[i];
        finding.t_ns =
            finding.t_ns >= l->begin_ns ? finding.t_ns - l->begin_ns + judge->from_ns : 0;
        dia_findings_add(&judge->findings, &finding);
    }
    for (uint32_t i = 0; i < judge->wire_count; i++) {
        const struct dia_judge_wire *wire = &judge->wires[i];
        struct dia_finding finding = {.level = DIA_WARNING, .code = "unknown-level"};
        snprintf(finding.place, sizeof finding.place, "%s", wire->name);
        if (wire->capture[0] && wire->edges == 0) {
            finding.level = i < judge->lane_wires ? DIA_WARNING : DIA_NOTE;
            snprintf(finding.code, sizeof finding.code, "no-edges");
            snprintf(finding.text, sizeof finding.text,
                     "the wire '%.40s' never changes in the capture: is the probe on it?",
                     wire->capture);
            dia_findings_add(&judge->findings, &finding);
        } else if (wire->unknown) {
            snprintf(finding.text, sizeof finding.text,
                     "it goes to x or z %llu time%s; the level before was taken to stay",
                     (unsigned long long)wire->unknown, wire->unknown == 1 ? "" : "s");
            dia_findings_add(&judge->findings, &finding);
        }
    }
    for (uint32_t i = 0; i < judge->desk->lane_count; i++) {
        struct dia_finding finding = {.level = DIA_WARNING, .code = "no-frame"};
        int32_t wire = dia_judge_wire_named(judge, judge->desk, judge->desk->lanes[i].name);
        if (wire < 0 || judge->wires[wire].edges == 0 || judge->frames[i])
            continue;
        snprintf(finding.place, sizeof finding.place, "%s", judge->desk->lanes[i].name);
        snprintf(finding.text, sizeof finding.text,
                 "no whole frame is in the capture: take a longer one, of two frames and the rest "
                 "before the first");
        dia_findings_add(&judge->findings, &finding);
    }
}

static int is_ours(const char *path)
{
    char begin[40] = "";
    FILE *file = fopen(path, "rb");
    size_t n = file ? fread(begin, 1, sizeof begin - 1, file) : 0;
    if (file)
        fclose(file);
    return n > 0 && strncmp(begin, "$version diachrome", 18) == 0;
}

/* The hardware as the file says, without the faults of its simulated desk. */
static enum dia_status build(struct dia_judge *judge, const struct dia_rig *rig,
                             struct dia_diagnostic *wrong)
{
    judge->desk = malloc(sizeof *judge->desk);
    if (!judge->desk) {
        errno = ENOMEM;
        return dia_host_failed(wrong, rig->name, "the bench cannot be built");
    }
    *judge->desk = *rig;
    judge->desk->fault_count = 0;
    judge->player = dia_player_new(judge->desk, wrong);
    return judge->player ? DIA_OK : DIA_PORT_FAILED;
}

enum dia_status dia_judge_capture(struct dia_judge *judge, const struct dia_rig *rig,
                                  const char *path, const struct dia_judge_map *maps, uint32_t n,
                                  uint32_t sampled_khz, dia_judge_sees *sees, void *self,
                                  struct dia_diagnostic *wrong)
{
    struct joined joined;
    struct sampling sampling;
    memset(judge, 0, sizeof *judge);
    dia_findings_init(&judge->findings);
    dia_sampling_init(&sampling);
    dia_judge_list(judge, rig);
    errno = 0;
    struct dia_capture *capture = dia_capture_open(path, wrong);
    if (!capture)
        return errno == ENOMEM || errno == EIO ? DIA_PORT_FAILED : DIA_BAD_VALUE;
    enum dia_status status = dia_judge_join(judge, &joined, rig, capture, maps, n, wrong);
    dia_capture_close(capture);
    if (status == DIA_OK)
        status = look_through(judge, path, &joined, &sampling, wrong);
    if (status == DIA_OK)
        status = build(judge, rig, wrong);
    if (status != DIA_OK)
        return status;
    judge->sampled_khz = sampled_khz     ? sampled_khz
                         : is_ours(path) ? 0
                                         : dia_sampling_khz(&sampling);
    if (judge->sampled_khz)
        judge->slack_ns = (1000000u + judge->sampled_khz - 1) / judge->sampled_khz;
    struct listening l = {.judge = judge,
                          .joined = &joined,
                          .bench = dia_player_bench(judge->player),
                          .begin_ns = dia_player_now_ns(judge->player) + 1000000u,
                          .sees = sees,
                          .self = self};
    memset(l.level, -1, sizeof l.level);
    for (uint32_t i = 0; i < rig->lane_count; i++)
        l.frames[i] = dia_player_shown(judge->player, i)->frames;
    dia_bench_settle(l.bench, l.begin_ns - 1);
    dia_bench_slack(l.bench, judge->slack_ns);
    dia_bench_join(l.bench, l.begin_ns);
    for (int i = 0; i < (int)rig->device_count; i++)
        dia_bench_expose(l.bench, i, l.begin_ns);
    status = listen(&l, path, wrong);
    take_findings(&l);
    return status;
}

static enum dia_status hear(struct dia_judge *judge, struct dia_capture *capture,
                            const struct joined *joined, dia_edge_listener *take_edges, void *self,
                            struct dia_diagnostic *wrong)
{
    struct dia_capture_change change;
    enum dia_status status;
    while ((status = dia_capture_next(capture, &change, wrong)) == DIA_OK) {
        int32_t number = joined->wire_of[change.wire];
        struct dia_edge edge = {.t_ns = change.t_ns, .level = change.value};
        if (number < 0 || change.value == DIA_CAPTURE_UNKNOWN)
            continue;
        edge.pin = judge->wires[number].pin;
        take_edges(self, &edge, 1);
    }
    return status == DIA_BUSY ? DIA_OK : status;
}

enum dia_status dia_judge_hear(const struct dia_rig *rig, const char *path,
                               const struct dia_judge_map *maps, uint32_t n,
                               dia_edge_listener *take_edges, void *self, uint64_t *until_ns,
                               struct dia_diagnostic *wrong)
{
    struct joined joined;
    errno = 0;
    struct dia_capture *capture = dia_capture_open(path, wrong);
    struct dia_judge *judge = capture ? calloc(1, sizeof *judge) : NULL;
    if (!capture)
        return errno == ENOMEM || errno == EIO ? DIA_PORT_FAILED : DIA_BAD_VALUE;
    enum dia_status status = DIA_PORT_FAILED;
    if (judge) {
        dia_judge_list(judge, rig);
        status = dia_judge_join(judge, &joined, rig, capture, maps, n, wrong);
    } else {
        errno = ENOMEM;
        dia_host_failed(wrong, path, "cannot be read");
    }
    if (status == DIA_OK)
        status = hear(judge, capture, &joined, take_edges, self, wrong);
    *until_ns = dia_capture_time_ns(capture);
    dia_capture_close(capture);
    free(judge);
    return status;
}

void dia_judge_free(struct dia_judge *judge)
{
    dia_player_free(judge->player);
    free(judge->desk);
    dia_findings_free(&judge->findings);
    memset(judge, 0, sizeof *judge);
}
