/* SPDX-License-Identifier: MIT */
#include <inttypes.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "nodes_private.h"

#define MOST_IN  8192        /* items that wait for the light, */
#define IN_BYTES (16u << 20) /* and the bytes of their texts */

static size_t bytes_of(const struct nodes_item *item)
{
    return (item->event.line ? strlen(item->event.line) : 0) +
           (item->text ? strlen(item->text) : 0);
}

/* A state that waits is of no use any more when another comes. */
static void replace_state(struct nodes *nodes)
{
    for (struct nodes_item *item = nodes->first; item; item = item->next) {
        if (item->kind != NODES_STATE || !item->text)
            continue;
        nodes->bytes -= strlen(item->text);
        free(item->text);
        item->text = NULL;
    }
}

/* Takes the texts of the item. */
static void put_in(struct nodes *nodes, const struct nodes_item *item)
{
    pthread_mutex_lock(&nodes->lock);
    if (item->kind == NODES_STATE)
        replace_state(nodes);
    int fits = nodes->items < MOST_IN && nodes->bytes + bytes_of(item) <= IN_BYTES;
    struct nodes_item *copy = fits ? malloc(sizeof *copy) : NULL;
    if (copy) {
        *copy = *item;
        copy->next = NULL;
        *nodes->last = copy;
        nodes->last = &copy->next;
        nodes->items++;
        nodes->bytes += bytes_of(item);
    } else {
        free(item->event.line);
        free(item->text);
        nodes->dropped++;
    }
    pthread_mutex_unlock(&nodes->lock);
}

int dia_nodes_next(struct nodes *nodes, struct nodes_item *item)
{
    pthread_mutex_lock(&nodes->lock);
    struct nodes_item *first = nodes->first;
    if (first) {
        nodes->first = first->next;
        nodes->last = nodes->first ? nodes->last : &nodes->first;
        nodes->items--;
        nodes->bytes -= bytes_of(first);
        *item = *first;
    }
    pthread_mutex_unlock(&nodes->lock);
    free(first);
    return first != NULL;
}

unsigned dia_nodes_dropped(struct nodes *nodes)
{
    pthread_mutex_lock(&nodes->lock);
    unsigned dropped = nodes->dropped;
    nodes->dropped = 0;
    pthread_mutex_unlock(&nodes->lock);
    return dropped;
}

/* "run/change/3fa1b2c4-17" with "1795770000123 set run.colour=red". */
static void take_change(struct nodes *nodes, const char *id, const char *text, int kept)
{
    struct nodes_item item = {.kind = NODES_CHANGE, .kept = kept != 0};
    int used = 0, spent = 0;
    if (sscanf(id, "%8[0-9a-f]-%" SCNu32 "%n", item.event.from, &item.event.number, &used) != 2 ||
        id[used] || strlen(item.event.from) != JOURNAL_NAME - 1 || item.event.number == 0 ||
        text[0] < '0' || text[0] > '9' ||
        sscanf(text, "%" SCNu64 " %n", &item.event.ms, &spent) != 1 || !spent)
        return; /* nobody of ours wrote that */
    item.event.line = strdup(text + spent);
    if (item.event.line)
        put_in(nodes, &item);
}

int dia_nodes_is_answer(const struct nodes *nodes, const char *topic)
{
    return strncmp(topic, "run/hello/", 10) == 0 && strcmp(topic + 10, nodes->me) == 0;
}

static void has_list(struct nodes *nodes)
{
    pthread_mutex_lock(&nodes->lock);
    nodes->has_list = 1;
    pthread_mutex_unlock(&nodes->lock);
}

void dia_nodes_take(struct nodes *nodes, const char *topic, const char *text, size_t length,
                    int kept)
{
    struct nodes_item item = {.kind = NODES_STATE, .kept = kept != 0};
    if (length == 0)
        return; /* it is kept no more */
    if (strncmp(topic, "node/", 5) == 0) {
        dia_nodes_take_node(nodes, topic + 5, text, length, kept);
    } else if (strncmp(topic, "run/change/", 11) == 0) {
        take_change(nodes, topic + 11, text, kept);
    } else if (dia_nodes_is_answer(nodes, topic)) {
        if (strcmp(text, DIA_NODES_LIST) == 0)
            has_list(nodes);
        item.kind = NODES_SYNCED;
        put_in(nodes, &item);
    } else if (strcmp(topic, "run/state") == 0) {
        item.text = strdup(text);
        if (item.text)
            put_in(nodes, &item);
    }
}

void dia_nodes_online(struct nodes *nodes, int is_online)
{
    struct nodes_item item = {.kind = NODES_LOST};
    pthread_mutex_lock(&nodes->lock);
    int was = nodes->is_online;
    nodes->is_online = is_online;
    nodes->has_list = 0;
    nodes->is_new = nodes->told != NULL; /* all of it is told anew */
    nodes->told_ms = 0;
    if (!is_online)
        dia_nodes_forget_out(nodes);
    pthread_mutex_unlock(&nodes->lock);
    if (was && !is_online)
        put_in(nodes, &item);
}
