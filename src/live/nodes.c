/* SPDX-License-Identifier: MIT */
#include <inttypes.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/eventfd.h>
#include <sys/random.h>
#include <unistd.h>

#include "node_clock.h"
#include "nodes_private.h"

struct nodes *dia_nodes_new(const char *name)
{
    struct nodes *nodes = calloc(1, sizeof *nodes);
    uint32_t random = 0;
    if (!nodes)
        return NULL;
    nodes->wakes = eventfd(0, EFD_NONBLOCK | EFD_CLOEXEC);
    nodes->known = calloc(DIA_RIG_NODES, sizeof *nodes->known);
    if (nodes->wakes < 0 || !nodes->known || pthread_mutex_init(&nodes->lock, NULL) != 0) {
        if (nodes->wakes >= 0)
            close(nodes->wakes);
        free(nodes->known);
        free(nodes);
        return NULL;
    }
    if (getrandom(&random, sizeof random, 0) != (ssize_t)sizeof random)
        random = (uint32_t)(dia_node_clock_ns() ^ (uint64_t)getpid() << 20);
    snprintf(nodes->name, sizeof nodes->name, "%s", name);
    snprintf(nodes->me, sizeof nodes->me, "%08" PRIx32, random);
    nodes->last = &nodes->first;
    nodes->out_last = &nodes->out_first;
    nodes->gone_last = &nodes->gone_first;
    return nodes;
}

static void forget(struct nodes_out **first, struct nodes_out ***last)
{
    while (*first) {
        struct nodes_out *out = *first;
        *first = out->next;
        free(out->text);
        free(out);
    }
    *last = first;
}

void dia_nodes_forget_out(struct nodes *nodes)
{
    forget(&nodes->out_first, &nodes->out_last);
    forget(&nodes->gone_first, &nodes->gone_last);
    nodes->gone = 0;
}

void dia_nodes_free(struct nodes *nodes)
{
    if (!nodes)
        return;
    while (nodes->first) {
        struct nodes_item *item = nodes->first;
        nodes->first = item->next;
        free(item->event.line);
        free(item->text);
        free(item);
    }
    dia_nodes_forget_out(nodes);
    for (uint32_t k = 0; k < nodes->count; k++)
        free(nodes->known[k].json);
    free(nodes->known);
    free(nodes->told);
    close(nodes->wakes);
    pthread_mutex_destroy(&nodes->lock);
    free(nodes);
}

const char *dia_nodes_name(const struct nodes *nodes)
{
    return nodes->name;
}

const char *dia_nodes_me(const struct nodes *nodes)
{
    return nodes->me;
}

void dia_nodes_wake(struct nodes *nodes)
{
    uint64_t one = 1;
    ssize_t n = write(nodes->wakes, &one, sizeof one);
    (void)n; /* it is full, so it wakes anyhow */
}
