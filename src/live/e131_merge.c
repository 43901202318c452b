/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <string.h>

#include "e131_merge.h"

void dia_e131_merge_free(struct e131_merge *merge)
{
    free(merge->all);
    memset(merge, 0, sizeof *merge);
}

/* By number, made where it is not there. NULL: no memory, or there are too many. */
static struct e131_universe *universe_of(struct e131_merge *merge, uint16_t number)
{
    uint32_t low = 0, high = merge->count;
    while (low < high) {
        uint32_t middle = low + (high - low) / 2;
        if (merge->all[middle].number < number)
            low = middle + 1;
        else
            high = middle;
    }
    if (low < merge->count && merge->all[low].number == number)
        return &merge->all[low];
    if (merge->count == E131_UNIVERSES)
        return NULL;
    if (merge->count == merge->room) {
        uint32_t room = merge->room ? 2 * merge->room : 8;
        struct e131_universe *more = realloc(merge->all, room * sizeof *more);
        if (!more)
            return NULL;
        merge->all = more;
        merge->room = room;
    }
    struct e131_universe *at = &merge->all[low];
    memmove(at + 1, at, (merge->count++ - low) * sizeof *at);
    memset(at, 0, sizeof *at);
    at->number = number;
    return at;
}

static struct e131_source *source_of(struct e131_universe *universe, const uint8_t cid[16])
{
    struct e131_source *free_one = NULL;
    for (int k = 0; k < E131_SOURCES; k++) {
        struct e131_source *source = &universe->sources[k];
        if (source->is_live && memcmp(source->cid, cid, 16) == 0)
            return source;
        if (!source->is_live && !free_one)
            free_one = source;
    }
    return free_one;
}

/* The slots anew. */
static void merge_slots(struct e131_universe *universe)
{
    int priority = -1;
    for (int k = 0; k < E131_SOURCES; k++) {
        const struct e131_source *source = &universe->sources[k];
        if (source->is_live && source->priority > priority)
            priority = source->priority;
    }
    universe->count = 0;
    memset(universe->slots, 0, sizeof universe->slots);
    for (int k = 0; k < E131_SOURCES; k++) {
        const struct e131_source *source = &universe->sources[k];
        if (!source->is_live || source->priority != priority)
            continue;
        universe->count = source->count > universe->count ? source->count : universe->count;
        for (uint16_t s = 0; s < source->count; s++)
            if (source->slots[s] > universe->slots[s])
                universe->slots[s] = source->slots[s];
    }
    universe->changed = 1;
}

static void show_next(struct e131_universe *universe, struct e131_source *source)
{
    memcpy(source->slots, source->next, sizeof source->slots);
    source->count = source->next_count;
    source->waits = 0;
    merge_slots(universe);
}

/* More than 20 behind is a source that began anew; else what is not ahead came too late. */
static int is_late(const struct e131_source *source, uint8_t sequence)
{
    int8_t ahead = (int8_t)(uint8_t)(sequence - source->sequence);
    return ahead <= 0 && ahead > -20;
}

static int take_data(struct e131_merge *merge, const struct e131_packet *packet, uint64_t ms)
{
    if (packet->preview) /* for those who look at it elsewhere, not for light */
        return 1;
    struct e131_universe *universe = universe_of(merge, packet->universe);
    struct e131_source *source = universe ? source_of(universe, packet->cid) : NULL;
    if (!universe)
        return merge->count == E131_UNIVERSES;
    int is_new = source && !source->is_live;
    if (!source || (is_new && packet->ended) || (!is_new && is_late(source, packet->sequence))) {
        merge->left_out++;
        return 1;
    }
    if (is_new)
        memset(source, 0, sizeof *source);
    merge->taken++;
    memcpy(source->cid, packet->cid, sizeof source->cid);
    source->sequence = packet->sequence;
    source->ms = ms;
    if (packet->ended) {
        source->is_live = 0;
        merge_slots(universe);
        return 1;
    }
    source->is_live = 1;
    source->priority = packet->priority;
    source->sync = packet->sync;
    memcpy(source->next, packet->slots, packet->count);
    memset(source->next + packet->count, 0, (size_t)(E131_SLOTS - packet->count));
    source->next_count = packet->count;
    source->waits = packet->sync != 0;
    /* it waits once synchronisation has begun; when that is lost, only what forces it goes on alone
     */
    int is_lost = source->sync_ms != 0 && ms - source->sync_ms > E131_LOST_MS;
    if (!source->waits || source->sync_ms == 0 || (is_lost && packet->forced))
        show_next(universe, source);
    return 1;
}

static void take_sync(struct e131_merge *merge, const struct e131_packet *packet, uint64_t ms)
{
    for (uint32_t k = 0; k < merge->count; k++) {
        for (int s = 0; s < E131_SOURCES; s++) {
            struct e131_source *source = &merge->all[k].sources[s];
            if (!source->is_live || source->sync != packet->sync ||
                memcmp(source->cid, packet->cid, 16) != 0)
                continue;
            source->sync_ms = ms;
            if (source->waits)
                show_next(&merge->all[k], source);
        }
    }
}

int dia_e131_merge_take(struct e131_merge *merge, const struct e131_packet *packet, uint64_t ms)
{
    if (packet->kind == E131_DATA)
        return take_data(merge, packet, ms);
    if (packet->kind == E131_SYNC)
        take_sync(merge, packet, ms);
    return 1;
}

void dia_e131_merge_age(struct e131_merge *merge, uint64_t ms)
{
    for (uint32_t k = 0; k < merge->count; k++) {
        int gone = 0;
        for (int s = 0; s < E131_SOURCES; s++) {
            struct e131_source *source = &merge->all[k].sources[s];
            if (source->is_live && ms - source->ms > E131_LOST_MS) {
                source->is_live = 0;
                gone = 1;
            }
        }
        if (gone)
            merge_slots(&merge->all[k]);
    }
}

void dia_e131_merge_news(struct e131_merge *merge, e131_news *each, void *self)
{
    for (uint32_t k = 0; k < merge->count; k++) {
        struct e131_universe *universe = &merge->all[k];
        int is_live = 0;
        if (!universe->changed)
            continue;
        universe->changed = 0;
        for (int s = 0; s < E131_SOURCES; s++)
            is_live |= universe->sources[s].is_live;
        if (is_live || universe->was_live)
            each(self, universe->number, universe->slots, is_live ? universe->count : -1);
        universe->was_live = (uint8_t)is_live;
    }
}
