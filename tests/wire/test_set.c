/* SPDX-License-Identifier: MIT */
#include "families.h"

/* Three strips of 40 pixels that latch at moments of their own, two lanes of a group, a matrix and
 * a display, on one supply of 1 A. */
enum { STRIPS = 5, COUNT = 40 };

static struct dia_strip strips[STRIPS];
static struct dia_rgb pixels[STRIPS][COUNT];
static uint8_t bytes[STRIPS][DIA_STRIP_BYTES(3, COUNT)], planes[DIA_PLANES_BYTES(2, 3 * COUNT)];
static struct dia_group group;
static struct dia_set set;
static struct dia_set_supply supplies[1];
static struct dia_set_member members[STRIPS + 2];
static int on_bench[STRIPS], board, keeper, supply;

static void set_up(void)
{
    static const char *const parts[STRIPS] = {"WS2812B", "SK6812", "WS2813", "WS2812B", "WS2812B"};
    static const uint8_t strip_pins[STRIPS] = {50, 51, 52, 54, 55};
    families_desk();
    supply = dia_bench_supply(bench, "pier", 1000000, 0);
    for (int k = 0; k < STRIPS; k++) {
        struct dia_chain_setup setup = {.name = parts[k],
                                        .part = parts[k],
                                        .pin = strip_pins[k],
                                        .count = COUNT,
                                        .supply = supply};
        on_bench[k] = dia_bench_chain(bench, &setup);
        assert_true(on_bench[k] >= 0);
    }
    struct dia_port *port = &sim.port;
    assert_int_equal(dia_strip_init(&strips[0], port, 50, &dia_ws2812b, pixels[0], bytes[0], COUNT),
                     DIA_OK);
    assert_int_equal(dia_strip_init(&strips[1], port, 51, &dia_sk6812, pixels[1], bytes[1], COUNT),
                     DIA_OK);
    assert_int_equal(dia_strip_init(&strips[2], port, 52, &dia_ws2813, pixels[2], bytes[2], COUNT),
                     DIA_OK);
    assert_int_equal(dia_group_init(&group, port, 54, 2, &dia_ws2812b, planes, 3 * COUNT), DIA_OK);
    for (uint8_t k = 0; k < 2; k++)
        assert_int_equal(dia_strip_init_lane(&strips[3 + k], &group, k, &dia_ws2812b, pixels[3 + k],
                                             bytes[3 + k], COUNT),
                         DIA_OK);
    families_supply = supply;
    families_lamp_ua = 10000;
    board = families[3].connect();
    families_supply = 0;
    keeper = families[10].connect();
    supplies[0].given_ua = 1000000;
    memset(members, 0, sizeof members);
    for (int k = 0; k < STRIPS; k++)
        members[k].driver = &strips[k].driver;
    members[STRIPS].driver = families[3].driver;
    members[STRIPS].lamp_ua = 10000;
    members[STRIPS + 1].driver = families[10].driver;
    members[STRIPS + 1].lamp_ua = 20000;
    assert_int_equal(dia_set_init(&set, supplies, 1, members, STRIPS + 2), DIA_OK);
}

/* What strips and matrix draw, as the bench works it out at every moment of 300 random frames. */
static void a_shared_supply_holds_at_every_moment(void **state)
{
    (void)state;
    uint32_t seed = 4, limited = 0;
    set_up();
    for (int frame = 0; frame < 300; frame++) {
        for (int k = 0; k < STRIPS; k++) {
            uint32_t below = 1 + random_below(&seed, 256);
            for (int i = 0; i < COUNT * 3; i++)
                (&pixels[k][0].r)[i] = (uint8_t)random_below(&seed, below);
        }
        uint16_t pattern = (uint16_t)random_below(&seed, 65536);
        family_draw(&families[3], pattern);
        family_draw(&families[10], pattern);
        assert_int_equal(dia_set_show(&set), DIA_OK);
        enum dia_status status;
        while ((status = dia_set_poll(&set, NULL)) == DIA_BUSY) {
            dia_bench_settle(bench, sim.now_ns);
            assert_true(dia_bench_gives_ua(bench, supply) <= 1000000u);
            dia_sim_advance_us(&sim, 20);
        }
        assert_int_equal(status, DIA_OK);
        desk_settle();
        assert_true(family_shows(&families[3], board, pattern));
        assert_true(family_shows(&families[10], keeper, pattern));
        for (int k = 0; k < STRIPS; k++)
            assert_int_equal(dia_bench_shown(bench, on_bench[k])->frames, frame + 1);
        limited += dia_set_share(&set, 0) != DIA_SHARE_ONE;
    }
    assert_in_range(limited, 100, 299); /* both kinds were among them */
    assert_int_equal(dia_set_dark(&set), DIA_OK);
    desk_settle();
    for (int k = 0; k < STRIPS; k++)
        assert_int_equal(dia_bench_shown(bench, on_bench[k])->drive[COUNT - 1][0], 0);
    assert_true(family_shows(&families[3], board, 0));
    desk_finds(NULL);
    desk_clear();
}

/* One goes dark, one goes white: the second waits for the first, and both come to show with the
 * one call that waits. Lanes of a group that are shown together go out together. */
static void what_gets_brighter_waits_for_what_gets_darker(void **state)
{
    (void)state;
    set_up();
    memset(pixels[0], 255, sizeof pixels[0]);
    assert_int_equal(dia_set_show_and_wait(&set), DIA_OK);
    memset(pixels[0], 0, sizeof pixels[0]);
    memset(pixels[3], 255, sizeof pixels[3]);
    memset(pixels[4], 255, sizeof pixels[4]);
    assert_int_equal(dia_set_show(&set), DIA_OK);
    assert_int_equal(dia_set_show(&set), DIA_BUSY); /* nothing is lost by asking */
    assert_int_equal(dia_set_wait(&set), DIA_OK);
    desk_settle();
    uint64_t dark_ns = dia_bench_shown(bench, on_bench[0])->latched_ns;
    uint64_t bright_ns = dia_bench_shown(bench, on_bench[3])->latched_ns;
    assert_true(bright_ns > dark_ns + COUNT * 24 * 1250); /* it began when the other showed */
    assert_int_equal(bright_ns, dia_bench_shown(bench, on_bench[4])->latched_ns);
    assert_int_equal(dia_bench_shown(bench, on_bench[0])->drive[0][0], 0);
    assert_true(dia_bench_shown(bench, on_bench[3])->drive[0][0] != 0);
    desk_finds(NULL);
    desk_clear();
}

/* Asked while it is busy, the call that waits waits for both frames. Made dark while one waits for
 * another, nothing comes later. */
static void one_frame_after_another_and_dark_in_between(void **state)
{
    (void)state;
    for (int dark = 0; dark < 2; dark++) {
        set_up();
        memset(pixels[0], 255, sizeof pixels[0]);
        assert_int_equal(dia_set_show_and_wait(&set), DIA_OK);
        memset(pixels[0], 0, sizeof pixels[0]);
        memset(pixels[3], 255, sizeof pixels[3]);
        assert_int_equal(dia_set_show(&set), DIA_OK); /* the fourth waits for the first */
        memset(pixels[3], 0, sizeof pixels[3]);
        memset(pixels[1], 200, sizeof pixels[1]);
        if (dark)
            assert_int_equal(dia_set_dark(&set), DIA_OK);
        else
            assert_int_equal(dia_set_show_and_wait(&set), DIA_OK);
        uint64_t now_ns = sim.now_ns;
        for (int k = 0; k < 1000; k++) {
            assert_int_equal(dia_set_poll(&set, NULL), DIA_OK);
            dia_sim_advance_us(&sim, 20);
        }
        desk_settle();
        for (int k = 0; k < STRIPS; k++) {
            const struct dia_shown *shown = dia_bench_shown(bench, on_bench[k]);
            assert_true(shown->latched_ns <= now_ns + 1000000);
            assert_int_equal(shown->drive[COUNT - 1][0] != 0, !dark && k == 1);
        }
        desk_finds(NULL);
        desk_clear();
    }
}

/* A program may sleep for as long as poll says: it comes a few times a frame, also while some wait
 * for others, and all show as soon as if it had never slept (a port call is 1 us). */
static void who_comes_when_told_comes_seldom(void **state)
{
    (void)state;
    uint64_t took_ns[2];
    uint32_t polls[2] = {0, 0};
    for (int sleeps = 0; sleeps < 2; sleeps++) {
        set_up();
        memset(pixels[0], 255, sizeof pixels[0]);
        assert_int_equal(dia_set_show_and_wait(&set), DIA_OK);
        memset(pixels[0], 0, sizeof pixels[0]);
        memset(pixels[3], 255, sizeof pixels[3]); /* waits for the first */
        uint64_t began_ns = sim.now_ns;
        assert_int_equal(dia_set_show(&set), DIA_OK);
        for (uint32_t again_us; dia_set_poll(&set, &again_us) == DIA_BUSY; polls[sleeps]++)
            dia_sim_advance_us(&sim, sleeps ? again_us : 0);
        took_ns[sleeps] = sim.now_ns - began_ns;
        desk_clear();
    }
    assert_true(polls[1] < polls[0] / 15);
    assert_true(took_ns[1] < took_ns[0] + 50000);
}

static enum dia_status no_pulses(struct dia_port *port, uint8_t pin, const uint8_t *out, uint32_t n,
                                 const struct dia_pulse_timing *timing)
{
    (void)port;
    (void)pin;
    (void)out;
    (void)n;
    (void)timing;
    return DIA_PORT_FAILED;
}

/* Strips alone cannot send: their error is told once, the others show, and so does the next frame
 * when they can. */
static void an_error_of_one_does_not_keep_the_others(void **state)
{
    (void)state;
    set_up();
    const struct dia_port_ops *right = sim.port.ops;
    struct dia_port_ops refusing = *right;
    refusing.pulse_start = no_pulses;
    sim.port.ops = &refusing;
    memset(pixels, 40, sizeof pixels);
    family_draw(&families[3], 0x1234);
    assert_int_equal(dia_set_show_and_wait(&set), DIA_PORT_FAILED);
    while (dia_set_poll(&set, NULL) == DIA_BUSY)
        dia_sim_advance_us(&sim, 20);
    desk_settle();
    assert_int_equal(members[0].status, DIA_PORT_FAILED);
    assert_int_equal(members[STRIPS].status, DIA_OK);
    assert_true(family_shows(&families[3], board, 0x1234));
    assert_int_equal(dia_bench_shown(bench, on_bench[0])->frames, 0);
    assert_int_equal(dia_set_dark(&set), DIA_PORT_FAILED);
    sim.port.ops = right;
    assert_int_equal(dia_set_show_and_wait(&set), DIA_OK);
    desk_settle();
    assert_int_equal(members[0].status, DIA_OK);
    assert_true(dia_bench_shown(bench, on_bench[0])->drive[COUNT - 1][0] != 0);
    assert_true(family_shows(&families[3], board, 0x1234));
    desk_clear();
}

/* A strip that could not be made dark may still be white: what gets brighter waits for its next
 * frame. After one that is dark it does not wait. */
static void what_would_not_go_dark_still_counts(void **state)
{
    (void)state;
    for (int fails = 0; fails < 2; fails++) {
        set_up();
        const struct dia_port_ops *right = sim.port.ops;
        struct dia_port_ops refusing = *right;
        refusing.pulse_start = no_pulses;
        memset(pixels[0], 255, sizeof pixels[0]);
        assert_int_equal(dia_set_show_and_wait(&set), DIA_OK);
        sim.port.ops = fails ? &refusing : right;
        assert_int_equal(dia_set_dark(&set), fails ? DIA_PORT_FAILED : DIA_OK);
        assert_int_equal(members[0].status, fails ? DIA_PORT_FAILED : DIA_OK);
        assert_int_equal(members[STRIPS].status, DIA_OK);
        sim.port.ops = right;
        memset(pixels[0], 0, sizeof pixels[0]);
        memset(pixels[3], 255, sizeof pixels[3]);
        assert_int_equal(dia_set_show_and_wait(&set), DIA_OK);
        desk_settle();
        uint64_t dark_ns = dia_bench_shown(bench, on_bench[0])->latched_ns;
        uint64_t bright_ns = dia_bench_shown(bench, on_bench[3])->latched_ns;
        assert_int_equal(bright_ns > dark_ns + COUNT * 24 * 1250, fails);
        desk_clear();
    }
}

/* Without a limit all of the light is let through, and what is asked for is known all the same:
 * 5 strips of 40 white pixels of 60 mA, and 1 mA each idle, are 12.2 A; lamps and light come on
 * top. */
static void a_supply_may_have_no_limit(void **state)
{
    (void)state;
    set_up();
    supplies[0].given_ua = DIA_NO_LIMIT;
    memset(pixels, 255, sizeof pixels);
    assert_int_equal(dia_set_show_and_wait(&set), DIA_OK);
    assert_int_equal(dia_set_share(&set, 0), DIA_SHARE_ONE);
    assert_in_range(dia_set_asked_ua(&set, 0), 12200000, 12700000);
    desk_settle();
    assert_int_equal(dia_bench_shown(bench, on_bench[4])->drive[COUNT - 1][2], 255);
    desk_clear();
}

static void what_cannot_be_is_refused(void **state)
{
    (void)state;
    struct dia_strip other;
    set_up();
    members[2].supply = 1;
    assert_int_equal(dia_set_init(&set, supplies, 1, members, 3), DIA_BAD_VALUE);
    members[2].supply = 0;
    members[1].driver = NULL;
    assert_int_equal(dia_set_init(&set, supplies, 1, members, 3), DIA_BAD_VALUE);
    assert_int_equal(dia_set_init(&set, supplies, 1, members, 0), DIA_BAD_VALUE);
    assert_int_equal(dia_set_init(&set, supplies, 0, members, 1), DIA_BAD_VALUE);
    assert_int_equal(dia_strip_init_lane(&other, &group, 1, &dia_ws2812b, pixels[0], bytes[0], 1),
                     DIA_BAD_VALUE); /* taken */
    assert_int_equal(dia_strip_init_lane(&other, &group, 2, &dia_ws2812b, pixels[0], bytes[0], 1),
                     DIA_BAD_VALUE);
    desk_clear();
}

static enum dia_status never(struct dia_port *port, uint8_t pin)
{
    (void)port;
    (void)pin;
    return DIA_BUSY;
}

/* Two strips that never end are waited for twice as long as they may take, and 100 us more for
 * each. */
static void what_never_ends_is_waited_for_no_longer_than_it_may_take(void **state)
{
    (void)state;
    set_up();
    struct dia_about about;
    uint32_t most_us = 0;
    for (int k = 0; k < 2; k++) {
        dia_driver_about(&strips[k].driver, &about);
        most_us += 2 * about.worst_us + 100;
    }
    assert_int_equal(dia_set_init(&set, supplies, 1, members, 2), DIA_OK);
    struct dia_port_ops ops = *sim.port.ops;
    ops.pulse_poll = never;
    sim.port.ops = &ops;
    assert_int_equal(dia_set_show(&set), DIA_OK);
    uint64_t began_ns = sim.now_ns;
    assert_int_equal(dia_set_wait(&set), DIA_BUSY);
    assert_in_range(sim.now_ns - began_ns, (most_us + 1) * 1000ull, (most_us + 60) * 1000ull);
    desk_clear();
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(a_shared_supply_holds_at_every_moment),
        cmocka_unit_test(what_gets_brighter_waits_for_what_gets_darker),
        cmocka_unit_test(one_frame_after_another_and_dark_in_between),
        cmocka_unit_test(who_comes_when_told_comes_seldom),
        cmocka_unit_test(an_error_of_one_does_not_keep_the_others),
        cmocka_unit_test(what_never_ends_is_waited_for_no_longer_than_it_may_take),
        cmocka_unit_test(what_would_not_go_dark_still_counts),
        cmocka_unit_test(a_supply_may_have_no_limit),
        cmocka_unit_test(what_cannot_be_is_refused),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
