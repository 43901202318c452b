/* SPDX-License-Identifier: MIT */
#include <arpa/inet.h>
#include <stdio.h>
#include <string.h>
#include <strings.h>

#include "web_private.h"

/*
 * Who may ask. A page of somebody else, open in a browser of the house, must not reach the light:
 * its requests say where they come from (Origin), and a name of its own that points here says so
 * (Host). What comes from other machines needs a token besides.
 */

int dia_web_is_here(const char *address)
{
    return strncmp(address, "127.", 4) == 0 || strcmp(address, "::1") == 0 ||
           strncmp(address, "::ffff:127.", 11) == 0;
}

/* The name of "name:port", without brackets. */
static void name_of(const char *host, char *name, size_t size)
{
    const char *from = host[0] == '[' ? host + 1 : host;
    size_t length = strcspn(from, host[0] == '[' ? "]" : ":");
    snprintf(name, size, "%.*s", (int)(length < size ? length : size - 1), from);
}

/* An address is nobody's name; of names those count that are ours. */
static int is_ours(const struct web *web, const char *host)
{
    char name[128], local[96];
    unsigned char address[16];
    name_of(host, name, sizeof name);
    if (inet_pton(AF_INET, name, address) == 1 || inet_pton(AF_INET6, name, address) == 1 ||
        strcasecmp(name, "localhost") == 0)
        return 1;
    snprintf(local, sizeof local, "%s.local", web->own_name);
    if (web->own_name[0] && (strcasecmp(name, web->own_name) == 0 || strcasecmp(name, local) == 0))
        return 1;
    for (uint32_t k = 0; k < web->options->name_count; k++) {
        if (strcasecmp(name, web->options->names[k]) == 0)
            return 1;
    }
    return 0;
}

/* Behind `name` in a cookie or an authorization: 1, and the token. */
static int token_behind(const char *text, const char *name, char token[PAIRING_TOKEN])
{
    const char *at = strstr(text, name);
    if (!at)
        return 0;
    snprintf(token, PAIRING_TOKEN, "%.*s", PAIRING_TOKEN - 1, at + strlen(name));
    return 1;
}

static int is_paired(const struct web *web, struct lws *wsi)
{
    char text[1024], token[PAIRING_TOKEN];
    if (lws_hdr_copy(wsi, text, sizeof text, WSI_TOKEN_HTTP_AUTHORIZATION) > 0 &&
        token_behind(text, "Bearer ", token) && dia_pairings_know(&web->pairings, token))
        return 1;
    return lws_hdr_copy(wsi, text, sizeof text, WSI_TOKEN_HTTP_COOKIE) > 0 &&
           token_behind(text, "diachrome=", token) && dia_pairings_know(&web->pairings, token);
}

int dia_web_refuses(struct web *web, struct client *client, struct lws *wsi, int needs_pairing,
                    const char **why)
{
    char host[160] = "", origin[200] = "", own[200];
    lws_hdr_copy(wsi, host, sizeof host, WSI_TOKEN_HOST);
    lws_hdr_copy(wsi, origin, sizeof origin, WSI_TOKEN_ORIGIN);
    *why = "";
    if (!host[0] || !is_ours(web, host)) {
        *why = "this machine has another name; 'diachrome serve --name NAME' adds one";
        return 421;
    }
    snprintf(own, sizeof own, "http://%s", host);
    if (lws_hdr_total_length(wsi, WSI_TOKEN_ORIGIN) > 0 && strcasecmp(origin, own) != 0) {
        *why = "pages from elsewhere may not ask here";
        return 403;
    }
    if (needs_pairing && !dia_web_is_here(client->from) && !is_paired(web, wsi)) {
        *why = "not paired: open the page, and type the code that this machine shows";
        return 401;
    }
    return 0;
}
