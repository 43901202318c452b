/* SPDX-License-Identifier: MIT */
#ifndef DIA_LIVE_NODES_H
#define DIA_LIVE_NODES_H

#include <diachrome/rig.h>

#include "journal.h"

/*
 * Between the light and the broker, for rigs of many nodes: what goes out and what comes in, and
 * what nodes say of themselves. Neither side waits for the other for longer than a copy takes.
 * docs/nodes.md has the topics.
 */
struct nodes;

/* 0: no memory. name: of this node. */
struct nodes *dia_nodes_new(const char *name);
void dia_nodes_free(struct nodes *nodes);
const char *dia_nodes_name(const struct nodes *nodes);
const char *dia_nodes_me(const struct nodes *nodes); /* eight digits, for this process alone */

/* The light's side. What has come: 1, and it is in item, whose text is on the heap; 0: nothing. */
enum nodes_kind {
    NODES_CHANGE, /* of a node */
    NODES_STATE,  /* of the run, as somebody wrote it */
    NODES_SYNCED, /* all that the broker keeps has come */
    NODES_LOST    /* the broker is gone */
};
struct nodes_item {
    uint8_t kind; /* enum nodes_kind */
    uint8_t kept; /* 1: the broker kept it */
    struct journal_event event;
    char *text;
    struct nodes_item *next;
};
int dia_nodes_next(struct nodes *nodes, struct nodes_item *item);
unsigned dia_nodes_dropped(struct nodes *nodes); /* that found no room, since it was last asked */

/* To the broker, to be kept there; a change with text NULL is kept no more. No-op while there is
 * no broker: what is missing then goes out when it is back. */
void dia_nodes_send_change(struct nodes *nodes, const struct journal_event *event, int is_gone);
void dia_nodes_send_state(struct nodes *nodes, char *text); /* takes it; NULL: nothing */

/* NODES_SYNCED comes when the broker has told all that it had by now; and all of it is told once
 * more. */
void dia_nodes_ask(struct nodes *nodes);
void dia_nodes_join_again(struct nodes *nodes);

/* What this node says of itself, JSON on the heap; takes it. */
void dia_nodes_tell(struct nodes *nodes, char *json);

/* The broker's side, in its thread. Topics are those below the base. */
int dia_nodes_wakes(
    const struct nodes *nodes); /* a descriptor that can be read when there is news */
void dia_nodes_online(struct nodes *nodes, int is_online);
void dia_nodes_take(struct nodes *nodes, const char *topic, const char *text, size_t length,
                    int kept);
/* The next message: 1; its text is on the heap, NULL: the topic is kept no more. */
struct nodes_out {
    char topic[80];
    char *text;
    uint8_t passes; /* 1: the broker does not keep it */
    struct nodes_out *next;
};
int dia_nodes_out(struct nodes *nodes, struct nodes_out *out);
/* ms until there is one of which nothing wakes, or most_ms. */
int dia_nodes_due_ms(struct nodes *nodes, int most_ms);
int dia_nodes_is_answer(const struct nodes *nodes, const char *topic); /* to dia_nodes_ask */
int dia_nodes_joins_again(struct nodes *nodes);                        /* 1, once for each time */
/* 1: somebody looks at the list of nodes, so what all say of themselves is of use. Who begins to
 * hear it sends DIA_NODES_LIST to the topic of dia_nodes_hello, which comes back behind all that
 * the broker keeps. */
#define DIA_NODES_LIST "list"
int dia_nodes_wanted(struct nodes *nodes);
void dia_nodes_hello(const struct nodes *nodes, char *topic, size_t size);

/* A node that the rig names is in the list, whether it has been seen or not. */
void dia_nodes_expect(struct nodes *nodes, const char *name);

/* The network's side. Somebody looks at the list. 1: it is what the broker has, or there is none;
 * 0: it will be soon. */
int dia_nodes_want(struct nodes *nodes);

/* All nodes that are known, as JSON on the heap. */
char *dia_nodes_list(struct nodes *nodes);

#endif
