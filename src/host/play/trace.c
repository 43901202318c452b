/* SPDX-License-Identifier: MIT */
#include <errno.h>
#include <inttypes.h>
#include <stdlib.h>

#include <diachrome/trace.h>

#include "host_private.h"

struct dia_trace {
    struct host_output out;
    char code_of[DIA_SIM_PINS]; /* a VCD identifier a pin; 0: not traced */
    struct dia_edge *edges;
    size_t count, room;
    uint64_t written_ns; /* time of the last change written */
    int no_memory;
};

static void take(void *self, const struct dia_edge *edges, uint32_t n)
{
    struct dia_trace *trace = self;
    if (trace->count + n > trace->room) {
        size_t room = (trace->count + n) * 2;
        struct dia_edge *more = realloc(trace->edges, room * sizeof *more);
        if (!more) {
            trace->no_memory = 1;
            return;
        }
        trace->edges = more;
        trace->room = room;
    }
    for (uint32_t i = 0; i < n; i++) {
        if (trace->code_of[edges[i].pin])
            trace->edges[trace->count++] = edges[i];
    }
}

/* One printable character a wire is enough for all the pins there are. */
static void header(struct dia_trace *trace, const struct dia_rig *rig,
                   const struct dia_player *player)
{
    FILE *file = trace->out.file;
    char code = '!', name[64];
    uint8_t pin;
    fprintf(file, "$version diachrome $end\n$timescale 1 ns $end\n$scope module rig $end\n");
    for (uint32_t k = 0; dia_rig_wire(rig, k, name, &pin); k++) {
        if (!trace->code_of[pin]) /* a wire of a bus has several names */
            trace->code_of[pin] = code++;
        fprintf(file, "$var wire 1 %c %s $end\n", trace->code_of[pin], name);
    }
    fprintf(file, "$upscope $end\n$enddefinitions $end\n#0\n$dumpvars\n");
    for (pin = 0; pin < DIA_SIM_PINS; pin++) {
        if (trace->code_of[pin])
            fprintf(file, "%d%c\n", dia_player_level(player, pin), trace->code_of[pin]);
    }
    fprintf(file, "$end\n");
}

struct dia_trace *dia_trace_open(const char *path, struct dia_player *player,
                                 const struct dia_rig *rig, struct dia_diagnostic *wrong)
{
    struct dia_trace *trace = calloc(1, sizeof *trace);
    if (!trace) {
        dia_host_failed(wrong, path, "cannot be written");
        return NULL;
    }
    if (dia_host_output_open(&trace->out, path, wrong) != DIA_OK) {
        free(trace);
        return NULL;
    }
    header(trace, rig, player);
    dia_player_listen(player, take, trace);
    return trace;
}

/* Lanes tell their edges in batches of their own; a VCD file wants all in the order of time. */
static int by_time(const void *a, const void *b)
{
    const struct dia_edge *p = a, *q = b;
    return p->t_ns < q->t_ns ? -1 : p->t_ns > q->t_ns;
}

void dia_trace_catch_up(struct dia_trace *trace)
{
    if (trace->count == 0)
        return;
    qsort(trace->edges, trace->count, sizeof *trace->edges, by_time);
    for (size_t i = 0; i < trace->count; i++) {
        const struct dia_edge *edge = &trace->edges[i];
        if (edge->t_ns != trace->written_ns)
            fprintf(trace->out.file, "#%" PRIu64 "\n", edge->t_ns);
        trace->written_ns = edge->t_ns;
        fprintf(trace->out.file, "%d%c\n", edge->level, trace->code_of[edge->pin]);
    }
    trace->count = 0;
}

enum dia_status dia_trace_close(struct dia_trace *trace, uint64_t until_ns,
                                struct dia_diagnostic *wrong)
{
    dia_trace_catch_up(trace);
    if (until_ns > trace->written_ns)
        fprintf(trace->out.file, "#%" PRIu64 "\n", until_ns);
    enum dia_status status;
    if (trace->no_memory) {
        errno = ENOMEM;
        status = dia_host_failed(wrong, trace->out.path, "cannot be written");
        dia_host_output_discard(&trace->out);
    } else {
        status = dia_host_output_close(&trace->out, wrong);
    }
    free(trace->edges);
    free(trace);
    return status;
}

void dia_trace_discard(struct dia_trace *trace)
{
    dia_host_output_discard(&trace->out);
    free(trace->edges);
    free(trace);
}
