/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "e131_merge.h"

/*
 * Many packets of two sources, on a bad network: lost, twice, out of order, cut off, with bytes
 * behind, with bytes changed. What they amount to is worked out here besides, from the standard,
 * and compared slot by slot. $PACKETS says how many.
 */
enum { SOURCES = 2, UNIVERSES = 3, WIDE = 64, LATER = 8 };

static uint32_t random_state = 1;
static uint32_t chance(uint32_t n)
{
    random_state = random_state * 1664525u + 1013904223u;
    return (uint32_t)((uint64_t)random_state * n >> 32);
}

/* ---- packets, by tables 4-1 to 4-3 of ANSI E1.31-2018 ---------------------------------------- */

struct sent {
    uint8_t bytes[E131_MOST + 8];
    size_t length;
    int is_whole, source, universe, ends;
    uint8_t sequence, priority, slots[WIDE];
};

static void put(uint8_t *at, uint32_t value, int bytes)
{
    for (int k = 0; k < bytes; k++)
        at[k] = (uint8_t)(value >> 8 * (bytes - 1 - k));
}

static void pack(struct sent *p)
{
    static const uint8_t zeros[E131_MOST];
    uint8_t *b = p->bytes;
    size_t length = 126 + WIDE;
    memcpy(b, zeros, sizeof zeros);
    put(b, 0x0010, 2);
    memcpy(b + 4, "ASC-E1.17", 9);
    put(b + 16, 0x7000u | (uint32_t)(length - 16), 2);
    put(b + 18, 4, 4);
    memset(b + 22, 'a' + p->source, 16);
    put(b + 38, 0x7000u | (uint32_t)(length - 38), 2);
    put(b + 40, 2, 4);
    b[108] = p->priority;
    b[111] = p->sequence;
    b[112] = p->ends ? 0x40 : 0;
    put(b + 113, (uint32_t)p->universe + 1, 2);
    put(b + 115, 0x7000u | (uint32_t)(length - 115), 2);
    b[117] = 2;
    b[118] = 0xa1;
    put(b + 121, 1, 2);
    put(b + 123, WIDE + 1, 2);
    memcpy(b + 126, p->slots, WIDE);
    p->length = length;
    p->is_whole = 1;
}

/* Cut off, with bytes behind, or with a byte changed of those that say what it is. */
static void damage(struct sent *p)
{
    static const struct {
        uint8_t from, n;
    } fields[] = {{0, 18}, {18, 4}, {38, 6}, {115, 11}};
    uint32_t kind = chance(3), field = chance(4);
    p->is_whole = 0;
    if (kind == 0)
        p->length -= 1 + chance((uint32_t)p->length - 1);
    else if (kind == 1)
        p->length += 1 + chance(4);
    else
        p->bytes[fields[field].from + chance(fields[field].n)] ^= (uint8_t)(1 + chance(255));
}

/* ---- what they amount to ----------------------------------------------------------------------
 */

static struct heard {
    int is_there;
    uint8_t sequence, priority, slots[WIDE];
    uint64_t ms;
} heard[UNIVERSES][SOURCES];

/* 6.7.2: with A the new number and B the last one, A - B as a signed byte; from -19 to 0 it is left
 * out. 6.7.1: a source that says nothing for 2.5 s is gone. */
static void hear(const struct sent *p, uint64_t ms)
{
    struct heard *h = &heard[p->universe][p->source];
    int ahead = (p->sequence - h->sequence + 256) % 256;
    ahead = ahead > 127 ? ahead - 256 : ahead;
    if (!p->is_whole || (h->is_there && ahead <= 0 && ahead > -20) || (!h->is_there && p->ends))
        return;
    h->is_there = !p->ends;
    h->sequence = p->sequence;
    h->priority = p->priority;
    h->ms = ms;
    memcpy(h->slots, p->slots, WIDE);
}

/* 6.2.3 and 6.8: the highest priority; of several sources of it, the highest level of each slot. */
static int amounts_to(int universe, uint8_t slots[WIDE], uint64_t ms)
{
    int best = -1;
    for (int s = 0; s < SOURCES; s++) {
        struct heard *h = &heard[universe][s];
        h->is_there = h->is_there && ms - h->ms <= 2500;
        if (h->is_there && h->priority > best)
            best = h->priority;
    }
    memset(slots, 0, WIDE);
    for (int s = 0; s < SOURCES; s++) {
        const struct heard *h = &heard[universe][s];
        for (int k = 0; k < WIDE && h->is_there && h->priority == best; k++)
            slots[k] = h->slots[k] > slots[k] ? h->slots[k] : slots[k];
    }
    return best >= 0;
}

/* ---- the network ------------------------------------------------------------------------------
 */

static struct e131_merge merge;
static uint8_t shown[UNIVERSES][E131_SLOTS];
static int is_shown[UNIVERSES];

static void news(void *self, uint16_t universe, const uint8_t *slots, int count)
{
    (void)self;
    assert_true(universe >= 1 && universe <= UNIVERSES && (count == -1 || count == WIDE));
    is_shown[universe - 1] = count >= 0;
    memcpy(shown[universe - 1], slots, E131_SLOTS);
}

static void arrives(const struct sent *p, uint64_t ms)
{
    struct e131_packet packet;
    uint8_t *bytes = malloc(p->length); /* so that reading beyond it is noticed */
    memcpy(bytes, p->bytes, p->length);
    dia_e131_read(bytes, p->length, &packet);
    assert_int_equal(packet.kind, p->is_whole ? E131_DATA : E131_NONE);
    assert_true(dia_e131_merge_take(&merge, &packet, ms));
    free(bytes);
    hear(p, ms);
}

static void compare(uint64_t ms)
{
    dia_e131_merge_age(&merge, ms);
    dia_e131_merge_news(&merge, news, NULL);
    for (int u = 0; u < UNIVERSES; u++) {
        uint8_t slots[WIDE];
        int any = amounts_to(u, slots, ms);
        if (any != is_shown[u] || (any && memcmp(slots, shown[u], WIDE) != 0))
            fail_msg("universe %d differs after %llu ms", u + 1, (unsigned long long)ms);
    }
}

static void no_packet_makes_a_wrong_slot(void **state)
{
    (void)state;
    static struct sent later[LATER], now;
    static uint8_t sequence[UNIVERSES][SOURCES];
    const char *many = getenv("PACKETS");
    unsigned long packets = many ? strtoul(many, NULL, 10) : 200000;
    uint64_t ms = 1, silent_until[SOURCES] = {0};
    unsigned long lit = 0;
    for (unsigned long k = 0; k < packets; k++) {
        ms += chance(3);
        now.source = (int)chance(SOURCES);
        now.universe = (int)chance(UNIVERSES);
        if (chance(20000) == 0) /* longer than it may be, at times */
            silent_until[now.source] = ms + chance(6000);
        if (chance(5000) == 0) /* it began anew, its numbers too */
            sequence[now.universe][now.source] = (uint8_t)chance(256);
        now.priority = (uint8_t)(chance(50) ? 100 : 99 + chance(3));
        now.ends = chance(3000) == 0;
        now.sequence = ++sequence[now.universe][now.source];
        for (int s = 0; s < WIDE; s++)
            now.slots[s] = (uint8_t)chance(256);
        pack(&now);
        if (ms < silent_until[now.source] || chance(100) == 0)
            continue; /* lost */
        if (chance(100) == 0)
            damage(&now);
        if (chance(50) ==
            0) { /* it comes after some that are sent later, in place of another one */
            uint32_t slot = chance(LATER);
            struct sent first = later[slot];
            later[slot] = now;
            if (first.length == 0)
                continue;
            now = first;
        }
        arrives(&now, ms);
        if (chance(100) == 0)
            arrives(&now, ms);
        compare(ms);
        lit += (unsigned long)is_shown[now.universe];
    }
    assert_true(merge.left_out > packets / 200); /* the network was as bad as it was to be */
    assert_true(lit > packets / 2);
    print_message("%lu packets, %llu taken, %llu out of order\n", packets,
                  (unsigned long long)merge.taken, (unsigned long long)merge.left_out);
    dia_e131_merge_free(&merge);
}

int main(void)
{
    const struct CMUnitTest tests[] = {cmocka_unit_test(no_packet_makes_a_wrong_slot)};
    return cmocka_run_group_tests(tests, NULL, NULL);
}
