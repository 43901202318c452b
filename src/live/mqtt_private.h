/* SPDX-License-Identifier: MIT */
#ifndef DIA_LIVE_MQTT_PRIVATE_H
#define DIA_LIVE_MQTT_PRIVATE_H

#include <pthread.h>
#include <stdatomic.h>

#include <cjson/cJSON.h>
#include <mosquitto.h>

#include "mqtt.h"

#define TOPIC    240 /* bytes of one that is told */
#define PASSWORD 128

/* mqtt.c has the connection, mqtt_topics.c what is told and heard on it. */
struct mqtt {
    struct mosquitto *client;
    struct hub *hub;
    void (*log)(const char *line);
    struct nodes *nodes; /* NULL: it is one rig by itself */
    struct files *files; /* NULL: each node has its own */
    char host[128], base[64 + 6 + DIA_RIG_NAME], root[64], password[PASSWORD];
    int is_tls, hears_nodes;
    int port;
    pthread_t thread;
    int runs, is_connected;
    atomic_int ends;
    uint32_t state_number, status_number;
    uint64_t told_ms, push_ms; /* when the next push goes out, of so many that are left */
    int pushes;
    cJSON *values;         /* as they were last told */
    unsigned lost;         /* that had no room, since it was last said */
    int answered, missing; /* the broker, on this connection; why it did not, as was said */
};

void dia_mqtt_say(const struct mqtt *mqtt, const char *what, const char *more); /* to the log */

/* A topic below its base, topic and name together: what the library answers. */
int dia_mqtt_tell(struct mqtt *mqtt, const char *topic, const char *name, const char *text,
                  int keep);
void dia_mqtt_tell_all(struct mqtt *mqtt); /* state, values and what was wrong, where it is time */
void dia_mqtt_heard(struct mosquitto *client, void *self, const struct mosquitto_message *message);

#endif
