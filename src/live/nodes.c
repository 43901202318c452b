/* SPDX-License-Identifier: MIT */
#include <inttypes.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/eventfd.h>
#include <sys/random.h>
#include <time.h>
#include <unistd.h>

#include <cjson/cJSON.h>

#include "node_clock.h"
#include "nodes_private.h"

#define MOST_IN   8192        /* items that wait for the light, */
#define IN_BYTES  (16u << 20) /* and the bytes of their texts */
#define MOST_TEXT 4096        /* bytes of what a node says of itself */
#define WANTED_MS 15000

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

void dia_nodes_free(struct nodes *nodes)
{
    struct nodes_item item;
    if (!nodes)
        return;
    while (dia_nodes_next(nodes, &item)) {
        free(item.event.line);
        free(item.text);
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

/* ---- what came ------------------------------------------------------------------------------- */

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
        sscanf(text, "%" SCNu64 " %n", &item.event.ms, &spent) != 1 || !spent)
        return; /* nobody of ours wrote that */
    item.event.line = strdup(text + spent);
    if (item.event.line)
        put_in(nodes, &item);
}

struct known *dia_nodes_known(struct nodes *nodes, const char *name)
{
    for (uint32_t k = 0; k < nodes->count; k++) {
        if (strcmp(nodes->known[k].name, name) == 0)
            return &nodes->known[k];
    }
    if (nodes->count == DIA_RIG_NODES || strlen(name) >= DIA_RIG_NAME || !name[0])
        return NULL;
    snprintf(nodes->known[nodes->count].name, DIA_RIG_NAME, "%s", name);
    return &nodes->known[nodes->count++];
}

/* How far behind it comes; the quickest of the last ones is mostly the difference of clocks. */
static void keep_delay(struct known *known, const char *json)
{
    cJSON *said = cJSON_Parse(json);
    const cJSON *time = cJSON_GetObjectItemCaseSensitive(said, "time_ms");
    if (cJSON_IsNumber(time))
        known->delay_ms[known->delays++ % NODES_DELAYS] =
            (double)dia_node_clock_ns() / 1e6 - time->valuedouble;
    cJSON_Delete(said);
}

/* "node/west/node" with what it says, "node/west/online" with yes or no. */
static void take_node(struct nodes *nodes, const char *topic, const char *text, size_t length,
                      int kept)
{
    char name[DIA_RIG_NAME] = "";
    size_t n = strcspn(topic, "/");
    const char *what = topic + n;
    if (n == 0 || n >= sizeof name || length > MOST_TEXT)
        return;
    memcpy(name, topic, n);
    pthread_mutex_lock(&nodes->lock);
    struct known *known = dia_nodes_known(nodes, name);
    if (known && strcmp(what, "/online") == 0) {
        known->is_online = strcmp(text, "yes") == 0;
    } else if (known && strcmp(what, "/node") == 0) {
        char *copy = strdup(text);
        if (copy) {
            free(known->json);
            known->json = copy;
        }
        if (!kept)
            keep_delay(known, text);
    }
    pthread_mutex_unlock(&nodes->lock);
}

int dia_nodes_is_answer(const struct nodes *nodes, const char *topic)
{
    return strncmp(topic, "run/hello/", 10) == 0 && strcmp(topic + 10, nodes->me) == 0;
}

void dia_nodes_take(struct nodes *nodes, const char *topic, const char *text, size_t length,
                    int kept)
{
    struct nodes_item item = {.kind = NODES_STATE, .kept = kept != 0};
    if (length == 0)
        return; /* it is kept no more */
    if (strncmp(topic, "node/", 5) == 0) {
        take_node(nodes, topic + 5, text, length, kept);
    } else if (strncmp(topic, "run/change/", 11) == 0) {
        take_change(nodes, topic + 11, text, kept);
    } else if (dia_nodes_is_answer(nodes, topic)) {
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
    nodes->is_new = nodes->told != NULL; /* all of it is told anew */
    nodes->told_ms = 0;
    if (!is_online)
        dia_nodes_forget_out(nodes);
    pthread_mutex_unlock(&nodes->lock);
    if (was && !is_online)
        put_in(nodes, &item);
}

void dia_nodes_expect(struct nodes *nodes, const char *name)
{
    pthread_mutex_lock(&nodes->lock);
    dia_nodes_known(nodes, name);
    pthread_mutex_unlock(&nodes->lock);
}

/* ---- the list -------------------------------------------------------------------------------- */

int dia_nodes_wanted(struct nodes *nodes)
{
    pthread_mutex_lock(&nodes->lock);
    int is = nodes->wanted_ms && dia_steady_ms() - nodes->wanted_ms < WANTED_MS;
    pthread_mutex_unlock(&nodes->lock);
    return is;
}

static void list_one(cJSON *list, const struct known *known, const char *own)
{
    cJSON *one = known->json ? cJSON_Parse(known->json) : NULL;
    double least = 1e300;
    if (!cJSON_IsObject(one)) {
        cJSON_Delete(one);
        one = cJSON_CreateObject();
    }
    cJSON_DeleteItemFromObjectCaseSensitive(one, "name"); /* the topic says it */
    cJSON_AddStringToObject(one, "name", known->name);
    cJSON_AddBoolToObject(one, "online", known->is_online || strcmp(known->name, own) == 0);
    for (unsigned k = 0; k < known->delays && k < NODES_DELAYS; k++)
        least = known->delay_ms[k] < least ? known->delay_ms[k] : least;
    if (known->delays)
        cJSON_AddNumberToObject(one, "behind_ms", (double)(int64_t)(least * 100) / 100);
    cJSON_AddItemToArray(list, one);
}

char *dia_nodes_list(struct nodes *nodes)
{
    cJSON *json = cJSON_CreateObject(), *list = cJSON_AddArrayToObject(json, "nodes");
    pthread_mutex_lock(&nodes->lock);
    nodes->wanted_ms = dia_steady_ms();
    cJSON_AddStringToObject(json, "node", nodes->name);
    cJSON_AddBoolToObject(json, "broker", nodes->is_online);
    for (uint32_t k = 0; k < nodes->count; k++)
        list_one(list, &nodes->known[k], nodes->name);
    pthread_mutex_unlock(&nodes->lock);
    dia_nodes_wake(nodes);
    char *text = cJSON_PrintUnformatted(json);
    cJSON_Delete(json);
    return text;
}
