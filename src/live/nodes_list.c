/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <cjson/cJSON.h>

#include "node_clock.h"
#include "nodes_private.h"

/* What nodes say of themselves, and the list of them. */
#define MOST_TEXT 4096 /* bytes of what a node says */
#define WANTED_MS 15000

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

void dia_nodes_expect(struct nodes *nodes, const char *name)
{
    pthread_mutex_lock(&nodes->lock);
    dia_nodes_known(nodes, name);
    pthread_mutex_unlock(&nodes->lock);
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

void dia_nodes_take_node(struct nodes *nodes, const char *topic, const char *text, size_t length,
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

int dia_nodes_wanted(struct nodes *nodes)
{
    pthread_mutex_lock(&nodes->lock);
    int is = nodes->wanted_ms && dia_steady_ms() - nodes->wanted_ms < WANTED_MS;
    nodes->has_list &= is;
    pthread_mutex_unlock(&nodes->lock);
    return is;
}

int dia_nodes_want(struct nodes *nodes)
{
    pthread_mutex_lock(&nodes->lock);
    nodes->wanted_ms = dia_steady_ms();
    int has = nodes->has_list || !nodes->is_online;
    pthread_mutex_unlock(&nodes->lock);
    dia_nodes_wake(nodes);
    return has;
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
    cJSON_AddStringToObject(json, "node", nodes->name);
    cJSON_AddBoolToObject(json, "broker", nodes->is_online);
    for (uint32_t k = 0; k < nodes->count; k++)
        list_one(list, &nodes->known[k], nodes->name);
    pthread_mutex_unlock(&nodes->lock);
    char *text = cJSON_PrintUnformatted(json);
    cJSON_Delete(json);
    return text;
}
