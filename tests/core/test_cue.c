/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <math.h>
#include <stdio.h>
#include <string.h>

#include <diachrome/diachrome.h>

/* Three layers of one steady colour each, on a line of one element. */
#define LAYERS 3
static struct dia_steady colours[LAYERS] = {{{100, 0, 0}}, {{0, 100, 0}}, {{0, 0, 100}}};
static struct dia_surface line;
static struct dia_layer layers[LAYERS];
static struct dia_cued states[LAYERS];
static struct dia_knob knobs[1];

static struct dia_cues made(const struct dia_cue *cues, uint8_t count)
{
    struct dia_cues play = {cues, count, layers, states, LAYERS, knobs, 1};
    assert_int_equal(dia_surface_line(&line, 1, 0, 1000), DIA_OK);
    for (int k = 0; k < LAYERS; k++) {
        dia_layer_init(&layers[k], &line, dia_look_steady.render, &colours[k]);
        layers[k].blend = DIA_BLEND_ADD;
    }
    knobs[0] = (struct dia_knob){.field = &colours[0].colour, .is_colour = 1};
    dia_cues_init(&play);
    return play;
}

struct moment {
    uint32_t ms;
    uint8_t key, kind;
};

/* What the layers together show at a time, after the events up to then: "r g b". */
static const char *shown(struct dia_cues *play, const struct moment *events, size_t n, uint32_t ms)
{
    static char text[40];
    struct dia_layer now[LAYERS];
    struct dia_stack stack = {now, LAYERS};
    struct dia_rgb out;
    dia_cues_begin(play);
    for (size_t k = 0; k < n && events[k].ms <= ms; k++) {
        struct dia_key_event event = {events[k].ms, events[k].key, events[k].kind, 0};
        dia_cues_take(play, &event);
    }
    dia_cues_apply(play, ms, now);
    dia_stack_render(&stack, ms, 0, 1, &out);
    snprintf(text, sizeof text, "%d %d %d", out.r, out.g, out.b);
    return text;
}

static const struct moment presses[] = {{1000, 0, DIA_KEY_SHORT},
                                        {5000, 0, DIA_KEY_SHORT},
                                        {6000, 1, DIA_KEY_SHORT},
                                        {7000, 0, DIA_KEY_LONG}};
#define N (sizeof presses / sizeof presses[0])

/* Red is not cued and always there. */
static void a_layer_begins_fades_and_ends(void **state)
{
    (void)state;
    static const struct dia_cue cues[] = {
        {.key = 0, .kind = DIA_KEY_SHORT, .act = DIA_ACT_TOGGLE, .layers = 2},
        {.key = 1, .kind = DIA_KEY_SHORT, .act = DIA_ACT_START, .layers = 4}};
    struct dia_cues play = made(cues, 2);
    layers[1].fade_in_ms = 1000;
    layers[1].fade_out_ms = 2000;
    layers[2].length_ms = 500;
    assert_string_equal(shown(&play, presses, N, 999), "100 0 0");
    assert_string_equal(shown(&play, presses, N, 1500), "100 50 0");
    assert_string_equal(shown(&play, presses, N, 4999), "100 100 0");
    assert_string_equal(shown(&play, presses, N, 5500), "100 75 0"); /* a quarter of 2 s */
    assert_string_equal(shown(&play, presses, N, 6000), "100 50 100");
    assert_string_equal(shown(&play, presses, N, 6499), "100 25 100"); /* 24.95, in 256ths */
    assert_string_equal(shown(&play, presses, N, 6500), "100 25 0");
    assert_string_equal(shown(&play, presses, N, 9000), "100 0 0");
}

/* Stopped halfway up and begun again halfway down: no step is larger than its time allows. */
static void no_press_makes_a_jump(void **state)
{
    (void)state;
    static const struct dia_cue cues[] = {
        {.key = 0, .kind = DIA_KEY_SHORT, .act = DIA_ACT_TOGGLE, .layers = 2}};
    struct dia_cues play = made(cues, 1);
    struct moment many[40];
    int before = 0, most = 0;
    layers[1].fade_in_ms = 1000;
    layers[1].fade_out_ms = 700;
    for (uint32_t k = 0; k < 40; k++)
        many[k] = (struct moment){k * 97 * (k % 5 + 1), 0, DIA_KEY_SHORT};
    for (uint32_t k = 1; k < 40; k++)
        if (many[k].ms < many[k - 1].ms)
            many[k].ms = many[k - 1].ms;
    for (uint32_t ms = 0; ms < many[39].ms + 2000; ms += 7) {
        int green;
        assert_int_equal(sscanf(shown(&play, many, 40, ms), "%*d %d", &green), 1);
        /* 7 ms of 700 are one of 100 codes, and 256ths round */
        assert_true(green - before <= 2 && before - green <= 2);
        most = green > most ? green : most;
        before = green;
    }
    assert_true(most > 20);
}

static void layers_take_turns(void **state)
{
    (void)state;
    static const struct dia_cue cues[] = {
        {.key = 0, .kind = DIA_KEY_SHORT, .act = DIA_ACT_NEXT, .layers = 15}};
    struct dia_cues play = made(cues, 1);
    static const struct moment three[] = {
        {10, 0, DIA_KEY_SHORT}, {20, 0, DIA_KEY_SHORT}, {30, 0, DIA_KEY_SHORT}};
    assert_string_equal(shown(&play, three, 3, 9), "100 0 0");
    assert_string_equal(shown(&play, three, 3, 10), "0 100 0");
    assert_string_equal(shown(&play, three, 3, 20), "0 0 100");
    assert_string_equal(shown(&play, three, 3, 30), "100 0 0");
}

/* The first of those that take turns is there from its own beginning to its own end. */
static void the_first_turn_is_as_long_as_its_layer(void **state)
{
    (void)state;
    static const struct dia_cue cues[] = {
        {.key = 0, .kind = DIA_KEY_SHORT, .act = DIA_ACT_NEXT, .layers = 3}};
    struct dia_cues play = made(cues, 1);
    layers[0].start_ms = 2000;
    layers[0].length_ms = 3000;
    assert_string_equal(shown(&play, NULL, 0, 2000), "100 0 100");
    assert_string_equal(shown(&play, NULL, 0, 4999), "100 0 100");
    assert_string_equal(shown(&play, NULL, 0, 5000), "0 0 100");
}

/* One that has come to its end begins from nothing, also at that moment. */
static void an_end_is_the_end(void **state)
{
    (void)state;
    static const struct dia_cue cues[] = {
        {.key = 0, .kind = DIA_KEY_SHORT, .act = DIA_ACT_START, .layers = 2}};
    static const struct moment two[] = {{1000, 0, DIA_KEY_SHORT}, {1500, 0, DIA_KEY_SHORT}};
    struct dia_cues play = made(cues, 1);
    layers[1].length_ms = 500;
    layers[1].fade_in_ms = 100;
    assert_string_equal(shown(&play, two, 2, 1499), "100 100 100");
    assert_string_equal(shown(&play, two, 2, 1500), "100 0 100");
    assert_string_equal(shown(&play, two, 2, 1550), "100 50 100");
}

/* What sets a number is of no layer: those whose bits it has go on. */
static void a_cue_for_a_number_leaves_layers_alone(void **state)
{
    (void)state;
    static const struct dia_cue cues[] = {
        {.key = 0, .kind = DIA_KEY_SHORT, .act = DIA_ACT_SET, .value = 0x0a0000, .layers = 7}};
    struct dia_cues play = made(cues, 1);
    assert_string_equal(shown(&play, presses, 1, 999), "100 100 100");
    assert_string_equal(shown(&play, presses, 1, 1000), "10 100 100");
    colours[0].colour.r = 100;
}

/* None, then each, then none again. */
static void turns_may_begin_with_none(void **state)
{
    (void)state;
    static const struct dia_cue cues[] = {
        {.key = 0, .kind = DIA_KEY_SHORT, .act = DIA_ACT_NEXT, .layers = 6, .value = 1}};
    static const char *const by_hand[] = {"100 0 0", "100 100 0", "100 0 100", "100 0 0",
                                          "100 100 0"};
    struct dia_cues play = made(cues, 1);
    struct moment four[4];
    for (uint32_t k = 0; k < 4; k++)
        four[k] = (struct moment){10 * k + 10, 0, DIA_KEY_SHORT};
    for (uint32_t k = 0; k < 5; k++)
        assert_string_equal(shown(&play, four, 4, 10 * k + 9), by_hand[k]);
}

/* By hand: 8 elements, an element each 100 ms from both sides, so 4 steps and a way of 399 ms.
 * Pressed at 1 s and, when it has rested for a minute, again; and a third time halfway back, where
 * it turns round. A step is lit at its beginning. */
static void a_reveal_goes_back_the_way_it_came(void **state)
{
    (void)state;
    static const struct {
        uint32_t ms;
        const char *lit;
    } by_hand[] = {
        {999, "........"},   {1000, "#......#"},  {1099, "#......#"},  {1100, "##....##"},
        {1399, "########"},  {60999, "########"}, {61000, "########"}, {61100, "###..###"},
        {61199, "###..###"}, {61201, "##....##"}, {61250, "##....##"}, {61351, "###..###"},
        {61500, "########"}, {90000, "########"}, {90100, "###..###"}, {90398, "#......#"},
        {90399, "........"}, {99000, "........"},
    };
    static const uint32_t presses_ms[] = {1000, 61000, 61250, 90000};
    struct dia_reveal reveal;
    struct dia_surface row;
    struct dia_layer layer, now;
    struct dia_cued cued;
    struct dia_cue cue = {.act = DIA_ACT_THERE_AND_BACK, .layers = 1};
    struct dia_cues play = {&cue, 1, &layer, &cued, 1, NULL, 0};
    struct dia_stack stack = {&now, 1};
    assert_int_equal(dia_surface_line(&row, 8, 0, 10000), DIA_OK);
    dia_reveal_defaults(&reveal);
    reveal.from = DIA_FROM_SIDES;
    reveal.every_ms = 100;
    cue.over_ms = dia_reveal_way_ms(&reveal, &row);
    assert_int_equal(cue.over_ms, 399);
    dia_layer_init(&layer, &row, dia_look_reveal.render, &reveal);
    dia_cues_init(&play);
    for (size_t k = 0, press = 0; k < sizeof by_hand / sizeof by_hand[0]; k++) {
        struct dia_rgb out[8];
        char lit[9] = "........";
        while (press < 4 && presses_ms[press] <= by_hand[k].ms)
            dia_cues_take(&play, &(struct dia_key_event){presses_ms[press++], 0, 0, 0});
        dia_cues_apply(&play, by_hand[k].ms, &now);
        dia_stack_render(&stack, by_hand[k].ms, 0, 8, out);
        for (int i = 0; i < 8; i++)
            lit[i] = out[i].r ? '#' : '.';
        if (strcmp(lit, by_hand[k].lit) != 0)
            fail_msg("at %u ms: %s, not %s", (unsigned)by_hand[k].ms, lit, by_hand[k].lit);
    }
}

static void a_knob_takes_its_time(void **state)
{
    (void)state;
    static const struct dia_cue cues[] = {
        {.key = 0,
         .kind = DIA_KEY_SHORT,
         .act = DIA_ACT_SET,
         .value = 0x00c864, /* 0 200 100 */
         .over_ms = 1000},
        {.key = 0, .kind = DIA_KEY_LONG, .act = DIA_ACT_SET, .value = 0x0a0a0a}};
    struct dia_cues play = made(cues, 2);
    static const struct moment both[] = {{1000, 0, DIA_KEY_SHORT}, {1500, 0, DIA_KEY_LONG}};
    layers[1].level = layers[2].level = 0;
    assert_string_equal(shown(&play, both, 2, 999), "100 0 0");
    assert_string_equal(shown(&play, both, 1, 1500), "50 100 50");
    assert_string_equal(shown(&play, both, 2, 1500), "10 10 10");
}

/* By hand: 5 + 3 is 8, + 3 is held at 10; - 4 is 6, - 4 is 2, - 4 is held at 0; and so are steps as
 * large as there are. */
static void a_knob_stays_in_its_range(void **state)
{
    (void)state;
    static const struct dia_cue cues[] = {
        {.key = 0, .kind = DIA_KEY_REPEAT, .act = DIA_ACT_ADD, .value = 3},
        {.key = 1, .kind = DIA_KEY_REPEAT, .act = DIA_ACT_ADD, .value = -4},
        {.key = 2, .kind = DIA_KEY_REPEAT, .act = DIA_ACT_ADD, .value = INT32_MAX},
        {.key = 3, .kind = DIA_KEY_REPEAT, .act = DIA_ACT_ADD, .value = INT32_MIN}};
    static const uint8_t keys[] = {0, 0, 1, 1, 1, 2, 3};
    static const int32_t by_hand[] = {8, 10, 6, 2, 0, 10, 0};
    struct dia_cues play = made(cues, 4);
    struct dia_layer now[LAYERS];
    int32_t number = 5;
    knobs[0] = (struct dia_knob){.field = &number, .min = 0, .max = 10};
    dia_cues_init(&play);
    for (uint32_t k = 0; k < 7; k++) {
        struct dia_key_event event = {k, keys[k], DIA_KEY_REPEAT, 0};
        dia_cues_take(&play, &event);
        dia_cues_apply(&play, k, now);
        assert_int_equal(number, by_hand[k]);
    }
}

/* A number falls and rises evenly in its time, over all that 32 bits have: a quarter, half and
 * three quarters of the way by hand. */
static void a_number_takes_its_time_both_ways(void **state)
{
    (void)state;
    static const struct dia_cue cues[] = {
        {.key = 0, .kind = DIA_KEY_SHORT, .act = DIA_ACT_SET, .value = INT32_MIN, .over_ms = 4000},
        {.key = 1, .kind = DIA_KEY_SHORT, .act = DIA_ACT_SET, .value = INT32_MAX, .over_ms = 4000}};
    static const double by_hand[] = {1, 0.5, 0, -0.5, -1, -0.5, 0, 0.5, 1};
    struct dia_cues play = made(cues, 2);
    struct dia_layer now[LAYERS];
    int32_t number = INT32_MAX;
    knobs[0] = (struct dia_knob){.field = &number, .min = INT32_MIN, .max = INT32_MAX};
    dia_cues_init(&play);
    for (uint32_t k = 0; k < 9; k++) {
        struct dia_key_event event = {k * 1000, k / 4 == 1, DIA_KEY_SHORT, 0};
        if (k % 4 == 0 && k < 8)
            dia_cues_take(&play, &event);
        dia_cues_apply(&play, k * 1000, now);
        assert_true(fabs(number / 2147483648.0 - by_hand[k]) < 1e-4);
    }
}

/* Over the wrap of the time, with a call a day: what has ended stays ended, what is on stays on,
 * and a look at half its pace goes on evenly. */
static void nothing_comes_again_after_49_days(void **state)
{
    (void)state;
    static const struct dia_cue cues[] = {
        {.key = 0, .kind = DIA_KEY_SHORT, .act = DIA_ACT_TOGGLE, .layers = 2},
        {.key = 1, .kind = DIA_KEY_SHORT, .act = DIA_ACT_START, .layers = 4},
        {.key = 2, .kind = DIA_KEY_SHORT, .act = DIA_ACT_PACE, .layers = 1, .value = 128}};
    struct dia_cues play = made(cues, 3);
    struct dia_layer now[LAYERS];
    uint32_t before = 0;
    layers[1].fade_in_ms = layers[1].fade_out_ms = 3600000;
    layers[2].length_ms = 86400000;
    dia_cues_begin(&play);
    dia_cues_take(&play, &(struct dia_key_event){1000, 0, DIA_KEY_SHORT, 0});
    dia_cues_take(&play, &(struct dia_key_event){1000, 1, DIA_KEY_SHORT, 0});
    dia_cues_take(&play, &(struct dia_key_event){1000, 2, DIA_KEY_SHORT, 0});
    for (uint32_t day = 0; day < 120; day++) {
        uint32_t ms = 1000u + day * 86400000u;
        dia_cues_apply(&play, ms, now);
        uint32_t own = ms - now[0].start_ms + now[0].ahead_ms;
        if (day > 0)
            assert_in_range(own - before, 43200000 - 2, 43200000 + 2);
        before = own;
        if (day == 59)
            dia_cues_take(&play, &(struct dia_key_event){ms, 0, DIA_KEY_SHORT, 0});
        for (uint32_t more = 0; more < 7200000u && day > 0; more += 1800000u) {
            dia_cues_apply(&play, ms + more, now);
            assert_true(day == 59 || now[1].level == (day < 59 ? DIA_SHARE_ONE : 0));
            assert_int_equal(now[2].level, 0);
        }
    }
}

/* By hand: from 1 s on, in 2 s from as it is to three times as fast: on average twice, so 2 s more
 * by then, and 2 s more in each second after that; then in no time to a half, a half less a second.
 */
static void a_pace_changes_without_a_jump(void **state)
{
    (void)state;
    static const struct dia_cue cues[] = {
        {.key = 0,
         .kind = DIA_KEY_DOWN,
         .act = DIA_ACT_PACE,
         .layers = 1,
         .value = 768,
         .over_ms = 2000},
        {.key = 1, .kind = DIA_KEY_DOWN, .act = DIA_ACT_PACE, .layers = 1, .value = 128}};
    static const struct {
        uint32_t ms;
        int32_t ahead;
    } by_hand[] = {{500, 0}, {1000, 0}, {3000, 2000}, {4000, 4000}, {6000, 3000}};
    struct dia_cues play = made(cues, 2);
    struct dia_layer now[LAYERS];
    size_t next = 0;
    uint32_t before = 0;
    layers[0].start_ms = 200;
    dia_cues_begin(&play);
    for (uint32_t ms = 200; ms <= 6000; ms++) {
        if (ms == 1000)
            dia_cues_take(&play, &(struct dia_key_event){ms, 0, DIA_KEY_DOWN, 1});
        if (ms == 4000)
            dia_cues_take(&play, &(struct dia_key_event){ms, 1, DIA_KEY_DOWN, 2});
        dia_cues_apply(&play, ms, now);
        assert_int_equal(now[0].start_ms, 200);
        uint32_t own = ms - now[0].start_ms + now[0].ahead_ms;
        assert_in_range(own - before, 0, 4); /* a millisecond is never more than three, rounded */
        before = own;
        if (next < 5 && ms == by_hand[next].ms) {
            assert_in_range(now[0].ahead_ms + 5, by_hand[next].ahead, by_hand[next].ahead + 10);
            next++;
        }
    }
    assert_int_equal(next, 5);
}

/* By hand: at 1 s a rest at once, own time stays 1 s; at 3 s in 2 s to as fast backwards, 1 s of
 * way by 5 s, and back to 0 at 5 s; another second back at 6 s, before its beginning. */
static void a_look_rests_and_goes_backwards(void **state)
{
    (void)state;
    static const struct dia_cue cues[] = {
        {.key = 0, .act = DIA_ACT_PACE, .layers = 1, .value = 0},
        {.key = 1, .act = DIA_ACT_PACE, .layers = 1, .value = -256, .over_ms = 2000}};
    static const struct {
        uint32_t ms;
        int32_t own;
    } by_hand[] = {{500, 500}, {1000, 1000}, {3000, 1000}, {4000, 750}, {5000, 0}, {6000, -1000}};
    struct dia_cues play = made(cues, 2);
    struct dia_layer now[LAYERS];
    int32_t before = -1;
    for (uint32_t ms = 0, next = 0; ms <= 6000; ms++) {
        if (ms == 1000 || ms == 3000)
            dia_cues_take(&play, &(struct dia_key_event){ms, ms == 3000, 0, 0});
        dia_cues_apply(&play, ms, now);
        int32_t own = (int32_t)(ms - now[0].start_ms + now[0].ahead_ms);
        assert_in_range(own - before + 3, 0, 6); /* no jump: a millisecond, rounded */
        before = own;
        if (ms == by_hand[next].ms)
            assert_in_range(own - by_hand[next++].own + 5, 0, 10);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(a_layer_begins_fades_and_ends),
        cmocka_unit_test(no_press_makes_a_jump),
        cmocka_unit_test(layers_take_turns),
        cmocka_unit_test(the_first_turn_is_as_long_as_its_layer),
        cmocka_unit_test(an_end_is_the_end),
        cmocka_unit_test(a_cue_for_a_number_leaves_layers_alone),
        cmocka_unit_test(turns_may_begin_with_none),
        cmocka_unit_test(a_reveal_goes_back_the_way_it_came),
        cmocka_unit_test(a_look_rests_and_goes_backwards),
        cmocka_unit_test(a_knob_takes_its_time),
        cmocka_unit_test(a_knob_stays_in_its_range),
        cmocka_unit_test(a_number_takes_its_time_both_ways),
        cmocka_unit_test(a_pace_changes_without_a_jump),
        cmocka_unit_test(nothing_comes_again_after_49_days),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
