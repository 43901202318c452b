/* SPDX-License-Identifier: MIT */
#ifndef DIA_LIVE_HUB_H
#define DIA_LIVE_HUB_H

#include <pthread.h>
#include <stddef.h>
#include <stdint.h>

#include <diachrome/scene.h>

/*
 * Between the light and the network: what clients ask for goes one way, what there is to see the
 * other. Neither waits for the other for longer than a copy takes.
 */
#define HUB_REQUESTS 512u /* waiting, of all clients */
#define HUB_EACH     64u  /* of one client */

/* What a client asks for. */
enum hub_what {
    HUB_CHANGE,
    HUB_TEXT,
    HUB_SAVE,
    HUB_PRESET_SAVE,
    HUB_PRESET_USE,
    HUB_PRESET_DROP,
    HUB_DRAW
};
struct hub_request {
    uint64_t client;
    uint32_t number; /* the client's own, which comes back with the answer */
    uint8_t what;    /* enum hub_what */
    char *line;      /* on the heap */
};

struct hub_answer {
    uint64_t client;
    uint32_t number;
    char *wrong; /* on the heap; NULL: it is done */
};

/* The client that stands for the broker; of what it asked wrongly the newest is kept. */
#define HUB_BROKER UINT64_MAX

/* What there is to tell. */
enum hub_news { HUB_STATE, HUB_STATUS, HUB_SCENE, HUB_DRAWING, HUB_NEWS };

struct hub {
    char *broker_wrong;
    pthread_mutex_t lock;
    struct hub_request requests[HUB_REQUESTS];
    uint32_t first, count;
    struct hub_answer answers[HUB_REQUESTS];
    uint32_t answer_first, answer_count;
    uint8_t *frame; /* frame_bytes of them, the newest */
    uint32_t frame_bytes, frames, frame_number, frame_ms, frame_of_run;
    char *next_scene; /* of the light alone, until the first frame of it is shown */
    uint8_t *next_frame;
    uint32_t next_bytes;
    char *news[HUB_NEWS]; /* JSON, on the heap */
    uint32_t numbers[HUB_NEWS];
};

/* scene: JSON on the heap, which the hub takes; frames have so many bytes. 0, or -1: no memory. */
int dia_hub_init(struct hub *hub, char *scene, uint32_t frame_bytes);
/* Another scene, with the next frame that is shown: nobody meets a scene without a frame, nor a
 * frame of another scene. */
int dia_hub_change_scene(struct hub *hub, char *scene, uint32_t frame_bytes);
void dia_hub_free(struct hub *hub);

/* The network's side. hub_ask takes the line; 0: there is no room, or none for this client. */
int dia_hub_ask(struct hub *hub, uint64_t client, uint32_t number, enum hub_what what, char *line);
int dia_hub_answer(struct hub *hub, struct hub_answer *answer); /* 1: there was one */
char *dia_hub_broker_wrong(struct hub *hub);           /* on the heap, once; NULL: nothing */
void dia_hub_forget(struct hub *hub, uint64_t client); /* it is gone */

/* Copies of what there is, on the heap, when it is newer than number; NULL: it is not. */
char *dia_hub_news(struct hub *hub, enum hub_news what, uint32_t *number);
/* The newest frame on the heap behind `head` bytes of room, when it is newer than number, and its
 * length: the show's ms and which frame of the run it is, lower bytes first, and its bytes. NULL:
 * it is not newer. */
#define HUB_FRAME_HEAD 8
uint8_t *dia_hub_frame(struct hub *hub, uint32_t *number, size_t head, size_t *length);

/* The light's side. */
int dia_hub_take(struct hub *hub, struct hub_request *request); /* 1: there was one */
void dia_hub_reply(struct hub *hub, const struct hub_request *to, const char *wrong);
void dia_hub_tell(struct hub *hub, enum hub_news what,
                  char *json); /* takes it; NULL: nothing new */
/* Frames of the same bytes are no news. 1: it is one. */
int dia_hub_show(struct hub *hub, const uint8_t *frame, uint32_t show_ms, uint32_t of_run);

#endif
