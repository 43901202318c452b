/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <cjson/cJSON.h>

#include "tell.h"
#include "web_private.h"

/*
 * A socket: what comes in are changes, as a line or as JSON with a number that comes back with the
 * answer; what goes out are answers, state, status and frames. Nothing is kept for a slow client
 * but its answers: of all else it gets the newest when it can take it.
 */

static void put_answer(struct client *client, uint32_t number, const char *wrong)
{
    char *json = client->answer_count < WEB_QUEUE ? dia_tell_answer(number, wrong) : NULL;
    if (json)
        client->answers[client->answer_count++] = json;
    lws_callback_on_writable(client->wsi);
}

void dia_web_socket_answer(struct client *client, struct hub_answer *answer)
{
    put_answer(client, answer->number, answer->wrong);
}

/* What a message asks for, by its one key. */
static const struct {
    const char *key;
    enum hub_what what;
} asks[] = {{"change", HUB_CHANGE},
            {"text", HUB_TEXT},
            {"save", HUB_SAVE},
            {"preset_save", HUB_PRESET_SAVE},
            {"preset_use", HUB_PRESET_USE},
            {"preset_drop", HUB_PRESET_DROP},
            {"draw", HUB_DRAW}};

/* Which keys it holds, by what it asks for. */
static void note_keys(struct client *client, const char *line)
{
    char word[8], key[48];
    int n = sscanf(line, "%7s %47s", word, key);
    int is_hold = n == 2 && strcmp(word, "hold") == 0;
    if (!is_hold && (n != 2 || strcmp(word, "release") != 0))
        return;
    for (int k = 0; k < WEB_HELD; k++) { /* at most once */
        if (strcmp(client->held[k], key) == 0)
            client->held[k][0] = 0;
    }
    for (int k = 0; is_hold && k < WEB_HELD; k++) {
        if (client->held[k][0] == 0) {
            strcpy(client->held[k], key);
            return;
        }
    }
}

/* Keys that it held come up: nobody is there to let them go. */
void dia_web_socket_gone(struct web *web, struct client *client)
{
    char line[64];
    for (int k = 0; k < WEB_HELD; k++) {
        if (client->held[k][0] == 0)
            continue;
        snprintf(line, sizeof line, "release %s", client->held[k]);
        dia_hub_ask(web->hub, 0, 0, HUB_CHANGE, strdup(line));
    }
}

static void ask(struct web *web, struct client *client, uint32_t number, enum hub_what what,
                const char *line)
{
    if (what == HUB_CHANGE)
        note_keys(client, line);
    if (!dia_hub_ask(web->hub, client->id, number, what, strdup(line)))
        put_answer(client, number, "too many changes at once: wait for the answers");
}

static void take_json(struct web *web, struct client *client)
{
    cJSON *json = cJSON_Parse(client->in);
    const cJSON *number = cJSON_GetObjectItemCaseSensitive(json, "number");
    const cJSON *watch = cJSON_GetObjectItemCaseSensitive(json, "watch");
    uint32_t n = cJSON_IsNumber(number) && number->valuedouble >= 0 && number->valuedouble < 4e9
                     ? (uint32_t)number->valuedouble
                     : 0;
    int known = cJSON_IsBool(watch);
    if (known)
        client->watches = cJSON_IsTrue(watch);
    for (size_t k = 0; json && k < sizeof asks / sizeof asks[0]; k++) {
        const cJSON *line = cJSON_GetObjectItemCaseSensitive(json, asks[k].key);
        if (!line)
            continue;
        known = 1;
        ask(web, client, n, asks[k].what, cJSON_IsString(line) ? line->valuestring : "");
    }
    if (!known)
        put_answer(client, n,
                   json ? "a message has one of change, text, save, preset_save, preset_use, "
                          "preset_drop, draw, watch"
                        : "this is no JSON");
    cJSON_Delete(json);
}

static int take(struct web *web, struct client *client, const void *in, size_t length)
{
    if (!dia_web_take_in(client, in, length))
        return -1;
    if (!lws_is_final_fragment(client->wsi) || lws_remaining_packet_payload(client->wsi) > 0)
        return 0;
    if (client->too_long)
        put_answer(client, 0, "a message has at most 262144 bytes");
    else if (client->in && client->in[0] == '{')
        take_json(web, client);
    else if (client->in)
        ask(web, client, 0, HUB_CHANGE, client->in);
    client->in_length = 0;
    client->too_long = 0;
    return 0;
}

/* Bytes behind LWS_PRE of room, which are freed; asks for the next turn. */
static int put_bytes(struct client *client, uint8_t *bytes, size_t length,
                     enum lws_write_protocol as)
{
    int put = lws_write(client->wsi, bytes + LWS_PRE, length, as);
    free(bytes);
    lws_callback_on_writable(client->wsi);
    return put < (int)length ? -1 : 0;
}

static int put_text(struct client *client, char *json)
{
    size_t length = strlen(json);
    uint8_t *bytes = malloc(LWS_PRE + length);
    if (bytes)
        memcpy(bytes + LWS_PRE, json, length);
    free(json);
    return bytes ? put_bytes(client, bytes, length, LWS_WRITE_TEXT) : -1;
}

/* One thing each time that it can take one: answers first, then what is new. */
static int put(struct web *web, struct client *client)
{
    char *json = NULL;
    if (client->answer_count) {
        json = client->answers[0];
        client->answer_count--;
        memmove(client->answers, client->answers + 1,
                client->answer_count * sizeof client->answers[0]);
    }
    if (!json)
        json = dia_hub_news(web->hub, HUB_STATE, &client->state_number);
    if (!json)
        json = dia_hub_news(web->hub, HUB_DRAWING, &client->drawing_number);
    if (!json && client->watches) {
        size_t length = 0;
        uint8_t *frame = dia_hub_frame(web->hub, &client->frame_number, LWS_PRE, &length);
        if (frame)
            return put_bytes(client, frame, length, LWS_WRITE_BINARY);
    }
    if (!json)
        json = dia_hub_news(web->hub, HUB_STATUS, &client->status_number);
    if (!json)
        return 0;
    return put_text(client, json);
}

int dia_web_socket(struct web *web, struct client *client, enum lws_callback_reasons reason,
                   void *in, size_t length)
{
    if (reason == LWS_CALLBACK_RECEIVE)
        return take(web, client, in, length);
    if (reason == LWS_CALLBACK_ESTABLISHED) {
        dia_web_log(web, "watches address=%s clients=%u", client->from, (unsigned)web->sockets);
        lws_callback_on_writable(client->wsi);
        return 0;
    }
    return put(web, client);
}
