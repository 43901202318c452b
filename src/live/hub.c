/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include "hub.h"

int dia_hub_init(struct hub *hub, char *scene, uint32_t frame_bytes)
{
    memset(hub, 0, sizeof *hub);
    if (pthread_mutex_init(&hub->lock, NULL) == 0)
        return dia_hub_change_scene(hub, scene, frame_bytes);
    free(scene);
    return -1;
}

int dia_hub_change_scene(struct hub *hub, char *scene, uint32_t frame_bytes)
{
    uint8_t *frame = calloc(frame_bytes + 1u, 1);
    if (!frame || !scene) {
        free(frame);
        free(scene);
        return -1;
    }
    free(hub->next_frame);
    free(hub->next_scene);
    hub->next_frame = frame;
    hub->next_bytes = frame_bytes;
    hub->next_scene = scene;
    return 0;
}

/* With the lock. */
static void take_next_scene(struct hub *hub)
{
    free(hub->frame);
    free(hub->news[HUB_SCENE]);
    hub->frame = hub->next_frame;
    hub->frame_bytes = hub->next_bytes;
    hub->frame_number = 0;
    hub->news[HUB_SCENE] = hub->next_scene;
    hub->numbers[HUB_SCENE]++;
    hub->next_frame = NULL;
    hub->next_scene = NULL;
}

void dia_hub_free(struct hub *hub)
{
    for (; hub->count; hub->count--)
        free(hub->requests[hub->first++ % HUB_REQUESTS].line);
    for (; hub->answer_count; hub->answer_count--)
        free(hub->answers[hub->answer_first++ % HUB_REQUESTS].wrong);
    free(hub->frame);
    free(hub->next_frame);
    free(hub->next_scene);
    for (int k = 0; k < HUB_NEWS; k++)
        free(hub->news[k]);
    free(hub->broker_wrong);
    pthread_mutex_destroy(&hub->lock);
}

/* ---- requests and answers -------------------------------------------------------------------- */

int dia_hub_ask(struct hub *hub, uint64_t client, uint32_t number, enum hub_what what, char *line)
{
    uint32_t own = 0;
    pthread_mutex_lock(&hub->lock);
    for (uint32_t k = 0; k < hub->count; k++)
        own += hub->requests[(hub->first + k) % HUB_REQUESTS].client == client;
    int fits = hub->count + hub->answer_count < HUB_REQUESTS && own < HUB_EACH && line;
    if (fits)
        hub->requests[(hub->first + hub->count++) % HUB_REQUESTS] =
            (struct hub_request){client, number, (uint8_t)what, line};
    pthread_mutex_unlock(&hub->lock);
    if (!fits)
        free(line);
    return fits;
}

int dia_hub_take(struct hub *hub, struct hub_request *request)
{
    pthread_mutex_lock(&hub->lock);
    int any = hub->count != 0;
    if (any) {
        *request = hub->requests[hub->first];
        hub->first = (hub->first + 1) % HUB_REQUESTS;
        hub->count--;
    }
    pthread_mutex_unlock(&hub->lock);
    return any;
}

void dia_hub_reply(struct hub *hub, const struct hub_request *to, const char *wrong)
{
    pthread_mutex_lock(&hub->lock);
    if (to->client == HUB_BROKER && wrong) {
        free(hub->broker_wrong);
        hub->broker_wrong = strdup(wrong);
    }
    if (to->client && to->client != HUB_BROKER && hub->answer_count < HUB_REQUESTS)
        hub->answers[(hub->answer_first + hub->answer_count++) % HUB_REQUESTS] =
            (struct hub_answer){to->client, to->number, wrong ? strdup(wrong) : NULL};
    pthread_mutex_unlock(&hub->lock);
}

int dia_hub_answer(struct hub *hub, struct hub_answer *answer)
{
    pthread_mutex_lock(&hub->lock);
    int any = hub->answer_count != 0;
    if (any) {
        *answer = hub->answers[hub->answer_first];
        hub->answer_first = (hub->answer_first + 1) % HUB_REQUESTS;
        hub->answer_count--;
    }
    pthread_mutex_unlock(&hub->lock);
    return any;
}

char *dia_hub_broker_wrong(struct hub *hub)
{
    pthread_mutex_lock(&hub->lock);
    char *wrong = hub->broker_wrong;
    hub->broker_wrong = NULL;
    pthread_mutex_unlock(&hub->lock);
    return wrong;
}

/* What it asked for is done all the same; nobody hears of it. */
void dia_hub_forget(struct hub *hub, uint64_t client)
{
    pthread_mutex_lock(&hub->lock);
    for (uint32_t k = 0; k < hub->count; k++) {
        struct hub_request *request = &hub->requests[(hub->first + k) % HUB_REQUESTS];
        request->client = request->client == client ? 0 : request->client;
    }
    pthread_mutex_unlock(&hub->lock);
}

/* ---- what there is to see -------------------------------------------------------------------- */

void dia_hub_tell(struct hub *hub, enum hub_news what, char *json)
{
    if (!json)
        return;
    pthread_mutex_lock(&hub->lock);
    free(hub->news[what]);
    hub->news[what] = json;
    hub->numbers[what]++;
    pthread_mutex_unlock(&hub->lock);
}

char *dia_hub_news(struct hub *hub, enum hub_news what, uint32_t *number)
{
    pthread_mutex_lock(&hub->lock);
    const char *json = hub->news[what];
    char *copy = json && hub->numbers[what] != *number ? strdup(json) : NULL;
    if (copy)
        *number = hub->numbers[what];
    pthread_mutex_unlock(&hub->lock);
    return copy;
}

int dia_hub_show(struct hub *hub, const uint8_t *frame, uint32_t show_ms, uint32_t of_run)
{
    pthread_mutex_lock(&hub->lock);
    if (hub->next_scene)
        take_next_scene(hub);
    int is_new = hub->frame_number == 0 || memcmp(hub->frame, frame, hub->frame_bytes) != 0;
    if (is_new) {
        memcpy(hub->frame, frame, hub->frame_bytes);
        hub->frames += hub->frames == UINT32_MAX ? 2 : 1; /* 0: none yet */
        hub->frame_number = hub->frames;
        hub->frame_ms = show_ms;
        hub->frame_of_run = of_run;
    }
    pthread_mutex_unlock(&hub->lock);
    return is_new;
}

uint8_t *dia_hub_frame(struct hub *hub, uint32_t *number, size_t head, size_t *length)
{
    uint8_t *to = NULL;
    pthread_mutex_lock(&hub->lock);
    if (hub->frame_number != 0 && hub->frame_number != *number) {
        *length = HUB_FRAME_HEAD + hub->frame_bytes;
        to = malloc(head + *length);
    }
    if (to) {
        *number = hub->frame_number;
        for (size_t k = 0; k < 4; k++) {
            to[head + k] = (uint8_t)(hub->frame_ms >> 8 * k);
            to[head + 4 + k] = (uint8_t)(hub->frame_of_run >> 8 * k);
        }
        memcpy(to + head + HUB_FRAME_HEAD, hub->frame, hub->frame_bytes);
    }
    pthread_mutex_unlock(&hub->lock);
    return to;
}
