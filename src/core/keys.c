/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/keys.h>

void dia_keys_init(struct dia_keys *keys)
{
    memset(keys, 0, sizeof *keys);
    keys->bounce_ms = 20;
    keys->double_ms = 300;
    keys->long_ms = 700;
    keys->repeat_ms = 200;
}

static void tell(struct dia_keys *keys, uint8_t key, uint8_t kind, uint32_t ms)
{
    if (keys->count == DIA_KEY_QUEUE) {
        keys->lost++;
        return;
    }
    struct dia_key_event *event = &keys->queue[(keys->first + keys->count++) % DIA_KEY_QUEUE];
    event->ms = ms;
    event->key = key;
    event->kind = kind;
    event->held = keys->held;
}

/* Whether a time has come by now. */
static uint8_t past(uint32_t now, uint32_t ms)
{
    return now - ms < 0x80000000u;
}

static void goes_down(struct dia_keys *keys, uint8_t k)
{
    uint32_t ms = keys->key[k].raw_ms;
    keys->key[k].down = 1;
    keys->key[k].down_ms = ms;
    keys->key[k].was_long = 0;
    keys->held = (uint8_t)(keys->held | 1u << k);
    tell(keys, k, DIA_KEY_DOWN, ms);
    if (keys->key[k].taps == 1) {
        keys->key[k].taps = 2;
        tell(keys, k, DIA_KEY_DOUBLE, ms);
    }
}

static void goes_up(struct dia_keys *keys, uint8_t k)
{
    uint32_t ms = keys->key[k].raw_ms;
    keys->key[k].down = 0;
    keys->key[k].up_ms = ms;
    keys->held = (uint8_t)(keys->held & ~(1u << k));
    tell(keys, k, DIA_KEY_UP, ms);
    keys->key[k].taps = !keys->key[k].was_long && keys->key[k].taps != 2;
}

/* What time alone brings, up to a moment: the end of waiting for a second press, long, repeat. */
static void pass(struct dia_keys *keys, uint8_t k, uint32_t until)
{
    uint32_t waited = keys->key[k].up_ms + keys->double_ms;
    if (!keys->key[k].down && keys->key[k].taps == 1 &&
        (past(until, waited + 1u) || !keys->double_ms)) {
        keys->key[k].taps = 0;
        tell(keys, k, DIA_KEY_SHORT, waited);
    }
    if (!keys->key[k].down || !keys->long_ms)
        return;
    if (!keys->key[k].was_long && past(until, keys->key[k].down_ms + keys->long_ms)) {
        keys->key[k].was_long = 1;
        keys->key[k].next_ms = keys->key[k].down_ms + keys->long_ms;
        tell(keys, k, DIA_KEY_LONG, keys->key[k].next_ms);
    }
    while (keys->key[k].was_long && keys->repeat_ms &&
           past(until, keys->key[k].next_ms + keys->repeat_ms)) {
        keys->key[k].next_ms += keys->repeat_ms;
        tell(keys, k, DIA_KEY_REPEAT, keys->key[k].next_ms);
    }
}

void dia_keys_feed(struct dia_keys *keys, uint32_t ms, uint8_t closed)
{
    for (uint8_t k = 0; k < DIA_KEYS; k++) {
        uint8_t raw = (uint8_t)(closed >> k) & 1u,
                settled = keys->key[k].raw != keys->key[k].down &&
                          past(ms, keys->key[k].raw_ms + keys->bounce_ms);
        /* what rested long enough until now counts from when it began, and comes before what time
           has brought since */
        if (settled) {
            pass(keys, k, keys->key[k].raw_ms);
            if (keys->key[k].raw)
                goes_down(keys, k);
            else
                goes_up(keys, k);
        }
        if (raw != keys->key[k].raw) {
            keys->key[k].raw = raw;
            keys->key[k].raw_ms = ms;
        }
        /* a contact that has just moved may be at rest by then: time passes up to there only */
        pass(keys, k, keys->key[k].raw != keys->key[k].down ? keys->key[k].raw_ms : ms);
    }
}

uint8_t dia_keys_next(struct dia_keys *keys, struct dia_key_event *event)
{
    if (keys->count == 0)
        return 0;
    *event = keys->queue[keys->first];
    keys->first = (uint8_t)((keys->first + 1u) % DIA_KEY_QUEUE);
    keys->count--;
    return 1;
}
