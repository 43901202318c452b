/* SPDX-License-Identifier: MIT */
/* The rails of a strip, against closed solutions and against a circuit simulator. */
#include <math.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <time.h>

#include <diachrome/rails.h>

#include "../support.h"

/* As a pixel of 5 V: blue and green go before red. */
static const struct dia_rails_need need = {{2.8, 3.9, 4.0, 4.0}, {1.7, 2.7, 2.8, 2.8}};
#define MOST 2001

static float amps[MOST][4];

static void all_want(uint32_t count, float each)
{
    memset(amps, 0, sizeof amps);
    for (uint32_t k = 0; k < count; k++)
        amps[k][0] = each;
}

static struct dia_rails *strip(uint32_t count, double supply_ohm, double ground_ohm,
                               const struct dia_rails_feed *feeds, uint32_t n)
{
    struct dia_rails_setup setup = {count, supply_ohm, ground_ohm, feeds, n, need};
    struct dia_rails *rails = dia_rails_new(&setup);
    assert_non_null(rails);
    return rails;
}

static void near(double found, double right, double tolerance)
{
    if (!(fabs(found - right) <= tolerance))
        fail_msg("found %.9f, which is not %.9f within %g", found, right, tolerance);
}

/* 100 pixels of 6 mA from one end: the interval behind pixel k carries what the 99 - k behind it
 * draw. So the last is below the first by r i n (n - 1) / 2 on each rail, and the wire carries all.
 */
static void one_feed_is_the_closed_ladder(void **state)
{
    (void)state;
    const struct dia_rails_feed start = {0, 0.05, 0.02};
    const double volts[] = {5.0};
    struct dia_rails *rails = strip(100, 0.002, 0.001, &start, 1);
    all_want(100, 0.006f);
    assert_int_equal(dia_rails_solve(rails, volts, (const float(*)[4])amps, 0), DIA_OK);
    double first = 5.0 - 0.6 * 0.07, drop = 0.003 * 0.006 * 100 * 99 / 2;
    near(dia_rails_volts(rails, 0), first, 0.001 * 0.6 * 0.07);
    near(first - dia_rails_volts(rails, 99), drop, 0.001 * drop);
    near(dia_rails_ground(rails, 99), 0.6 * 0.02 + drop / 3, 1e-6);
    near(dia_rails_feed_amps(rails, 0), 0.6, 1e-6);
    near(dia_rails_feed_ground_amps(rails, 0), 0.6, 1e-6);
    assert_int_equal(dia_rails_worst(rails), 99);
    dia_rails_free(rails);
}

/* From both ends half of the current comes from each, and the middle of 2 m + 1 pixels is lowest,
 * by r i m m / 2 on each rail: 0.5 i through the last interval, 1.5 i through the one before, ...
 */
static void two_feeds_halve_the_way(void **state)
{
    (void)state;
    const struct dia_rails_feed ends[] = {{0, 0, 0}, {100, 0, 0}};
    const double volts[] = {5.0, 5.0};
    struct dia_rails *rails = strip(101, 0.002, 0.002, ends, 2);
    all_want(101, 0.006f);
    assert_int_equal(dia_rails_solve(rails, volts, (const float(*)[4])amps, 0), DIA_OK);
    double drop = 2 * 0.002 * 0.006 * 50 * 50 / 2;
    near(5.0 - dia_rails_volts(rails, 50), drop, 0.001 * drop);
    assert_int_equal(dia_rails_worst(rails), 50);
    near(dia_rails_feed_amps(rails, 0), 0.303, 1e-6);
    dia_rails_free(rails);
}

/* One pixel behind 50 ohm: 5 - 50 i = v where i = 0.04 (v - 2.8) / 1.2 for blue, so
 * v (1 + 2 / 1.2) = 5 + 2 * 2.8 / 1.2 = 9.6667, v = 3.625. It has 68.75 % of its blue. */
static void a_pixel_starves_on_a_straight_line(void **state)
{
    (void)state;
    const struct dia_rails_feed wire = {0, 50, 0};
    const double volts[] = {5.0};
    struct dia_rails *rails = strip(1, 0, 0, &wire, 1);
    all_want(1, 0);
    amps[0][2] = 0.04f;
    assert_int_equal(dia_rails_solve(rails, volts, (const float(*)[4])amps, 0), DIA_OK);
    near(dia_rails_volts(rails, 0), 3.625, 1e-5);
    near(dia_rails_share(&need, 2, 3.625), 0.6875, 1e-9);
    near(dia_rails_amps(rails, 0), 0.0275, 1e-6);
    /* and all of it far below: what is left is what its logic draws, 1 mA for each volt */
    amps[0][2] = 0;
    const struct dia_rails_feed thin = {0, 9000, 0};
    struct dia_rails *dark = strip(1, 0, 0, &thin, 1);
    assert_int_equal(dia_rails_solve(dark, volts, (const float(*)[4])amps, 0.001), DIA_OK);
    near(dia_rails_volts(dark, 0), 0.5, 1e-5);
    dia_rails_free(rails);
    dia_rails_free(dark);
}

/* A supply of 4.8 V beside one of 5 V takes current instead of giving some. */
static void a_lower_supply_is_fed_back(void **state)
{
    (void)state;
    const struct dia_rails_feed ends[] = {{0, 0.01, 0.01}, {9, 0.01, 0.01}};
    const double volts[] = {5.0, 4.8};
    struct dia_rails *rails = strip(10, 0.001, 0.001, ends, 2);
    all_want(10, 0.001f);
    assert_int_equal(dia_rails_solve(rails, volts, (const float(*)[4])amps, 0), DIA_OK);
    assert_true(dia_rails_feed_amps(rails, 1) < -1);
    near(dia_rails_feed_amps(rails, 0) + dia_rails_feed_amps(rails, 1), 0.01, 1e-6);
    dia_rails_free(rails);
}

static void what_is_no_network_is_refused(void **state)
{
    (void)state;
    const struct dia_rails_feed good = {0, 0.1, 0.1}, no_ground = {0, 0.1, -1}, far = {5, 0.1, 0.1};
    const struct dia_rails_setup setups[] = {
        {0, 0.1, 0.1, &good, 1, need},
        {5, -0.1, 0.1, &good, 1, need},
        {5, 0.1, (double)NAN, &good, 1, need},
        {5, 0.1, 0.1, &good, 0, need},
        {5, 0.1, 0.1, &no_ground, 1, need},
        {5, 0.1, 0.1, &far, 1, need},
        {5, 0.1, 0.1, &good, 1, {{3, 3, 3, 3}, {2, 2, 3, 2}}},
    };
    for (size_t i = 0; i < sizeof setups / sizeof setups[0]; i++)
        assert_null(dia_rails_new(&setups[i]));
}

/* The goal is 2 ms a frame; a test that fails on a busy machine says nothing, so it allows 20 here,
 * and `make bench` prints what it takes. */
static void two_thousand_pixels_with_six_feeds_are_quick(void **state)
{
    (void)state;
    struct dia_rails_feed feeds[6];
    double volts[6];
    uint32_t seed = 7;
    for (uint32_t i = 0; i < 6; i++) {
        feeds[i] = (struct dia_rails_feed){i * 399, 0.03, 0.03};
        volts[i] = 5.0;
    }
    struct dia_rails *rails = strip(2000, 0.002, 0.002, feeds, 6);
    for (uint32_t k = 0; k < 2000; k++) {
        for (int c = 0; c < 3; c++)
            amps[k][c] = (float)random_below(&seed, 256) * 0.02f / 255;
    }
    clock_t begin = clock();
    for (int frame = 0; frame < 20; frame++)
        assert_int_equal(dia_rails_solve(rails, volts, (const float(*)[4])amps, 0.001), DIA_OK);
    assert_true(clock() - begin < 20 * CLOCKS_PER_SEC / 50);
    dia_rails_free(rails);
}

/* ---- against ngspice ------------------------------------------------------------------------ */

#define SPICE_MOST 60

struct circuit {
    uint32_t count, feed_count;
    double supply_ohm, ground_ohm, quiet, volts[4];
    struct dia_rails_feed feeds[4];
};

static double between(uint32_t *seed, double least, double most)
{
    return least + (most - least) * (random_below(seed, 10001)) / 10000;
}

/* Pixels of all colours, some dark; strips from sound to hopeless. */
static void make_up(struct circuit *c, uint32_t *seed)
{
    c->count = 2 + random_below(seed, SPICE_MOST - 1);
    c->feed_count = 1 + random_below(seed, 4);
    c->supply_ohm = between(seed, 0.001, 0.06);
    c->ground_ohm = between(seed, 0.001, 0.06);
    c->quiet = between(seed, 0.0005, 0.001);
    for (uint32_t i = 0; i < c->feed_count; i++) {
        int only_ground = i > 0 && random_below(seed, 4) == 0;
        c->volts[i] = between(seed, 4.6, 5.2);
        c->feeds[i].element = random_below(seed, c->count);
        c->feeds[i].supply_ohm = only_ground ? -1 : between(seed, 0.01, 0.5);
        c->feeds[i].ground_ohm = between(seed, 0.01, 0.5);
    }
    for (uint32_t k = 0; k < c->count; k++) {
        for (int i = 0; i < 4; i++)
            amps[k][i] = random_below(seed, 4) ? (float)between(seed, 0, 0.02) : 0;
    }
}

static void write_circuit(const struct circuit *c, const char *path)
{
    FILE *file = fopen(path, "w");
    assert_non_null(file);
    fprintf(file, "rails\n");
    for (uint32_t i = 0; i < c->feed_count; i++) {
        if (c->feeds[i].supply_ohm >= 0)
            fprintf(file, "V%u p%u 0 %.6f\nRS%u p%u s%u %.9f\n", i, i, c->volts[i], i, i,
                    c->feeds[i].element, c->feeds[i].supply_ohm);
        fprintf(file, "RG%u 0 g%u %.9f\n", i, c->feeds[i].element, c->feeds[i].ground_ohm);
    }
    for (uint32_t k = 0; k < c->count; k++) {
        if (k + 1 < c->count)
            fprintf(file, "RU%u s%u s%u %.9f\nRD%u g%u g%u %.9f\n", k, k, k + 1, c->supply_ohm, k,
                    k, k + 1, c->ground_ohm);
        fprintf(file, "B%u s%u g%u I=%.9f*min(1,max(0,V(s%u,g%u)))", k, k, k, c->quiet, k, k);
        for (int i = 0; i < 4; i++)
            fprintf(file, "+%.9f*min(1,max(0,(V(s%u,g%u)-%.3f)/%.3f))", (double)amps[k][i], k, k,
                    need.gone_volt[i], need.full_volt[i] - need.gone_volt[i]);
        fprintf(file, "\n");
    }
    /* so that it too begins from full volts */
    for (uint32_t k = 0; k < c->count; k++)
        fprintf(file, ".nodeset v(s%u)=%.6f\n", k, c->volts[0]);
    fprintf(file, ".control\nop\n");
    for (uint32_t k = 0; k < c->count; k++)
        fprintf(file, "print v(s%u)-v(g%u)\n", k, k);
    fprintf(file, ".endc\n.end\n");
    fclose(file);
}

/* The volts of each element, in their order. How many there are. */
static uint32_t run_ngspice(const char *path, double *volts)
{
    char command[200], line[200];
    uint32_t n = 0;
    snprintf(command, sizeof command, "ngspice -b %s 2>/dev/null", path);
    FILE *pipe = popen(command, "r");
    assert_non_null(pipe);
    while (fgets(line, sizeof line, pipe)) {
        const char *equals = strstr(line, ") = ");
        if (equals && strncmp(line, "v(s", 3) == 0 && n < SPICE_MOST + 1)
            volts[n++] = strtod(equals + 4, NULL);
    }
    pclose(pipe);
    return n;
}

static void fifty_strips_agree_with_ngspice(void **state)
{
    (void)state;
    uint32_t seed = 20, starving = 0;
    double theirs[SPICE_MOST + 1];
    if (system("ngspice --version >/dev/null 2>&1") != 0) {
        print_message("ngspice is not installed: tools/packages tests\n");
        skip();
    }
    for (int rig = 0; rig < 50; rig++) {
        struct circuit c = {0};
        memset(amps, 0, sizeof amps);
        make_up(&c, &seed);
        write_circuit(&c, "rails.cir");
        assert_int_equal(run_ngspice("rails.cir", theirs), c.count);
        struct dia_rails *rails = strip(c.count, c.supply_ohm, c.ground_ohm, c.feeds, c.feed_count);
        assert_int_equal(dia_rails_solve(rails, c.volts, (const float(*)[4])amps, c.quiet), DIA_OK);
        for (uint32_t k = 0; k < c.count; k++) {
            double tolerance = 0.005 * theirs[k] > 0.001 ? 0.001 : 0.005 * theirs[k];
            near(dia_rails_volts(rails, k), theirs[k], tolerance);
            starving += theirs[k] < 4.0;
        }
        dia_rails_free(rails);
    }
    assert_true(starving > 100); /* it is these that are hard */
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(one_feed_is_the_closed_ladder),
        cmocka_unit_test(two_feeds_halve_the_way),
        cmocka_unit_test(a_pixel_starves_on_a_straight_line),
        cmocka_unit_test(a_lower_supply_is_fed_back),
        cmocka_unit_test(what_is_no_network_is_refused),
        cmocka_unit_test(two_thousand_pixels_with_six_feeds_are_quick),
        cmocka_unit_test(fifty_strips_agree_with_ngspice),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
