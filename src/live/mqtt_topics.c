/* SPDX-License-Identifier: MIT */
#include <ctype.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "mqtt_private.h"
#include "node_clock.h"

#define TELL_MS 1000u     /* state and values are told no more often than this */
#define PAYLOAD (1 << 18) /* longest that comes in, bytes, */
#define RUN     (1 << 20) /* and of a run of many nodes */

/* ---- out ------------------------------------------------------------------------------------- */

int dia_mqtt_tell(struct mqtt *mqtt, const char *topic, const char *name, const char *text,
                  int keep)
{
    char whole[TOPIC];
    snprintf(whole, sizeof whole, "%s/%s%s", mqtt->base, topic, name);
    return mosquitto_publish(mqtt->client, NULL, whole, (int)strlen(text), text, 1, keep);
}

static void tell_state(struct mqtt *mqtt)
{
    char *json = dia_hub_news(mqtt->hub, HUB_STATE, &mqtt->state_number), master[24];
    cJSON *state = json ? cJSON_Parse(json) : NULL;
    const cJSON *level = cJSON_GetObjectItemCaseSensitive(state, "master");
    if (cJSON_IsNumber(level)) {
        dia_mqtt_tell(mqtt, "state", "", json, 1);
        snprintf(master, sizeof master, "%.4g", level->valuedouble);
        dia_mqtt_tell(mqtt, "master", "", master, 1);
    }
    cJSON_Delete(state);
    free(json);
}

/* Those that have changed. */
static void tell_values(struct mqtt *mqtt)
{
    char *json = dia_hub_news(mqtt->hub, HUB_STATUS, &mqtt->status_number);
    cJSON *status = json ? cJSON_Parse(json) : NULL;
    cJSON *values = cJSON_DetachItemFromObjectCaseSensitive(status, "values"), *one;
    cJSON_ArrayForEach(one, values)
    {
        const cJSON *was = cJSON_GetObjectItemCaseSensitive(mqtt->values, one->string);
        if (cJSON_IsString(one) && !cJSON_Compare(one, was, 1))
            dia_mqtt_tell(mqtt, "value/", one->string, one->valuestring, 1);
    }
    if (values) {
        cJSON_Delete(mqtt->values);
        mqtt->values = values;
    }
    cJSON_Delete(status);
    free(json);
}

static void tell_wrong(struct mqtt *mqtt)
{
    char *wrong = dia_hub_broker_wrong(mqtt->hub), lost[80];
    if (wrong)
        dia_mqtt_tell(mqtt, "wrong", "", wrong, 0);
    free(wrong);
    if (mqtt->lost == 0)
        return;
    snprintf(lost, sizeof lost, "%u changes came too fast and were not made", mqtt->lost);
    dia_mqtt_tell(mqtt, "wrong", "", lost, 0);
    dia_mqtt_say(mqtt, "flood", lost);
    mqtt->lost = 0;
}

void dia_mqtt_tell_all(struct mqtt *mqtt)
{
    uint64_t ms = dia_steady_ms();
    if (!mqtt->is_connected || ms - mqtt->told_ms < TELL_MS)
        return;
    mqtt->told_ms = ms;
    tell_state(mqtt);
    tell_values(mqtt);
    tell_wrong(mqtt);
}

/* ---- in -------------------------------------------------------------------------------------- */

static void ask(struct mqtt *mqtt, enum hub_what what, const char *format, const char *a,
                const char *b)
{
    size_t size = strlen(format) + strlen(a) + strlen(b) + 1;
    char *line = malloc(size);
    if (line)
        snprintf(line, size, format, a, b);
    if (!dia_hub_ask(mqtt->hub, HUB_BROKER, 0, what, line))
        mqtt->lost++;
}

/* "50", "50 %" or "50%". */
static void set_master(struct mqtt *mqtt, const char *text)
{
    size_t length = strlen(text);
    ask(mqtt, HUB_CHANGE, "master %s%s", text,
        length && isdigit((unsigned char)text[length - 1]) ? "%" : "");
}

static void set(struct mqtt *mqtt, const char *topic, const char *text)
{
    if (strcmp(topic, "master") == 0)
        set_master(mqtt, text);
    else if (strncmp(topic, "paint/", 6) == 0)
        ask(mqtt, HUB_CHANGE, "paint %s %s", topic + 6, text);
    else if (strncmp(topic, "value/", 6) == 0)
        ask(mqtt, HUB_CHANGE, "value %s %s", topic + 6, text);
    else if (strcmp(topic, "preset") == 0)
        ask(mqtt, HUB_PRESET_USE, "%s%s", text, "");
    else if (strcmp(topic, "pause") == 0)
        ask(mqtt, HUB_CHANGE, "%s%s", strcmp(text, "no") == 0 ? "resume" : "pause", "");
    else /* there is no such change, which is said */
        ask(mqtt, HUB_CHANGE, "set/%s %s", topic, text);
}

void dia_mqtt_heard(struct mosquitto *client, void *self, const struct mosquitto_message *message)
{
    struct mqtt *mqtt = self;
    size_t own = strlen(mqtt->base), root = strlen(mqtt->root);
    const char *topic = message->topic + own + 1;
    int is_own = strncmp(message->topic, mqtt->base, own) == 0 && message->topic[own] == '/' &&
                 (strcmp(topic, "change") == 0 || strncmp(topic, "set/", 4) == 0);
    const char *shared = message->topic + root + 1;
    (void)client;
    if (!is_own && mqtt->files &&
        (strcmp(shared, "run/rig") == 0 || strncmp(shared, "run/file/", 9) == 0)) {
        if (message->payloadlen > 0)
            dia_files_take(mqtt->files, shared + 4, message->payload, (size_t)message->payloadlen);
        return;
    }
    if (message->payloadlen < 0 || message->payloadlen >= (is_own ? PAYLOAD : RUN))
        return;
    char *text = calloc((size_t)message->payloadlen + 1, 1);
    if (!text)
        return;
    if (message->payloadlen)
        memcpy(text, message->payload, (size_t)message->payloadlen);
    if (!is_own) {
        if (mqtt->nodes)
            dia_nodes_take(mqtt->nodes, shared, text, (size_t)message->payloadlen, message->retain);
        if (mqtt->files && dia_nodes_is_answer(mqtt->nodes, shared))
            dia_files_known(mqtt->files);
    } else if (strcmp(topic, "change") != 0) {
        set(mqtt, topic + 4, text);
    } else if (!message->retain) { /* an old change is not made once more */
        char *save = NULL;
        for (char *line = strtok_r(text, "\r\n", &save); line; line = strtok_r(NULL, "\r\n", &save))
            ask(mqtt, HUB_CHANGE, "%s%s", line, "");
    }
    free(text);
}
