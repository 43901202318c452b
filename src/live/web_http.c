/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <cjson/cJSON.h>

#include "nodes.h"
#include "tell.h"
#include "web_private.h"

/* Requests and their answers: page/openapi.json has them all. */

#define POLICY                                                                                     \
    "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self'; connect-src "        \
    "'self'; "                                                                                     \
    "base-uri 'none'; form-action 'none'; frame-ancestors 'none'"

#define LIST_US    10000 /* how often a list of nodes that is not yet there is looked at, */
#define LIST_TURNS 100   /* and how many times */

static int add(struct lws *wsi, const char *name, const char *value, uint8_t **at, uint8_t *end)
{
    return lws_add_http_header_by_name(wsi, (const unsigned char *)name,
                                       (const unsigned char *)value, (int)strlen(value), at, end);
}

/* The head of an answer, and its body for later; takes nothing of it. more: one header besides. */
static int answer(struct client *client, unsigned code, const char *type, const void *body,
                  size_t length, const char *more, const char *value)
{
    uint8_t head[LWS_PRE + 2048], *start = head + LWS_PRE, *at = start, *end = head + sizeof head;
    struct lws *wsi = client->wsi;
    free(client->out);
    client->is_answered = 1;
    client->out = malloc(LWS_PRE + length + 1);
    if (!client->out)
        return -1;
    memcpy(client->out + LWS_PRE, body, length);
    client->out_length = client->method == LWSHUMETH_HEAD ? 0 : length;
    client->out_at = 0;
    if (lws_add_http_common_headers(wsi, code, type, length, &at, end) ||
        add(wsi, "content-security-policy:", POLICY, &at, end) ||
        add(wsi, "x-content-type-options:", "nosniff", &at, end) ||
        add(wsi, "referrer-policy:", "no-referrer", &at, end) ||
        add(wsi, "cross-origin-resource-policy:", "same-origin", &at, end) ||
        add(wsi, "cache-control:", "no-cache", &at, end) ||
        (more && add(wsi, more, value, &at, end)) ||
        lws_finalize_write_http_header(wsi, start, &at, end))
        return -1;
    lws_callback_on_writable(wsi);
    return 0;
}

static int answer_json(struct client *client, unsigned code, char *json)
{
    int failed =
        json ? answer(client, code, "application/json", json, strlen(json), NULL, NULL) : -1;
    free(json);
    return failed;
}

static int refuse(struct client *client, unsigned code, const char *why)
{
    return answer_json(client, code, dia_tell_wrong(why));
}

/* A piece of the body; when all of it is out, the next request may come. */
static int put_piece(struct client *client)
{
    size_t left = client->out_length - client->out_at;
    size_t length = left < WEB_PIECE ? left : WEB_PIECE;
    if (!client->out)
        return 0;
    if (lws_write(client->wsi, client->out + LWS_PRE + client->out_at, length,
                  length == left ? LWS_WRITE_HTTP_FINAL : LWS_WRITE_HTTP) < (int)length)
        return -1;
    client->out_at += length;
    if (client->out_at < client->out_length) {
        lws_callback_on_writable(client->wsi);
        return 0;
    }
    free(client->out);
    client->out = NULL;
    if (client->has_body) /* it was refused before its body was there */
        return -1;
    return lws_http_transaction_completed(client->wsi) ? -1 : 0;
}

/* ---- what can be read ------------------------------------------------------------------------ */

static int is(const struct client *client, int method, const char *path)
{
    return client->method == method && strcmp(client->path, path) == 0;
}

static int give_file(struct client *client, const struct web_file *file)
{
    char known[80];
    if (lws_hdr_copy(client->wsi, known, sizeof known, WSI_TOKEN_HTTP_IF_NONE_MATCH) > 0 &&
        strcmp(known, file->tag) == 0)
        return answer(client, 304, file->type, "", 0, "etag:", file->tag);
    return answer(client, 200, file->type, file->bytes, file->length, "etag:", file->tag);
}

static int give_pairing(struct web *web, struct client *client)
{
    const char *why;
    int needed = dia_web_refuses(web, client, client->wsi, 1, &why) == 401;
    if (needed && dia_pairings_ask(&web->pairings, dia_web_seconds()))
        dia_web_log(web, "pairing code=%s address=%s", web->pairings.code, client->from);
    return answer_json(client, 200, strdup(needed ? "{\"paired\":false}" : "{\"paired\":true}"));
}

static int give_frame(struct web *web, struct client *client)
{
    uint32_t none = 0;
    size_t length = 0;
    uint8_t *frame = dia_hub_frame(web->hub, &none, 0, &length);
    if (!frame) /* something is always shown before anybody can ask */
        return refuse(client, 503, "out of memory");
    int failed = answer(client, 200, "application/octet-stream", frame, length, NULL, NULL);
    free(frame);
    return failed;
}

static int give_show(struct web *web, struct client *client)
{
    uint32_t none = 0;
    char *json = dia_hub_news(web->hub, HUB_STATE, &none);
    cJSON *state = json ? cJSON_Parse(json) : NULL;
    const cJSON *text = cJSON_GetObjectItemCaseSensitive(state, "text");
    int failed = cJSON_IsString(text)
                     ? answer(client, 200, "text/plain; charset=utf-8", text->valuestring,
                              strlen(text->valuestring), NULL, NULL)
                     : -1;
    cJSON_Delete(state);
    free(json);
    return failed;
}

/* Who has paired, for those who may ask. */
static int give_pairings(struct web *web, struct client *client)
{
    cJSON *json = cJSON_CreateArray();
    for (uint32_t k = 0; k < web->pairings.count; k++) {
        cJSON *one = cJSON_CreateObject();
        cJSON_AddItemToArray(json, one);
        cJSON_AddNumberToObject(one, "number", web->pairings.all[k].number);
        cJSON_AddStringToObject(one, "address", web->pairings.all[k].from);
    }
    char *text = cJSON_PrintUnformatted(json);
    cJSON_Delete(json);
    return answer_json(client, 200, text);
}

/* What nodes say is heard while somebody looks; who looks first waits for it, a second at most. */
static int give_nodes(struct web *web, struct client *client)
{
    if (!dia_nodes_want(web->nodes) && client->turns++ < LIST_TURNS) {
        lws_set_timer_usecs(client->wsi, LIST_US);
        return 0;
    }
    return answer_json(client, 200, dia_nodes_list(web->nodes));
}

static int give(struct web *web, struct client *client)
{
    uint32_t none = 0;
    if (is(client, LWSHUMETH_GET, "/state"))
        return answer_json(client, 200, dia_hub_news(web->hub, HUB_STATE, &none));
    if (is(client, LWSHUMETH_GET, "/status"))
        return answer_json(client, 200, dia_hub_news(web->hub, HUB_STATUS, &none));
    if (is(client, LWSHUMETH_GET, "/scene"))
        return answer_json(client, 200, dia_hub_news(web->hub, HUB_SCENE, &none));
    if (is(client, LWSHUMETH_GET, "/looks"))
        return answer_json(client, 200, strdup(web->looks));
    if (is(client, LWSHUMETH_GET, "/mask"))
        return answer_json(client, 200, dia_tell_mask());
    if (is(client, LWSHUMETH_GET, "/nodes") && web->nodes)
        return give_nodes(web, client);
    if (is(client, LWSHUMETH_GET, "/nodes"))
        return refuse(client, 404, "this rig is no node of many; see docs/nodes.md");
    if (is(client, LWSHUMETH_GET, "/drawing"))
        return answer_json(client, 200, dia_hub_news(web->hub, HUB_DRAWING, &none));
    if (is(client, LWSHUMETH_GET, "/pairings"))
        return give_pairings(web, client);
    if (is(client, LWSHUMETH_GET, "/frame"))
        return give_frame(web, client);
    if (is(client, LWSHUMETH_GET, "/show"))
        return give_show(web, client);
    return refuse(client, 404, "there is no such thing here; docs/live.md has all paths");
}

/* ---- what changes something ------------------------------------------------------------------ */

/* The name behind "/presets/"; NULL: it is none. */
static const char *preset_of(const struct client *client)
{
    return strncmp(client->path, "/presets/", 9) == 0 && client->path[9] ? client->path + 9 : NULL;
}

/* 1: the path is one that takes this method. */
static int takes(const struct client *client)
{
    return is(client, LWSHUMETH_POST, "/changes") || is(client, LWSHUMETH_POST, "/drawing") ||
           is(client, LWSHUMETH_PUT, "/show") || is(client, LWSHUMETH_POST, "/show/save") ||
           is(client, LWSHUMETH_POST, "/pairing") ||
           (preset_of(client) &&
            (client->method == LWSHUMETH_PUT || client->method == LWSHUMETH_POST));
}

static int ask(struct web *web, struct client *client, enum hub_what what, const char *line)
{
    char *copy = strdup(line);
    if (!copy || !dia_hub_ask(web->hub, client->id, ++client->asked, what, copy))
        return refuse(client, 429, "too many changes at once: at most 64 in one request");
    return 0;
}

/* Lines of changes, one after the other. */
static int ask_lines(struct web *web, struct client *client, enum hub_what what)
{
    unsigned lines = 0;
    for (const char *at = client->in; *at; at += strcspn(at, "\n"), at += *at != 0)
        lines++;
    if (lines == 0 || lines > HUB_EACH)
        return refuse(client, lines ? 413 : 400,
                      "the body is 1 to 64 lines, a change each, such as 'set sea.speed=20cm/s'");
    for (char *line = client->in; line && *line;) {
        char *end = strchr(line, '\n');
        if (end)
            *end++ = 0;
        line[strcspn(line, "\r")] = 0;
        if (ask(web, client, what, line) != 0)
            return -1;
        line = end;
    }
    return 0;
}

/* What cannot be kept holds until the end, and is told. */
static void keep_pairings(struct web *web)
{
    struct dia_diagnostic wrong = {""};
    if (dia_pairings_keep(&web->pairings, &wrong) != DIA_OK)
        dia_web_log(web, "pairings-not-kept %s", wrong.text);
}

/* A token is no more: sockets from other machines end, and come again where they still may. */
static int unpair(struct web *web, struct client *client)
{
    unsigned long number = strtoul(client->path + strlen("/pairings/"), NULL, 10);
    if (!dia_pairings_revoke(&web->pairings, (uint32_t)number))
        return refuse(client, 404, "there is no pairing of that number; GET /pairings has them");
    dia_web_log(web, "unpaired number=%lu address=%s", number, client->from);
    keep_pairings(web);
    for (struct client *other = web->clients; other; other = other->next) {
        if (other->is_socket && !dia_web_is_here(other->from))
            lws_set_timeout(other->wsi, PENDING_TIMEOUT_CLOSE_SEND, LWS_TO_KILL_ASYNC);
    }
    return answer_json(client, 200, dia_tell_wrong(NULL));
}

static int pair(struct web *web, struct client *client)
{
    char cookie[120], json[80];
    const char *token =
        dia_pairings_try(&web->pairings, client->in, client->from, dia_web_seconds());
    dia_web_log(web, "%s address=%s", token ? "paired" : "pairing-refused", client->from);
    if (!token)
        return refuse(client, 403, "this is not the code, or it is too old; ask for another");
    keep_pairings(web);
    snprintf(cookie, sizeof cookie, "diachrome=%s; HttpOnly; SameSite=Strict; Path=/%s", token,
             web->pairings.path ? "; Max-Age=31536000" : ""); /* a year */
    int n = snprintf(json, sizeof json, "{\"token\":\"%s\"}", token);
    return answer(client, 200, "application/json", json, (size_t)n, "set-cookie:", cookie);
}

static int change(struct web *web, struct client *client)
{
    if (client->too_long)
        return refuse(client, 413, "a body has at most 262144 bytes");
    if (!client->in && !dia_web_take_in(client, "", 0))
        return -1;
    if (is(client, LWSHUMETH_POST, "/pairing"))
        return pair(web, client);
    if (is(client, LWSHUMETH_POST, "/changes"))
        return ask_lines(web, client, HUB_CHANGE);
    if (is(client, LWSHUMETH_POST, "/drawing"))
        return ask_lines(web, client, HUB_DRAW);
    if (is(client, LWSHUMETH_PUT, "/show"))
        return ask(web, client, HUB_TEXT, client->in);
    if (is(client, LWSHUMETH_POST, "/show/save"))
        return ask(web, client, HUB_SAVE, "");
    return ask(web, client, client->method == LWSHUMETH_PUT ? HUB_PRESET_SAVE : HUB_PRESET_USE,
               preset_of(client));
}

void dia_web_http_answer(struct client *client, struct hub_answer *hears)
{
    char place[24] = "";
    size_t used = client->wrong ? strlen(client->wrong) : 0;
    client->answered++;
    if (hears->wrong) {
        if (client->asked > 1)
            snprintf(place, sizeof place, "line %u: ", (unsigned)hears->number);
        size_t size = used + strlen(place) + strlen(hears->wrong) + 2;
        char *more = realloc(client->wrong, size);
        if (more) {
            snprintf(more + used, size - used, "%s%s%s", used ? "\n" : "", place, hears->wrong);
            client->wrong = more;
        }
    }
    if (client->answered < client->asked || client->out)
        return;
    if (answer_json(client, client->wrong ? 400 : 200, dia_tell_wrong(client->wrong)) != 0)
        lws_set_timeout(client->wsi, PENDING_TIMEOUT_HTTP_CONTENT, LWS_TO_KILL_ASYNC);
}

/* ---- a request ------------------------------------------------------------------------------- */

/* 1: a body follows. */
static int has_body(struct lws *wsi)
{
    char length[24] = "";
    return lws_hdr_total_length(wsi, WSI_TOKEN_HTTP_TRANSFER_ENCODING) > 0 ||
           (lws_hdr_copy(wsi, length, sizeof length, WSI_TOKEN_HTTP_CONTENT_LENGTH) > 0 &&
            strcmp(length, "0") != 0);
}

static void begin(struct client *client, struct lws *wsi)
{
    char *uri = NULL;
    int length = 0;
    client->method = lws_http_get_uri_and_method(wsi, &uri, &length);
    snprintf(client->path, sizeof client->path, "%.*s", length > 0 ? length : 0, uri ? uri : "");
    free(client->wrong);
    client->wrong = NULL;
    client->in_length = 0;
    client->asked = client->answered = client->turns = 0;
    client->is_answered = 0;
    client->has_body = has_body(wsi);
    client->too_long = length >= (int)sizeof client->path;
}

static int is_open_to_all(const struct client *client)
{
    return is(client, LWSHUMETH_GET, "/pairing") || is(client, LWSHUMETH_POST, "/pairing");
}

static int begin_request(struct web *web, struct client *client)
{
    const char *why;
    begin(client, client->wsi);
    const struct web_file *file = dia_web_files;
    while (file->path && strcmp(file->path, client->path) != 0)
        file++;
    int code =
        dia_web_refuses(web, client, client->wsi, !file->path && !is_open_to_all(client), &why);
    if (code) {
        dia_web_log(web, "refused address=%s path=%s reason=\"%s\"", client->from, client->path,
                    why);
        return refuse(client, (unsigned)code, why);
    }
    if (file->path && (client->method == LWSHUMETH_GET || client->method == LWSHUMETH_HEAD))
        return give_file(client, file);
    if (is(client, LWSHUMETH_GET, "/pairing"))
        return give_pairing(web, client);
    if (client->method == LWSHUMETH_GET || client->method == LWSHUMETH_HEAD)
        return give(web, client);
    if (client->method == LWSHUMETH_DELETE && preset_of(client))
        return ask(web, client, HUB_PRESET_DROP, preset_of(client));
    if (client->method == LWSHUMETH_DELETE && strncmp(client->path, "/pairings/", 10) == 0)
        return unpair(web, client);
    if (!takes(client))
        return refuse(client, 405, "this path does not take this method; see docs/live.md");
    return client->has_body ? 0 : change(web, client);
}

int dia_web_http(struct web *web, struct client *client, enum lws_callback_reasons reason, void *in,
                 size_t length)
{
    switch (reason) {
    case LWS_CALLBACK_HTTP:
        return begin_request(web, client);
    case LWS_CALLBACK_HTTP_BODY:
        if (client->is_answered)
            return 0;
        return dia_web_take_in(client, in, length) ? 0 : -1;
    case LWS_CALLBACK_HTTP_BODY_COMPLETION:
        client->has_body = 0; /* others wait for their answer, and leave a body alone */
        return client->is_answered || !takes(client) ? 0 : change(web, client);
    case LWS_CALLBACK_TIMER:
        return give_nodes(web, client);
    default:
        return put_piece(client);
    }
}
