/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <stdlib.h>
#include <string.h>

#include <diachrome/layout.h>
#include <diachrome/look.h>

#define WHITE                                                                                      \
    {                                                                                              \
        255, 255, 255                                                                              \
    }
#define BLACK                                                                                      \
    {                                                                                              \
        0, 0, 0                                                                                    \
    }

static struct dia_rgb a[1024], b[1024];

static struct dia_surface line_of(uint32_t count)
{
    struct dia_surface line;
    assert_int_equal(dia_surface_line(&line, count, 0, 10000), DIA_OK);
    return line;
}

/* A wall of odd size, so that it has a middle; elements row after row. */
static struct dia_grid grid = {21, 21, {DIA_TOP_LEFT, 0, 0}};
static struct dia_surface wall(void)
{
    struct dia_surface surface;
    assert_int_equal(dia_surface_grid(&surface, &grid, 10000), DIA_OK);
    return surface;
}

static int at(int column, int row)
{
    return row * 21 + column;
}

/* The picture as a row of signs: # for more than half lit. */
static const char *lit(uint32_t n)
{
    static char text[100];
    for (uint32_t i = 0; i < n; i++)
        text[i] = a[i].r > 127 ? '#' : '.';
    text[n] = 0;
    return text;
}

/* 707 m from the middle, with a pitch of 1 um: of more steps than 25 days have milliseconds. */
static void reveal_goes_round_a_kilometre_of_micrometres(void **state)
{
    (void)state;
    static const struct dia_point corners[2] = {{-500000000, -500000000}, {500000000, 500000000}};
    struct dia_places places;
    struct dia_surface far;
    struct dia_reveal p;
    struct dia_rgb out[2];
    dia_reveal_defaults(&p);
    assert_int_equal(dia_surface_places(&far, &places, corners, 2, 1), DIA_OK);
    far = dia_surface_along(far, DIA_ANGLE);
    dia_reveal_render(&p, &far, 100, 0, 2, out);
    assert_int_equal(dia_reveal_way_ms(&p, &far), 0x3f800000u - 1u); /* a millisecond a step */
}

/* By hand, 10 elements, 2 a step every 100 ms: 5 steps, half a second full, and out again. */
static void reveal_goes_step_by_step(void **state)
{
    (void)state;
    static const struct {
        int from, retreat;
        uint32_t ms;
        const char *picture;
    } by_hand[] = {
        {DIA_FROM_START, DIA_RETREAT_BACK, 50, "##........"},
        {DIA_FROM_START, DIA_RETREAT_BACK, 250, "######...."},
        {DIA_FROM_START, DIA_RETREAT_BACK, 700, "##########"},
        {DIA_FROM_START, DIA_RETREAT_BACK, 1250, "####......"},
        {DIA_FROM_START, DIA_RETREAT_BACK, 1700, ".........."},
        {DIA_FROM_START, DIA_RETREAT_ON, 1250, "......####"},
        {DIA_FROM_START, DIA_RETREAT_AT_ONCE, 950, "##########"},
        {DIA_FROM_START, DIA_RETREAT_AT_ONCE, 1050, ".........."},
        {DIA_FROM_END, DIA_RETREAT_BACK, 250, "....######"},
        {DIA_FROM_SIDES, DIA_RETREAT_BACK, 50, "##......##"},
        {DIA_FROM_MIDDLE, DIA_RETREAT_BACK, 50, "...####..."},
        {DIA_FROM_MIDDLE, DIA_RETREAT_BACK, 150, ".########."},
    };
    struct dia_surface line = line_of(10);
    for (size_t k = 0; k < sizeof by_hand / sizeof by_hand[0]; k++) {
        struct dia_reveal p = {WHITE, BLACK, by_hand[k].from, 2, 100, 500, by_hand[k].retreat};
        dia_reveal_render(&p, &line, by_hand[k].ms, 0, 10, a);
        assert_string_equal(lit(10), by_hand[k].picture);
    }
    struct dia_reveal odd = {WHITE, BLACK, DIA_FROM_MIDDLE, 1, 100, 500, DIA_RETREAT_BACK};
    line = line_of(9);
    dia_reveal_render(&odd, &line, 150, 0, 9, a);
    assert_string_equal(lit(9), "...###...");
}

/* 1000 elements an hour each, and out again, would be 83 days: it is quicker then, but still in
 * order. */
static void reveal_bears_the_longest_times(void **state)
{
    (void)state;
    struct dia_surface line = line_of(1000);
    struct dia_reveal p = {WHITE, BLACK, DIA_FROM_START, 1, 3600000, 3600000, DIA_RETREAT_BACK};
    int last = 0;
    for (uint32_t ms = 0; ms < 1000u * 1000000u; ms += 5000000) {
        int now = 0;
        dia_reveal_render(&p, &line, ms, 0, 1000, a);
        for (int i = 0; i < 1000; i++)
            now += a[i].r != 0;
        assert_true(now >= last && now <= last + 6);
        last = now;
    }
    assert_true(last > 900);
}

/* A railing filled from the shore on both sides: a folded line does it. */
static void reveal_fills_both_sides_of_a_fold(void **state)
{
    (void)state;
    struct dia_fold fold = {5, 40000};
    struct dia_surface rail;
    struct dia_reveal p = {WHITE, BLACK, DIA_FROM_START, 1, 100, 500, DIA_RETREAT_BACK};
    assert_int_equal(dia_surface_fold(&rail, &fold, 10, 10000), DIA_OK);
    dia_reveal_render(&p, &rail, 150, 0, 10, a);
    assert_string_equal(lit(10), "##......##");
}

/* By hand: 10 elements and no soft edge; it takes a second to the end, and another for the other.
 */
static void wipe_goes_over_and_back_over(void **state)
{
    (void)state;
    struct dia_surface line = line_of(10);
    struct dia_wipe p = {WHITE, BLACK, DIA_FROM_START, 0, 2000};
    dia_wipe_render(&p, &line, 351, 0, 10, a);
    assert_string_equal(lit(10), "####......");
    dia_wipe_render(&p, &line, 1351, 0, 10, a);
    assert_string_equal(lit(10), "....######");
    p.from = DIA_FROM_MIDDLE;
    dia_wipe_render(&p, &line, 501, 0, 10, a);
    assert_string_equal(lit(10), "..######..");
    p.from = DIA_FROM_START;
    p.soft_um = 100000; /* as wide as all of it: in the middle of the time, half is on the way */
    dia_wipe_render(&p, &line, 500, 0, 10, a);
    for (int i = 1; i < 10; i++)
        assert_true(a[i - 1].r > a[i].r);
    assert_true(abs(a[0].r - 255) <= 1);
    int before = 0; /* the first rises for as long, from nothing to all */
    for (uint32_t ms = 0; ms <= 500; ms += 50) {
        dia_wipe_render(&p, &line, ms, 0, 10, a);
        assert_true(ms == 0 ? a[0].r == 0 : a[0].r > before && (ms > 450 || a[0].r < 250));
        before = a[0].r;
    }
}

static void alternate_changes_places(void **state)
{
    (void)state;
    struct dia_surface line = line_of(12);
    struct dia_alternate p = {WHITE, BLACK, 3, 1000};
    dia_alternate_render(&p, &line, 100, 0, 12, a);
    assert_string_equal(lit(12), "###...###...");
    dia_alternate_render(&p, &line, 600, 0, 12, a);
    assert_string_equal(lit(12), "...###...###");
}

/* Each channel has as many crests as it has turns. */
static void waves_have_their_turns(void **state)
{
    (void)state;
    struct dia_surface line = line_of(360);
    struct dia_waves p = {1, 2, 5, DIA_SHARE_ONE / 3, DIA_SHARE_ONE, 100000};
    for (uint32_t ms = 0; ms < 3000; ms += 271) {
        int rises[3] = {0, 0, 0};
        dia_waves_render(&p, &line, ms, 0, 360, a);
        for (int i = 0; i < 360; i++) {
            struct dia_rgb next = a[(i + 1) % 360];
            rises[0] += a[i].r < 128 && next.r >= 128;
            rises[1] += a[i].g < 128 && next.g >= 128;
            rises[2] += a[i].b < 128 && next.b >= 128;
        }
        assert_int_equal(rises[0], 1);
        assert_int_equal(rises[1], 2);
        assert_int_equal(rises[2], 5);
    }
    p.blue_turns = 0; /* all of blue rises and falls together */
    dia_waves_render(&p, &line, 100, 0, 360, a);
    for (int i = 1; i < 360; i++)
        assert_int_equal(a[i].b, a[0].b);
}

/* By hand: 100 mm/s over elements 10 mm apart; the head of 30 mm is at 10 mm after 100 ms. The way
 * is 300 + 30 + 50 mm, so it comes again after 3.8 s and the rest of 1 s. The tail of 50 mm goes
 * from 1 to 0.8 on the first element, 0.6, 0.4, 0.2 and 0: means of the squares 0.813, 0.493,
 * 0.253, 0.093 and 0.013, of which these are the codes, a 256th of light more or less. */
static void pulse_runs_and_comes_again(void **state)
{
    (void)state;
    struct dia_surface line = line_of(30);
    struct dia_pulse p = {WHITE, BLACK, 30000, 50000, 100000, 1000, DIA_FROM_START};
    dia_pulse_render(&p, &line, 1000, 0, 30, a); /* the front is at 100 mm: elements 7 to 9 */
    static const uint8_t by_hand[30] = {0, 0, 30, 86, 138, 186, 233, 255, 255, 255};
    for (int i = 0; i < 30; i++)
        assert_true(abs(a[i].r - by_hand[i]) <= 2);
    dia_pulse_render(&p, &line, 4400, 0, 30, a);
    assert_string_equal(lit(30), "..............................");
    dia_pulse_render(&p, &line, 1000, 0, 30, a);
    dia_pulse_render(&p, &line, 1000 + 4801, 0, 30, b); /* 1 ms more: it rounds up */
    for (int i = 0; i < 30; i++)
        assert_true(abs(a[i].r - b[i].r) <= 6);
    p.from = DIA_FROM_MIDDLE;
    dia_pulse_render(&p, &line, 700, 0, 30, a);
    for (int i = 0; i < 15; i++)
        assert_int_equal(a[i].r, a[29 - i].r);
}

/* Nearly as many of each colour, none that is not in the palette, each for its time. */
static void scatter_keeps_colours_for_their_time(void **state)
{
    (void)state;
    struct dia_surface line = line_of(1000);
    struct dia_scatter p = {
        {.count = 4, .colours = {{1, 0, 0}, {2, 0, 0}, {3, 0, 0}, {4, 0, 0}}}, 1000, 1, 5};
    int of[5] = {0}, changed[2] = {0, 0};
    for (int how = 0; how < 2; how++) {
        p.change = how;
        for (uint32_t ms = 10; ms < 20000; ms += 250) {
            dia_scatter_render(&p, &line, ms, 0, 1000, a);
            dia_scatter_render(&p, &line, ms + 250, 0, 1000, b);
            int now = 0;
            for (int i = 0; i < 1000; i++) {
                of[a[i].r]++;
                now += a[i].r != b[i].r;
            }
            changed[how] += now;
            if (how == 0) /* all at once: none at all, or three of four */
                assert_true(now == 0 || (now > 650 && now < 850));
            else /* one by one: a quarter of them in a quarter of the time */
                assert_true(now > 120 && now < 260);
        }
    }
    p.every_ms = 200; /* changed when 200 ms are over, not a millisecond later */
    p.change = 0;
    for (uint32_t ms = 199; ms < 20000; ms += 200) {
        dia_scatter_render(&p, &line, ms, 0, 1000, a);
        dia_scatter_render(&p, &line, ms + 1, 0, 1000, b);
        assert_true(memcmp(a, b, sizeof a[0] * 1000) != 0);
    }
    p.every_ms = 256; /* nor sooner, after a day: 2^32 / 256 is a whole number */
    const uint32_t late_ms = 256 * 300000;
    dia_scatter_render(&p, &line, late_ms - 256, 0, 1000, a);
    dia_scatter_render(&p, &line, late_ms - 1, 0, 1000, b);
    assert_memory_equal(a, b, sizeof a[0] * 1000);
    dia_scatter_render(&p, &line, late_ms, 0, 1000, b);
    assert_true(memcmp(a, b, sizeof a[0] * 1000) != 0);
    for (int c = 1; c <= 4; c++)
        assert_in_range(of[c], 160000 / 4 - 2000, 160000 / 4 + 2000);
    assert_in_range(changed[0], 14000, 16000); /* 20 changes of three in four of 1000 */
    assert_in_range(changed[1], 14000, 16000);
}

/* The middle of a wall and rings round it: 40 mm from ring to ring, 40 mm/s outwards. */
static void rings_spread_from_the_middle(void **state)
{
    (void)state;
    struct dia_surface surface = wall();
    struct dia_rings p = {WHITE, BLACK, 40000, 40000};
    dia_rings_render(&p, &surface, 0, 0, 441, a);
    assert_true(a[at(10, 10)].r < 5 && a[at(12, 10)].r > 250 && a[at(14, 10)].r < 5);
    for (int i = 0; i < 441; i++) /* a quarter turn of the wall shows the same */
        assert_true(abs(a[i].r - a[at(20 - i / 21, i % 21)].r) <= 1);
    dia_rings_render(&p, &surface, 250, 0, 441, a); /* 10 mm further */
    assert_true(a[at(13, 10)].r > 250 && a[at(11, 10)].r < 5);
    p.spacing_um = 4000000; /* the wall is a part of the first, lit in its middle after 2 s */
    p.speed_um_s = 1000000;
    static const uint8_t middle[] = {0, 127, 255, 127, 0};
    for (uint32_t s = 0; s < 5; s++) {
        dia_rings_render(&p, &surface, s * 1000, 0, 441, a);
        assert_in_range(a[at(10, 10)].r + 2, middle[s], middle[s] + 4);
    }
}

/* One turn in 4 s, clockwise from the top: to the right after 1 s, down after 2. */
static void a_beam_turns_round_the_middle(void **state)
{
    (void)state;
    static const int where[4][2] = {{10, 2}, {18, 10}, {10, 18}, {2, 10}};
    struct dia_surface surface = wall();
    struct dia_beam p = {WHITE, BLACK, 1, DIA_SHARE_ONE / 5, 4000, 0};
    for (int way = 0; way < 2; way++) {
        p.way = way;
        for (int quarter = 0; quarter < 4; quarter++) {
            dia_beam_render(&p, &surface, (uint32_t)quarter * 1000, 0, 441, a);
            for (int k = 0; k < 4; k++) {
                int lit_there = k == (way ? (4 - quarter) % 4 : quarter);
                assert_in_range(a[at(where[k][0], where[k][1])].r, lit_there ? 245 : 0,
                                lit_there ? 255 : 2);
            }
        }
    }
    p.beams = 2; /* the other one is opposite */
    dia_beam_render(&p, &surface, 0, 0, 441, a);
    assert_true(a[at(10, 2)].r > 245 && a[at(10, 18)].r > 245 && a[at(2, 10)].r < 2);
}

/* Every column moves down 10 mm in 100 ms, and not all are at the same height. */
static void columns_fall_each_by_itself(void **state)
{
    (void)state;
    struct dia_surface surface = wall();
    struct dia_columns p = {WHITE, BLACK, 150000, DIA_SHARE_ONE / 2, 100000, 1};
    int differ = 0;
    dia_columns_render(&p, &surface, 5000, 0, 441, a);
    dia_columns_render(&p, &surface, 5100, 0, 441, b);
    for (int column = 0; column < 21; column++) {
        for (int row = 0; row < 20; row++)
            assert_true(abs(a[at(column, row)].r - b[at(column, row + 1)].r) <= 2);
        differ += a[at(column, 10)].r != a[at((column + 1) % 21, 10)].r;
    }
    assert_true(differ > 10); /* half of them are dark */
    p.speed_um_s = -100000;   /* rising */
    dia_columns_render(&p, &surface, 5000, 0, 441, a);
    dia_columns_render(&p, &surface, 5100, 0, 441, b);
    for (int row = 1; row < 21; row++)
        assert_true(abs(a[at(3, row)].r - b[at(3, row - 1)].r) <= 2);
}

static int brightness(int row, uint32_t from_ms, uint32_t to_ms, const struct dia_flame *p)
{
    struct dia_surface surface = wall();
    int sum = 0;
    for (uint32_t ms = from_ms; ms < to_ms; ms += 100) {
        dia_flame_render(p, &surface, ms, 0, 441, a);
        for (int column = 0; column < 21; column++)
            sum += a[at(column, row)].r + a[at(column, row)].g;
    }
    return sum;
}

/* Hot below and cold above; and what is at one height comes by higher up a little later. */
static void a_flame_rises_and_cools(void **state)
{
    (void)state;
    struct dia_flame p;
    struct dia_surface surface = wall();
    dia_flame_defaults(&p);
    assert_true(brightness(20, 0, 10000, &p) > 2 * brightness(0, 0, 10000, &p));
    assert_true(brightness(20, 0, 10000, &p) > brightness(10, 0, 10000, &p));
    p.palette = (struct dia_palette){.count = 2, .colours = {BLACK, WHITE}};
    p.change_ms = 3600000; /* so that only rising changes it: 120 mm/s are 12 rows in a second */
    dia_flame_render(&p, &surface, 1000, 0, 441, a);
    dia_flame_render(&p, &surface, 1500, 0, 441, b);
    for (int column = 0; column < 21; column++) {
        for (int row = 8; row < 20; row++) /* cooler by 6 of 21 rows of height */
            assert_true(dia_light_of(a[at(column, row)].r) >=
                        dia_light_of(b[at(column, row - 6)].r));
    }
}

/* Smooth in space and in time: with one sheet still and the other too, nothing moves but slowly. */
static void water_is_smooth(void **state)
{
    (void)state;
    struct dia_water p;
    struct dia_surface surface = wall();
    int least = 255, most = 0;
    dia_water_defaults(&p);
    p.palette = (struct dia_palette){.count = 2, .colours = {{0, 0, 0}, {0, 255, 0}}};
    for (uint32_t ms = 0; ms < 20000; ms += 500) {
        dia_water_render(&p, &surface, ms, 0, 441, a);
        dia_water_render(&p, &surface, ms + 20, 0, 441, b);
        for (int i = 0; i < 441; i++) {
            int now = dia_light_of(a[i].g), next = dia_light_of(b[i].g);
            assert_true(abs(now - next) < 65536 / 25); /* 1 mm of waves of 60 mm, and change */
            if (i % 21)
                assert_true(abs(now - dia_light_of(a[i - 1].g)) < 65536 / 3);
            least = a[i].g < least ? a[i].g : least;
            most = a[i].g > most ? a[i].g : most;
        }
    }
    assert_true(least < 110 && most > 210);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(reveal_goes_round_a_kilometre_of_micrometres),
        cmocka_unit_test(reveal_goes_step_by_step),
        cmocka_unit_test(reveal_bears_the_longest_times),
        cmocka_unit_test(reveal_fills_both_sides_of_a_fold),
        cmocka_unit_test(wipe_goes_over_and_back_over),
        cmocka_unit_test(alternate_changes_places),
        cmocka_unit_test(waves_have_their_turns),
        cmocka_unit_test(pulse_runs_and_comes_again),
        cmocka_unit_test(scatter_keeps_colours_for_their_time),
        cmocka_unit_test(rings_spread_from_the_middle),
        cmocka_unit_test(a_beam_turns_round_the_middle),
        cmocka_unit_test(columns_fall_each_by_itself),
        cmocka_unit_test(a_flame_rises_and_cools),
        cmocka_unit_test(water_is_smooth),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
