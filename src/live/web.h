/* SPDX-License-Identifier: MIT */
#ifndef DIA_LIVE_WEB_H
#define DIA_LIVE_WEB_H

#include <diachrome/serve.h>

#include "hub.h"
#include "nodes.h"

/*
 * The network's side: HTTP and WebSocket by libwebsockets, in a thread of its own. It knows the hub
 * and texts that do not change; of the light it knows nothing.
 */
struct web;

/* nodes: NULL where it is a rig by itself. looks: JSON, the caller's, for as long as the web lives.
 * NULL, what it was and a diagnostic. */
struct web *dia_web_new(const struct dia_serve_options *options, struct hub *hub,
                        struct nodes *nodes, const char *looks, enum dia_status *status,
                        struct dia_diagnostic *wrong);
uint16_t dia_web_port(const struct web *web);
int dia_web_start(struct web *web); /* its thread: 0, or -1 */
/* From any thread. There is something new in the hub; whether anybody watches, whom it would not
 * reach otherwise. */
void dia_web_wake(struct web *web);
int dia_web_is_watched(const struct web *web);
void dia_web_free(struct web *web); /* ends its thread, if there is one */

#endif
