/* SPDX-License-Identifier: MIT */
#ifndef DIA_LIVE_NODES_PRIVATE_H
#define DIA_LIVE_NODES_PRIVATE_H

#include <pthread.h>

#include "nodes.h"

/* Messages of a node of which the quickest tells how far its clock is off. */
#define NODES_DELAYS 8

/* nodes.c is below the three: nodes_in.c has what comes, nodes_out.c what goes, nodes_list.c what
 * nodes say of themselves. */
struct known {
    char name[DIA_RIG_NAME];
    char *json; /* what it said last */
    double delay_ms[NODES_DELAYS];
    unsigned delays;
    int is_online;
};

struct nodes {
    pthread_mutex_t lock;
    char name[DIA_RIG_NAME], me[JOURNAL_NAME];
    int wakes;
    struct nodes_item *first, **last;
    unsigned items, dropped;
    size_t bytes;
    struct nodes_out *out_first, **out_last;
    struct nodes_out *gone_first, **gone_last; /* changes that are to be kept no more */
    uint32_t gone;                             /* so many of them, */
    uint64_t gone_ms;                          /* and when the next may go out */
    char *told;                                /* what this node says, when it is to go out */
    uint64_t told_ms, wanted_ms;
    int is_online, is_new, joins; /* is_new: told is not yet out; joins: again */
    int has_list;                 /* what nodes say of themselves is heard, all of it */
    struct known *known;
    uint32_t count;
};

/* "node/west/node" with what it says, "node/west/online" with yes or no. */
void dia_nodes_take_node(struct nodes *nodes, const char *topic, const char *text, size_t length,
                         int kept);

/* Of the node of a name, which is new where there is none; with the lock. NULL: no room. */
struct known *dia_nodes_known(struct nodes *nodes, const char *name);

/* What has not gone out never will; with the lock. */
void dia_nodes_forget_out(struct nodes *nodes);
void dia_nodes_wake(struct nodes *nodes);

#endif
