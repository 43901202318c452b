/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <stdio.h>
#include <string.h>

#include <diachrome/keys.h>

/* Contacts over time: each row from its moment on, with bounces of 1 ms where it changes. */
struct contact {
    uint32_t ms;
    uint8_t closed;
};

/* All events as text, "0 down 100, 0 up 180, ...", when contacts are read every `every` ms. */
static const char *heard(const struct contact *rows, size_t n, uint32_t until, uint32_t every,
                         uint32_t from)
{
    static const char *const names[] = {"down", "up", "short", "double", "long", "repeat"};
    static char text[2000];
    struct dia_keys keys;
    struct dia_key_event event;
    dia_keys_init(&keys);
    text[0] = 0;
    for (uint32_t ms = 0; ms < until; ms += every) {
        uint8_t closed = 0, before = 0;
        uint32_t since = 100;
        for (size_t k = 0; k < n && rows[k].ms <= ms; k++) {
            before = closed;
            closed = rows[k].closed;
            since = ms - rows[k].ms;
        }
        if (since < 8 && since % 2) /* bounces for 8 ms */
            closed = before;
        dia_keys_feed(&keys, from + ms, closed);
        while (dia_keys_next(&keys, &event)) {
            size_t used = strlen(text);
            snprintf(text + used, sizeof text - used, "%s%d %s %u", used ? ", " : "", event.key,
                     names[event.kind], (unsigned)((event.ms - from + 5) / 10 * 10));
        }
    }
    assert_int_equal(keys.lost, 0);
    return text;
}

/* By hand, times to 10 ms: bounces of up to 8 ms make the contact's time that much later. */
static const struct {
    struct contact rows[8];
    size_t n;
    const char *events;
} plays[] = {
    {{{100, 1}, {180, 0}}, 2, "0 down 110, 0 up 190, 0 short 490"},
    {{{100, 1}, {180, 0}, {300, 1}, {380, 0}},
     4,
     "0 down 110, 0 up 190, 0 down 310, 0 double 310, 0 up 390"},
    {{{100, 1}, {180, 0}, {600, 1}, {680, 0}},
     4,
     "0 down 110, 0 up 190, 0 short 490, 0 down 610, 0 up 690, 0 short 990"},
    {{{100, 1}, {1150, 0}}, 2, "0 down 110, 0 long 810, 0 repeat 1010, 0 up 1160"},
    {{{100, 1}, {110, 0}}, 2, ""}, /* less than a bounce */
    {{{100, 1}, {200, 3}, {880, 2}, {950, 0}},
     4,
     "0 down 110, 1 down 210, 0 long 810, 0 up 890, 1 long 910, 1 up 960"},
};

static void presses_become_events(void **state)
{
    (void)state;
    for (size_t k = 0; k < sizeof plays / sizeof plays[0]; k++) {
        assert_string_equal(heard(plays[k].rows, plays[k].n, 2000, 1, 0), plays[k].events);
        /* over the wrap of the clock, and read at another rate */
        assert_string_equal(heard(plays[k].rows, plays[k].n, 2000, 1, 0xfffffe00u),
                            plays[k].events);
    }
}

/* Read only every 12 ms: the same events, each at most so much later. */
static void reading_less_often_tells_the_same(void **state)
{
    (void)state;
    for (size_t k = 0; k < 4; k++) {
        char often[400], kinds[2][400];
        snprintf(often, sizeof often, "%s", heard(plays[k].rows, plays[k].n, 2000, 1, 0));
        for (int i = 0; i < 2; i++) {
            const char *all = i ? heard(plays[k].rows, plays[k].n, 2000, 12, 0) : often;
            size_t used = 0;
            for (; *all; all++) /* without the times, which end in three digits and more */
                if (*all < '0' || *all > '9')
                    kinds[i][used++] = *all;
            kinds[i][used] = 0;
        }
        assert_string_equal(kinds[0], kinds[1]);
    }
}

static void what_is_held_is_told_with_each(void **state)
{
    (void)state;
    struct dia_keys keys;
    struct dia_key_event event;
    dia_keys_init(&keys);
    keys.double_ms = keys.long_ms = 0; /* a short press is told at once, however long */
    dia_keys_feed(&keys, 0, 1);
    dia_keys_feed(&keys, 30, 5);
    dia_keys_feed(&keys, 60, 5);
    dia_keys_feed(&keys, 2000, 4);
    dia_keys_feed(&keys, 2030, 4);
    static const struct dia_key_event by_hand[] = {{0, 0, DIA_KEY_DOWN, 1},
                                                   {30, 2, DIA_KEY_DOWN, 5},
                                                   {2000, 0, DIA_KEY_UP, 4},
                                                   {2000, 0, DIA_KEY_SHORT, 4}};
    for (size_t k = 0; k < sizeof by_hand / sizeof by_hand[0]; k++) {
        assert_int_equal(dia_keys_next(&keys, &event), 1);
        assert_int_equal(event.ms, by_hand[k].ms);
        assert_int_equal(event.key, by_hand[k].key);
        assert_int_equal(event.kind, by_hand[k].kind);
        assert_int_equal(event.held, by_hand[k].held);
    }
    assert_int_equal(dia_keys_next(&keys, &event), 0);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(presses_become_events),
        cmocka_unit_test(reading_less_often_tells_the_same),
        cmocka_unit_test(what_is_held_is_told_with_each),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
