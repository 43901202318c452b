/* SPDX-License-Identifier: MIT */
#ifndef DIA_LIVE_E131_MERGE_H
#define DIA_LIVE_E131_MERGE_H

#include "e131_packet.h"

/*
 * What universes amount to, from the packets of their sources: the highest priority counts; of
 * several sources of one priority each slot has the highest level. A packet that comes out of its
 * order is left out, a source that says nothing for 2.5 s or ends its stream is gone, and data that
 * waits for a synchronisation packet shows when that comes.
 */
#define E131_SOURCES   4 /* of a universe; a fifth is not heard while these are */
#define E131_UNIVERSES 1024
#define E131_LOST_MS   2500

struct e131_source {
    uint8_t cid[16], priority, sequence, is_live, waits;
    uint16_t count, sync;
    uint64_t ms, sync_ms; /* when a packet came, and one that it waits for */
    uint8_t slots[E131_SLOTS], next[E131_SLOTS];
    uint16_t next_count;
};
struct e131_universe {
    uint16_t number;
    uint8_t changed, was_live;
    uint16_t count; /* of its slots, merged */
    uint8_t slots[E131_SLOTS];
    struct e131_source sources[E131_SOURCES];
};
struct e131_merge {
    struct e131_universe *all; /* on the heap */
    uint32_t count, room;
    uint64_t taken, left_out; /* packets */
};

void dia_e131_merge_free(struct e131_merge *merge);
/* A packet that came at a time. 0: no memory. */
int dia_e131_merge_take(struct e131_merge *merge, const struct e131_packet *packet, uint64_t ms);
/* Sources that say nothing are gone. */
void dia_e131_merge_age(struct e131_merge *merge, uint64_t ms);

/* Calls each with what has changed since it was last asked; count < 0: all sources are gone. */
typedef void e131_news(void *self, uint16_t universe, const uint8_t *slots, int count);
void dia_e131_merge_news(struct e131_merge *merge, e131_news *each, void *self);

#endif
