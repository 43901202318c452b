/* SPDX-License-Identifier: MIT */
#include <stdarg.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>
#include <unistd.h>

#include "presets.h"
#include "web_private.h"

/* A guest who is refused again and again does not fill a disk: so many lines a second, and how many
 * were left out. Codes for pairing, which are rare, always come. */
static int has_room(struct web *web, const char *format)
{
    char line[60];
    uint64_t now = dia_web_seconds();
    if (strncmp(format, "pairing code", 12) == 0)
        return 1;
    if (now != web->log_second) {
        if (web->log_lines > WEB_LOG_LINES) {
            snprintf(line, sizeof line, "left-out lines=%u",
                     (unsigned)(web->log_lines - WEB_LOG_LINES));
            web->options->log(line);
        }
        web->log_second = now;
        web->log_lines = 0;
    }
    return web->log_lines++ < WEB_LOG_LINES;
}

void dia_web_log(struct web *web, const char *format, ...)
{
    char line[512];
    va_list args;
    if (!web->options->log || !has_room(web, format))
        return;
    va_start(args, format);
    vsnprintf(line, sizeof line, format, args);
    va_end(args);
    web->options->log(line);
}

uint64_t dia_web_seconds(void)
{
    struct timespec at;
    clock_gettime(CLOCK_MONOTONIC, &at);
    return (uint64_t)at.tv_sec + 1; /* 0 is never */
}

int dia_web_take_in(struct client *client, const void *in, size_t length)
{
    if (client->in_length + length > WEB_BODY) {
        client->too_long = 1;
        return 1;
    }
    char *more = realloc(client->in, client->in_length + length + 1);
    if (!more)
        return 0;
    client->in = more;
    if (length) /* else in may be NULL */
        memcpy(more + client->in_length, in, length);
    client->in_length += length;
    more[client->in_length] = 0;
    return 1;
}

/* ---- who is there ---------------------------------------------------------------------------- */

static void enter(struct web *web, struct client *client, struct lws *wsi)
{
    if (client->is_open)
        return;
    client->is_open = 1;
    client->id = ++web->next_id;
    client->wsi = wsi;
    client->next = web->clients;
    web->clients = client;
    lws_get_peer_simple(wsi, client->from, sizeof client->from);
}

static void leave(struct web *web, struct client *client)
{
    if (!client->is_open)
        return;
    for (struct client **at = &web->clients; *at; at = &(*at)->next) {
        if (*at == client) {
            *at = client->next;
            break;
        }
    }
    client->is_open = 0;
    dia_hub_forget(web->hub, client->id);
    if (client->is_socket) {
        dia_web_socket_gone(web, client);
        web->sockets--;
    }
    while (client->answer_count)
        free(client->answers[--client->answer_count]);
    free(client->in);
    free(client->out);
    free(client->wrong);
    client->in = client->wrong = NULL;
    client->out = NULL;
}

/* Answers of the light go to those who asked; all who watch look what is new. */
static void hand_out(struct web *web)
{
    struct hub_answer answer;
    while (dia_hub_answer(web->hub, &answer)) {
        struct client *client = web->clients;
        while (client && client->id != answer.client)
            client = client->next;
        if (client && client->is_socket)
            dia_web_socket_answer(client, &answer);
        else if (client)
            dia_web_http_answer(client, &answer);
        free(answer.wrong);
    }
    for (struct client *client = web->clients; client; client = client->next) {
        if (client->is_socket)
            lws_callback_on_writable(client->wsi);
    }
}

static int called(struct lws *wsi, enum lws_callback_reasons reason, void *user, void *in,
                  size_t length)
{
    struct lws_context *context = lws_get_context(wsi);
    struct web *web = context ? lws_context_user(context) : NULL;
    struct client *client = user;
    const char *why;
    switch (reason) {
    case LWS_CALLBACK_EVENT_WAIT_CANCELLED:
        if (web)
            hand_out(web);
        return 0;
    case LWS_CALLBACK_FILTER_PROTOCOL_CONNECTION: {
        struct client asks = {.id = 0};
        lws_get_peer_simple(wsi, asks.from, sizeof asks.from);
        if (web->sockets == DIA_SERVE_CLIENTS || dia_web_refuses(web, &asks, wsi, 1, &why)) {
            dia_web_log(web, "refused address=%s reason=\"%s\"", asks.from,
                        web->sockets == DIA_SERVE_CLIENTS ? "too many clients" : why);
            return 1;
        }
        return 0;
    }
    case LWS_CALLBACK_ESTABLISHED:
        enter(web, client, wsi);
        client->is_socket = 1;
        web->sockets++;
        return dia_web_socket(web, client, reason, in, length);
    case LWS_CALLBACK_RECEIVE:
    case LWS_CALLBACK_SERVER_WRITEABLE:
        return dia_web_socket(web, client, reason, in, length);
    case LWS_CALLBACK_HTTP:
        enter(web, client, wsi);
        return dia_web_http(web, client, reason, in, length);
    case LWS_CALLBACK_HTTP_BODY:
    case LWS_CALLBACK_HTTP_BODY_COMPLETION:
    case LWS_CALLBACK_HTTP_WRITEABLE:
    case LWS_CALLBACK_TIMER:
        return dia_web_http(web, client, reason, in, length);
    case LWS_CALLBACK_CLOSED:
    case LWS_CALLBACK_CLOSED_HTTP:
    case LWS_CALLBACK_HTTP_DROP_PROTOCOL:
        if (client && web)
            leave(web, client);
        return 0;
    default:
        return 0;
    }
}

/* ---- from its beginning to its end ----------------------------------------------------------- */

static const struct lws_protocols protocols[] = {
    {"diachrome", called, sizeof(struct client), 4096, 0, NULL, 0}, {NULL, NULL, 0, 0, 0, NULL, 0}};

/* A connection that says nothing is asked whether it is there, and closed when it is not. */
static const lws_retry_bo_t idle = {.secs_since_valid_ping = 20, .secs_since_valid_hangup = 40};

struct web *dia_web_new(const struct dia_serve_options *options, struct hub *hub,
                        struct nodes *nodes, const char *looks, enum dia_status *status,
                        struct dia_diagnostic *wrong)
{
    struct web *web = calloc(1, sizeof *web);
    const char *address = options->address ? options->address : "127.0.0.1";
    *status = DIA_PORT_FAILED;
    if (!web) {
        dia_live_wrong(wrong, "out of memory");
        return NULL;
    }
    web->options = options;
    web->hub = hub;
    web->nodes = nodes;
    web->looks = looks;
    enum dia_status opened = dia_pairings_open(&web->pairings, options->pairings, wrong);
    if (opened != DIA_OK) {
        *status = opened;
        free(web);
        return NULL;
    }
    if (gethostname(web->own_name, sizeof web->own_name - 1) != 0)
        web->own_name[0] = 0;
    lws_set_log_level(0, NULL);
    struct lws_context_creation_info info;
    memset(&info, 0, sizeof info);
    info.options = LWS_SERVER_OPTION_EXPLICIT_VHOSTS | LWS_SERVER_OPTION_VALIDATE_UTF8;
    info.user = web;
    info.pt_serv_buf_size = WEB_PIECE + 1024;
    info.fd_limit_per_thread = 4 * DIA_SERVE_CLIENTS;
    web->context = lws_create_context(&info);
    info.protocols = protocols;
    info.port = options->port;
    info.iface = address;
    info.timeout_secs = 10;
    info.keepalive_timeout = 15;
    info.retry_and_idle_policy = &idle;
    info.server_string = "diachrome";
    info.options |= LWS_SERVER_OPTION_FAIL_UPON_UNABLE_TO_BIND;
    if (!strchr(address, ':')) /* else lws listens on all addresses, whichever was asked for */
        info.options |= LWS_SERVER_OPTION_DISABLE_IPV6;
    web->vhost = web->context ? lws_create_vhost(web->context, &info) : NULL;
    if (web->vhost && dia_web_port(web) != 0) {
        *status = DIA_OK;
        return web;
    }
    dia_live_wrong(wrong,
                   "cannot listen on %s, port %u: another program listens there, or the address is "
                   "none of this machine; '--listen ADDRESS:PORT' takes another",
                   address, (unsigned)options->port);
    dia_web_free(web);
    return NULL;
}

uint16_t dia_web_port(const struct web *web)
{
    int port = lws_get_vhost_listen_port(web->vhost);
    return port > 0 ? (uint16_t)port : 0;
}

static void *run(void *self)
{
    struct web *web = self;
    while (!web->ends && lws_service(web->context, 0) >= 0) {
    }
    return NULL;
}

int dia_web_start(struct web *web)
{
    web->runs = pthread_create(&web->thread, NULL, run, web) == 0;
    return web->runs ? 0 : -1;
}

void dia_web_wake(struct web *web)
{
    lws_cancel_service(web->context);
}

/* One that begins to watch now looks at all there is by itself. */
int dia_web_is_watched(const struct web *web)
{
    return web->sockets != 0;
}

void dia_web_free(struct web *web)
{
    if (!web)
        return;
    web->ends = 1;
    if (web->runs) {
        dia_web_wake(web);
        pthread_join(web->thread, NULL);
    }
    if (web->context)
        lws_context_destroy(web->context);
    free(web);
}
