/* SPDX-License-Identifier: MIT */
#ifndef DIA_LIVE_WEB_PRIVATE_H
#define DIA_LIVE_WEB_PRIVATE_H

#include <stdatomic.h>

#include <libwebsockets.h>

#include "pairing.h"
#include "web.h"

#define WEB_BODY  (1u << 18) /* longest body or message that comes in, bytes */
#define WEB_QUEUE 64         /* answers that wait for a slow client */
#define WEB_PIECE 16384u     /* written at a time */

/* A connection: one request after the other, or a socket. lws owns it, cleared when it begins. */
#define WEB_LOG_LINES 20 /* a second */
#define WEB_HELD      8  /* keys that a client may hold: those come up when it is gone */

struct client {
    uint64_t id;
    struct client *next;
    struct lws *wsi;
    int is_socket, is_open; /* is_open: it is in the list */
    char from[48];
    /* what comes in */
    char *in;
    size_t in_length;
    int too_long;
    int is_answered; /* this request; what comes of its body then is left out, */
    int has_body;    /* and where the body may still come, the connection ends */
    int method;
    char path[128];
    /* what waits for the light */
    uint32_t asked, answered;
    uint32_t turns; /* for the list of nodes */
    char *wrong;    /* JSON list of what was wrong so far, without its bracket; NULL: nothing */
    /* what goes out: LWS_PRE bytes, then the body */
    uint8_t *out;
    size_t out_length, out_at;
    /* of a socket */
    char *answers[WEB_QUEUE];
    uint32_t answer_count;
    uint32_t state_number, status_number, drawing_number, frame_number;
    int watches;             /* 1: it wants frames */
    char held[WEB_HELD][48]; /* keys that it holds; "": none */
};

struct web {
    const struct dia_serve_options *options;
    struct hub *hub;
    struct nodes *nodes; /* NULL: it is a rig by itself */
    const char *looks;
    struct lws_context *context;
    struct lws_vhost *vhost;
    pthread_t thread;
    int runs;
    atomic_int ends;
    struct client *clients;
    uint64_t next_id;
    atomic_uint sockets; /* that watch */
    struct pairings pairings;
    char own_name[80];
    uint64_t log_second; /* of the lines below */
    uint32_t log_lines;  /* that there were in it, those left out too */
};

/* A file of the page, by its path: see page/. NULL: there is none. */
struct web_file {
    const char *path, *type;
    const unsigned char *bytes;
    size_t length;
    const char *tag; /* of what is in it, in quotes */
};
extern const struct web_file dia_web_files[]; /* ends with no path */

/* web_guard.c: an address of this machine that nobody else can come from; and 0, or the HTTP status
 * with which it is refused, and why. */
int dia_web_is_here(const char *address);
int dia_web_refuses(struct web *web, struct client *client, struct lws *wsi, int needs_pairing,
                    const char **why);
uint64_t dia_web_seconds(void);

/* web_http.c: what happens to a request, and to its answers from the light. */
int dia_web_http(struct web *web, struct client *client, enum lws_callback_reasons reason, void *in,
                 size_t length);
void dia_web_http_answer(struct client *client, struct hub_answer *answer);

/* web_socket.c: the same of a socket. */
int dia_web_socket(struct web *web, struct client *client, enum lws_callback_reasons reason,
                   void *in, size_t length);
void dia_web_socket_answer(struct client *client, struct hub_answer *answer);
void dia_web_socket_gone(struct web *web, struct client *client);

/* Adds what came in to client->in; too_long where it is more than WEB_BODY. 0: no memory. */
int dia_web_take_in(struct client *client, const void *in, size_t length);

/* Writes a line to the log, if there is one. */
void dia_web_log(struct web *web, const char *format, ...) __attribute__((format(printf, 2, 3)));

#endif
