/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_KEYS_H
#define DIACHROME_KEYS_H

#include <stdint.h>

#include "linkage.h"

DIA_BEGIN

/*
 * Buttons and keys as events with a time. What is fed is which keys are closed at a moment, as
 * often as it is read; events and their times do not depend on how often that is, as long as
 * nothing is missed.
 *
 *   struct dia_keys keys;
 *   struct dia_key_event event;
 *   dia_keys_init(&keys);
 *   for (;;) {
 *       dia_keys_feed(&keys, ms, panel_keys());
 *       while (dia_keys_next(&keys, &event))
 *           if (event.key == 0 && event.kind == DIA_KEY_SHORT) ...
 *   }
 *
 * Cost: 1,700 to 2,000 cycles a call on an ATmega328P, whatever is held.
 * Context: any; threads may work at once on objects of their own.
 */
#define DIA_KEYS 8

enum dia_key_kind {
    DIA_KEY_DOWN,   /* has been closed for bounce_ms */
    DIA_KEY_UP,     /* has been open again for bounce_ms */
    DIA_KEY_SHORT,  /* was pressed for less than long_ms, and no second time soon after */
    DIA_KEY_DOUBLE, /* pressed again within double_ms of having been let go */
    DIA_KEY_LONG,   /* has been held for long_ms */
    DIA_KEY_REPEAT  /* is still held, every repeat_ms after that */
};

struct dia_key_event {
    uint32_t ms;
    uint8_t key, kind; /* 0..DIA_KEYS - 1; enum dia_key_kind */
    uint8_t held;      /* all keys that are down at that time, bit k for key k */
};

#define DIA_KEY_QUEUE 16
struct dia_keys {
    uint16_t bounce_ms; /* how long a contact must rest; 20 */
    uint16_t double_ms; /* 300; 0: there are no double presses, and a short one is told at once */
    uint16_t long_ms;   /* 700; 0: there are no long ones */
    uint16_t repeat_ms; /* 200; 0: they do not repeat */
    /* private */
    struct {
        uint32_t raw_ms, down_ms, up_ms, next_ms;
        uint8_t raw, down, taps, was_long;
    } key[DIA_KEYS];
    struct dia_key_event queue[DIA_KEY_QUEUE];
    uint8_t first, count, held;
    uint16_t lost; /* events that had no room */
};

/* All keys open, and the times above. */
void dia_keys_init(struct dia_keys *keys);

/* Which keys are closed at a time, bit k for key k. Times rise, and may wrap. */
void dia_keys_feed(struct dia_keys *keys, uint32_t ms, uint8_t closed);

/* 1, and the next event; 0 when there is none. Events come in the order of their times for each
 * key. */
uint8_t dia_keys_next(struct dia_keys *keys, struct dia_key_event *event);

DIA_END

#endif
