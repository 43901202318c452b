/* SPDX-License-Identifier: MIT */
#include <ctype.h>
#include <stdlib.h>
#include <string.h>

#include "host_private.h"
#include "show_private.h"

/*
 * Presses become events by the same code that runs on a controller, fed with the contacts of the
 * keys of one device after the other; buttons are those of one more.
 */
#define EVERY_MS  5   /* how often contacts are read where one has moved: less than any wait */
#define HELD_MS   100 /* and while all rest: no more comes up then than a queue of events holds */
#define SETTLE_MS 60  /* after a move */
#define REST_MS   200 /* after which a key that is open has nothing more to tell, */
#define DOUBLE_MS 600 /* also where it may be pressed a second time: both with HELD_MS to spare */

uint8_t dia_show_held(const struct dia_show *show, uint32_t device, uint32_t ms)
{
    unsigned held = 0;
    for (uint32_t k = 0; k < show->press_count; k++) {
        const struct dia_show_press *press = &show->presses[k];
        if (press->key / DIA_KEYS == device && ms >= press->ms && ms - press->ms < press->for_ms)
            held |= 1u << press->key % DIA_KEYS;
    }
    return (uint8_t)held;
}

/* When a contact of a device moves next after a time; UINT64_MAX: never. */
static uint64_t next_move(const struct dia_show *show, uint32_t device, uint64_t ms)
{
    uint64_t next = UINT64_MAX;
    for (uint32_t k = 0; k < show->press_count; k++) {
        const struct dia_show_press *press = &show->presses[k];
        uint64_t down = press->ms, up = down + press->for_ms;
        if (press->key / DIA_KEYS != device)
            continue;
        next = down > ms && down < next ? down : next;
        next = up > ms && up < next ? up : next;
    }
    return next;
}

/* Nobody waits for what no cue is for. */
static int is_of_use(const struct dia_show *show, const struct dia_key_event *event,
                     uint32_t device)
{
    for (uint32_t k = 0; k < show->cue_count; k++) {
        if (show->cues[k].key == event->key + device * DIA_KEYS &&
            show->cues[k].kind == event->kind)
            return 1;
    }
    return 0;
}

/* Where no cue asks for double presses, short ones are told at once. */
static int has_double(const struct dia_show *show, uint32_t device)
{
    for (uint32_t k = 0; k < show->cue_count; k++) {
        if (show->cues[k].kind == DIA_KEY_DOUBLE && show->cues[k].key / DIA_KEYS == device)
            return 1;
    }
    return 0;
}

static int keep_event(struct dia_show *show, struct dia_key_event event, uint32_t device)
{
    if (show->event_count == show->event_room) {
        uint32_t room = show->event_room ? 2 * show->event_room : 64;
        struct dia_key_event *larger = realloc(show->events, room * sizeof *larger);
        if (!larger)
            return -1;
        show->events = larger;
        show->event_room = room;
    }
    event.key = (uint8_t)(event.key + device * DIA_KEYS);
    uint32_t at = show->event_count++;
    for (; at > 0 && show->events[at - 1].ms > event.ms; at--) /* they come nearly in order */
        show->events[at] = show->events[at - 1];
    show->events[at] = event;
    return 0;
}

/* One stretch of presses without a rest. Returns where it ends, or 0 when memory ran out. */
static uint64_t hear(struct dia_show *show, uint32_t device, uint64_t from_ms)
{
    struct dia_keys keys;
    struct dia_key_event event;
    int may_double = has_double(show, device);
    uint64_t last_ms = from_ms, rest_ms = may_double ? DOUBLE_MS : REST_MS;
    dia_keys_init(&keys);
    if (!may_double)
        keys.double_ms = 0;
    uint64_t moved_ms = from_ms, move_ms = next_move(show, device, from_ms);
    uint8_t held = dia_show_held(show, device, (uint32_t)from_ms);
    for (uint64_t ms = from_ms; ms < last_ms + rest_ms;) {
        if (held)
            last_ms = ms;
        dia_keys_feed(&keys, (uint32_t)ms, held);
        while (dia_keys_next(&keys, &event)) {
            if (is_of_use(show, &event, device) && keep_event(show, event, device) != 0)
                return 0;
        }
        ms += ms - moved_ms < SETTLE_MS ? EVERY_MS : HELD_MS;
        if (ms >= move_ms) { /* all that moves is read at its time */
            ms = moved_ms = move_ms;
            move_ms = next_move(show, device, ms);
            held = dia_show_held(show, device, (uint32_t)ms);
        }
    }
    return last_ms + rest_ms;
}

/* The first press of a device that begins at a time or later; UINT64_MAX: none. */
static uint64_t next_press(const struct dia_show *show, uint32_t device, uint64_t from_ms)
{
    uint64_t next = UINT64_MAX;
    for (uint32_t k = 0; k < show->press_count; k++) {
        const struct dia_show_press *press = &show->presses[k];
        if (press->key / DIA_KEYS == device && press->ms >= from_ms && press->ms < next)
            next = press->ms;
    }
    return next;
}

uint32_t dia_show_quiet_before(const struct dia_show *show, uint32_t ms)
{
    uint64_t rest_ms = REST_MS;
    for (uint32_t k = 0; k < show->cue_count; k++)
        rest_ms = show->cues[k].kind == DIA_KEY_DOUBLE ? DOUBLE_MS : rest_ms;
    for (uint32_t k = 0; k < show->press_count; k++) {
        const struct dia_show_press *press = &show->presses[k];
        if (press->ms < ms && rest_ms + press->ms + press->for_ms > ms) {
            ms = press->ms;
            k = UINT32_MAX; /* others may be down then */
        }
    }
    return ms;
}

void dia_show_unheard(struct dia_show *show, uint32_t ms)
{
    show->heard_ms = ms < show->heard_ms ? ms : show->heard_ms;
}

enum dia_status dia_show_hear(struct dia_show *show)
{
    if (show->heard_ms == UINT32_MAX)
        return DIA_OK;
    uint32_t from_ms = dia_show_quiet_before(show, show->heard_ms);
    while (show->event_count && show->events[show->event_count - 1].ms >= from_ms)
        show->event_count--;
    for (uint32_t device = 0; device <= DIA_RIG_DEVICES; device++) {
        uint64_t ms = next_press(show, device, from_ms);
        while (ms != UINT64_MAX) {
            uint64_t end = hear(show, device, ms);
            if (end == 0)
                return DIA_PORT_FAILED;
            ms = next_press(show, device, end);
        }
    }
    show->heard_ms = UINT32_MAX;
    return DIA_OK;
}

enum dia_status dia_show_press(struct dia_show *show, struct dia_show_press press)
{
    if (show->press_count == DIA_SHOW_PRESSES)
        return DIA_BAD_VALUE;
    show->presses[show->press_count++] = press;
    dia_show_unheard(show, press.ms);
    return DIA_OK;
}

enum dia_status dia_show_key_read(const struct dia_rig *rig, const char *text, uint8_t *key,
                                  struct dia_diagnostic *wrong)
{
    const char *point = strchr(text, '.'), *number = point ? point + 1 : text;
    uint32_t device = 0;
    rig = dia_rig_whole(rig);
    while (device < rig->device_count && !dia_rig_has_keys(&rig->devices[device]))
        device++;
    if (device == rig->device_count) /* else on the desk of whoever watches */
        device = rig->button_count ? DIA_RIG_DEVICES : 0;
    for (uint32_t k = 0; k < rig->button_count; k++) {
        if (strcmp(rig->buttons[k].name, text) == 0) {
            *key = (uint8_t)(DIA_SHOW_BUTTONS + k);
            return DIA_OK;
        }
    }
    if (point) {
        size_t length = (size_t)(point - text);
        for (device = 0; device < rig->device_count; device++) {
            const struct dia_rig_device *of = &rig->devices[device];
            if (dia_rig_has_keys(of) && strlen(of->name) == length &&
                memcmp(of->name, text, length) == 0)
                break;
        }
        if (device == rig->device_count)
            return dia_host_wrong(wrong, "there is no panel '%.*s' with keys on this rig",
                                  (int)(length < 40 ? length : 40), text);
    }
    for (uint32_t k = 0; k < rig->device_count && !point; k++) {
        if (dia_rig_has_keys(&rig->devices[k]) && strcmp(rig->devices[k].name, text) == 0)
            return dia_host_wrong(wrong, "'%s' has %d keys; write one of them, such as '%s.1'",
                                  text, DIA_KEYS, text);
    }
    if (!point && isalpha((unsigned char)number[0]))
        return dia_host_wrong(wrong, "there is no button '%.40s' on this rig%s%s", text,
                              rig->button_count ? "; there is " : "; write it under 'buttons:'",
                              rig->button_count ? rig->buttons[0].name : "");
    if (number[0] < '1' || number[0] > '8' || number[1])
        return dia_host_wrong(wrong,
                              "there is no key '%.40s'; write '%.*s1', or another number up to %d",
                              text, (int)(number - text), text, DIA_KEYS);
    if (device == DIA_RIG_DEVICES && (uint32_t)(number[0] - '1') >= rig->button_count)
        return dia_host_wrong(wrong, "there is no button %c; this rig has %u", number[0],
                              (unsigned)rig->button_count);
    *key = (uint8_t)(device * DIA_KEYS + (uint32_t)(number[0] - '1'));
    return DIA_OK;
}

enum dia_status dia_show_press_read(struct dia_show *show, const struct dia_rig *rig,
                                    const char *text, struct dia_diagnostic *wrong)
{
    char word[SHOW_WORD];
    int64_t at_ms, for_ms = 100;
    struct dia_show_press press;
    enum dia_status status = DIA_BAD_VALUE;
    if (!dia_show_word(&text, word))
        return dia_host_wrong(wrong, "write a press like this: 20s operator.1, or 20s 1 for 2s");
    status = dia_show_amount("press", word, DIA_TIME, 0, 86400000, &at_ms, wrong);
    if (status == DIA_OK && !dia_show_word(&text, word))
        return dia_host_wrong(wrong, "the press says no key; write such as '20s operator.1'");
    if (status == DIA_OK)
        status = dia_show_key_read(rig, word, &press.key, wrong);
    if (status != DIA_OK)
        return status;
    if (dia_show_word(&text, word)) {
        if (strcmp(word, "for") != 0)
            return dia_host_wrong(
                wrong, "'%.40s' has no meaning here; 'for TIME' may follow the key", word);
        if (!dia_show_word(&text, word))
            return dia_host_wrong(wrong, "'for' needs a time behind it, such as 2s");
        status = dia_show_amount("for", word, DIA_TIME, 1, 60000, &for_ms, wrong);
        if (status == DIA_OK && dia_show_word(&text, word))
            return dia_host_wrong(wrong, "'%.40s' has no meaning here", word);
    }
    if (status != DIA_OK)
        return status;
    press.ms = (uint32_t)at_ms;
    press.for_ms = (uint32_t)for_ms;
    status = dia_show_press(show, press);
    if (status == DIA_BAD_VALUE)
        return dia_host_wrong(wrong, "a show has at most %d presses", DIA_SHOW_PRESSES);
    return status;
}
