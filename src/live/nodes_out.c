/* SPDX-License-Identifier: MIT */
#include <inttypes.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <unistd.h>

#include "node_clock.h"
#include "nodes_private.h"

/*
 * What goes out: changes, states and what this node says of itself first. Then changes that the
 * state has by now: to keep one no more is a message to every node, and there may be hundreds at
 * once, so they go bit by bit.
 */
#define TELL_MS   2000 /* what this node says goes out so often */
#define GONE_A_MS 5    /* messages to nodes in a ms, */
#define GONE_MOST 1024 /* unless so many wait already */

/* Takes the text; NULL: the topic is to be kept no more. */
static void put_out(struct nodes *nodes, const char *topic, char *text, int passes)
{
    struct nodes_out *out = malloc(sizeof *out);
    if (!out) {
        free(text);
        return;
    }
    snprintf(out->topic, sizeof out->topic, "%s", topic);
    out->text = text;
    out->passes = passes != 0;
    out->next = NULL;
    pthread_mutex_lock(&nodes->lock);
    struct nodes_out ***last = text ? &nodes->out_last : &nodes->gone_last;
    if (nodes->is_online) {
        **last = out;
        *last = &out->next;
        out = NULL;
        nodes->gone += !text;
    }
    pthread_mutex_unlock(&nodes->lock);
    if (!out) {
        dia_nodes_wake(nodes);
        return;
    }
    free(out);
    free(text);
}

void dia_nodes_send_change(struct nodes *nodes, const struct journal_event *event, int is_gone)
{
    char topic[80], *text = NULL;
    snprintf(topic, sizeof topic, "run/change/%s-%" PRIu32, event->from, event->number);
    if (!is_gone) {
        size_t size = strlen(event->line) + 24;
        text = malloc(size);
        if (!text)
            return;
        snprintf(text, size, "%" PRIu64 " %s", event->ms, event->line);
    }
    put_out(nodes, topic, text, 0);
}

void dia_nodes_send_state(struct nodes *nodes, char *text)
{
    if (text)
        put_out(nodes, "run/state", text, 0);
}

void dia_nodes_hello(const struct nodes *nodes, char *topic, size_t size)
{
    snprintf(topic, size, "run/hello/%s", nodes->me);
}

void dia_nodes_ask(struct nodes *nodes)
{
    char topic[80], *text = strdup("hi");
    dia_nodes_hello(nodes, topic, sizeof topic);
    if (text)
        put_out(nodes, topic, text, 1);
}

void dia_nodes_join_again(struct nodes *nodes)
{
    pthread_mutex_lock(&nodes->lock);
    nodes->joins = 1;
    pthread_mutex_unlock(&nodes->lock);
    dia_nodes_wake(nodes);
}

int dia_nodes_joins_again(struct nodes *nodes)
{
    pthread_mutex_lock(&nodes->lock);
    int joins = nodes->joins;
    nodes->joins = 0;
    pthread_mutex_unlock(&nodes->lock);
    return joins;
}

void dia_nodes_tell(struct nodes *nodes, char *json)
{
    if (!json)
        return;
    pthread_mutex_lock(&nodes->lock);
    free(nodes->told);
    nodes->told = json;
    nodes->is_new = 1;
    struct known *self = dia_nodes_known(nodes, nodes->name);
    char *copy = self ? strdup(json) : NULL; /* it need not come back from the broker */
    if (copy) {
        free(self->json);
        self->json = copy;
    }
    pthread_mutex_unlock(&nodes->lock);
}

int dia_nodes_wakes(const struct nodes *nodes)
{
    return nodes->wakes;
}

static struct nodes_out *take_first(struct nodes_out **first, struct nodes_out ***last)
{
    struct nodes_out *out = *first;
    if (out) {
        *first = out->next;
        *last = *first ? *last : first;
    }
    return out;
}

/* What this node says of itself. 1: it is in out. */
static int tell_self(struct nodes *nodes, uint64_t ms, struct nodes_out *out)
{
    if (!nodes->is_new || (nodes->told_ms && ms - nodes->told_ms < TELL_MS))
        return 0;
    snprintf(out->topic, sizeof out->topic, "node/%s/node", nodes->name);
    out->passes = 0;
    size_t size = strlen(nodes->told) + 40;
    out->text = malloc(size);
    if (out->text) /* the time at which it goes out */
        snprintf(out->text, size, "{\"time_ms\":%.3f,%s", (double)dia_node_clock_ns() / 1e6,
                 nodes->told + 1);
    nodes->is_new = 0;
    nodes->told_ms = ms;
    return out->text != NULL;
}

int dia_nodes_out(struct nodes *nodes, struct nodes_out *out)
{
    uint64_t ms = dia_steady_ms(), count;
    pthread_mutex_lock(&nodes->lock);
    struct nodes_out *first = take_first(&nodes->out_first, &nodes->out_last);
    if (!first && ms >= nodes->gone_ms && nodes->gone) {
        first = take_first(&nodes->gone_first, &nodes->gone_last);
        nodes->gone_ms = --nodes->gone > GONE_MOST ? ms : ms + nodes->count / GONE_A_MS;
    }
    int any = first != NULL;
    if (first)
        *out = *first;
    else
        any = tell_self(nodes, ms, out);
    if (!any && read(nodes->wakes, &count, sizeof count) < 0)
        any = 0; /* nothing woke */
    pthread_mutex_unlock(&nodes->lock);
    free(first);
    return any;
}

int dia_nodes_due_ms(struct nodes *nodes, int most_ms)
{
    uint64_t ms = dia_steady_ms();
    pthread_mutex_lock(&nodes->lock);
    uint64_t rest = nodes->gone_ms > ms ? nodes->gone_ms - ms : 0;
    int due = nodes->gone_first && rest < (uint64_t)most_ms ? (int)rest : most_ms;
    pthread_mutex_unlock(&nodes->lock);
    return due;
}
