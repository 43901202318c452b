/* SPDX-License-Identifier: MIT */
#ifndef DIA_LIVE_E131_H
#define DIA_LIVE_E131_H

#include <diachrome/serve.h>

#include "e131_merge.h"

/* The lighting network's side: packets are heard in a thread of its own; the light takes what they
 * amount to before each frame. */
struct e131;

/* Listens on an address of this machine, "ADDRESS" or "ADDRESS:PORT"; "0.0.0.0" is all. NULL and a
 * diagnostic. */
struct e131 *dia_e131_new(const char *listen, struct dia_diagnostic *wrong);
int dia_e131_start(struct e131 *e131); /* 0, or -1 */
void dia_e131_free(struct e131 *e131);

/* Hears a universe by multicast too; no-op where it does already. */
void dia_e131_join(struct e131 *e131, uint16_t universe);

/* Calls each with what has changed, see e131_merge.h. */
void dia_e131_news(struct e131 *e131, e131_news *each, void *self);

#endif
