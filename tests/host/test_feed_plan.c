/* SPDX-License-Identifier: MIT */
/* Planned feeds, put into the rig, are found good by the bench; one step less is not. */
#include <stdlib.h>
#include <string.h>

#include <diachrome/feed_plan.h>

#include "../run.h"

static struct dia_rig rig;
static struct dia_feed_wish wish;
static struct dia_feed_plan plan;
static struct dia_diagnostic wrong;

/* What is different between the lanes that are planned. */
static const struct {
    const char *supply, *lane;
} kinds[] = {
    {"current: 20 A", "chip: WS2812B, count: 300"},
    {"current: 2 A", "chip: WS2812B, count: 300, copper: 70 um"},
    {"current: 8 A", "chip: SK6812-RGBW, count: 120, line: { pitch: 6.9 mm }"},
    {"current: 5 A", "chip: APA102, clock_pin: 18, count: 96"},
    {"voltage: 12 V, current: 6 A", "chip: WS2815, count: 300"},
    {"voltage: 12 V, current: 3 A", "chip: WS2811-fast, count: 50, line: { pitch: 5 cm }"},
    {"current: 3 A", "chip: WS2812B-V5, count: 60, ring: { diameter: 40 cm }"},
    {"current: 10 A", "chip: WS2812B, count: 144, fold: { pitch: 13.9 mm, gap: 20 cm }"},
    {"current: 1 A", "chip: WS2812B, count: 1"},
};

static double master = 100;

/* The lane with these feeds, or none. */
static void put(size_t kind, const struct dia_rig_feed *feeds, uint32_t n)
{
    char text[4000];
    int used = snprintf(text, sizeof text,
                        "controller: RP2040\nmaster: %.4f %%\nsupplies: { s: { %s } }\nlanes:\n  "
                        "shelf:\n    { pin: "
                        "17, shifter: 5 V, %s",
                        master, kinds[kind].supply, kinds[kind].lane);
    for (uint32_t k = 0; k < n; k++) {
        char fuse[40] = "";
        if (feeds[k].fuse_ua)
            snprintf(fuse, sizeof fuse, ", fuse: %u uA", (unsigned)feeds[k].fuse_ua);
        used += snprintf(text + used, sizeof text - (size_t)used,
                         "%s { at: %u, length: %u um, section: %.3f mm2%s }",
                         k ? "," : ", feeds: [", (unsigned)feeds[k].element,
                         (unsigned)feeds[k].length_um, feeds[k].section_um2 / 1e6, fuse);
    }
    used += snprintf(text + used, sizeof text - (size_t)used, "%s }\n", n ? " ]" : "");
    write_file("fed.rig.yaml", text, (size_t)used);
    if (dia_rig_load(&rig, "fed.rig.yaml", &wrong) != DIA_OK)
        fail_msg("%s", wrong.text);
}

/* Whether check has nothing to say of its volts, wires and fuses. */
static int is_good(void)
{
    assert_in_range(run("$D check fed.rig.yaml"), 0, 1);
    return !strstr(output, "starved") && !strstr(output, " has ") &&
           !strstr(output, "flow through") && !strstr(output, "does not protect");
}

static uint32_t thinner_than(uint32_t section_um2)
{
    uint32_t thinner = 0;
    for (uint32_t i = 0; dia_wire_sections_um2[i] && dia_wire_sections_um2[i] < section_um2; i++)
        thinner = dia_wire_sections_um2[i];
    return thinner;
}

static void what_is_planned_is_good_and_a_step_less_is_not(void **state)
{
    (void)state;
    int fewer = 0, thinner = 0;
    for (size_t kind = 0; kind < sizeof kinds / sizeof kinds[0]; kind++) {
        put(kind, NULL, 0);
        dia_feed_wish_init(&wish, &rig, 0);
        if (dia_feed_plan_make(&plan, &rig, 0, &wish, &wrong) != DIA_OK)
            fail_msg("%s: %s", kinds[kind].lane, wrong.text);
        put(kind, plan.feeds, plan.feed_count);
        if (!is_good())
            fail_msg("%s: planned, but %s", kinds[kind].lane, output);
        /* thinner wires, with the fuses that would save them */
        uint32_t section_um2 = thinner_than(plan.feeds[0].section_um2);
        if (section_um2) {
            struct dia_rig_feed thin[DIA_RIG_FEEDS];
            memcpy(thin, plan.feeds, sizeof thin);
            for (uint32_t k = 0; k < plan.feed_count; k++)
                thin[k].section_um2 = section_um2;
            put(kind, thin, plan.feed_count);
            if (is_good() && plan.thinner_mv >= wish.least_mv + 3) /* which the plan has to spare */
                fail_msg("%s: %.2f mm2 would do too", kinds[kind].lane, section_um2 / 1e6);
            thinner++;
        }
        /* a feed less, in the thickest wires there are */
        if (plan.feed_count > 1) {
            struct dia_feed_plan less;
            uint32_t count = rig.lanes[0].count, n = plan.feed_count - 1;
            put(kind, NULL, 0);
            for (int within = 0; within < 2; within++) {
                memset(&less, 0, sizeof less);
                for (uint32_t k = 0; k < n; k++) {
                    uint32_t at = within   ? (2 * k + 1) * count / (2 * n)
                                  : n == 1 ? 0
                                           : k * (count - 1) / (n - 1);
                    less.feeds[k] =
                        (struct dia_rig_feed){at, 0, plan.feeds[0].length_um, 6000000, 30000000};
                }
                put(kind, less.feeds, n);
                if (is_good())
                    fail_msg("%s: %u feeds would do too", kinds[kind].lane, (unsigned)n);
            }
            fewer++;
        }
    }
    assert_true(fewer >= 3 && thinner >= 6);
}

/* 300 pixels, white 60 mA and 1 mA quiet, on 2 A: (2 - 0.3) / 18 = 9.44 %; 2 / 0.061 = 32 of them.
 * Orange #ff8000 is full red and 0.2159 green: 1 + 20 * 1.2159 = 25.32 mA, so 78, and 23.3 %. */
static void how_many_and_how_bright(void **state)
{
    (void)state;
    put(1, NULL, 0);
    dia_feed_wish_init(&wish, &rig, 0);
    assert_int_equal(dia_feed_pixels_fit(&rig, 0, &wish), 32);
    assert_int_equal((int)(dia_feed_supply_light(&rig, 0, &wish) * 10000 + 0.5), 944);
    dia_feed_wish_colour(&wish, &rig, 0, (struct dia_rgb){255, 128, 0});
    assert_int_equal((int)(dia_feed_pixel_amps(&rig, 0, &wish) * 1e5 + 0.5), 2532);
    assert_int_equal(dia_feed_pixels_fit(&rig, 0, &wish), 78);
    assert_int_equal((int)(dia_feed_supply_light(&rig, 0, &wish) * 1000 + 0.5), 233);
}

/* The highest master of a supply and wires: at that, check is content, a little above it is not. */
static void the_highest_master_of_given_feeds(void **state)
{
    (void)state;
    const struct dia_rig_feed start = {0, 0, 1000000, 750000, 0};
    struct dia_lane_volts volts;
    double light;
    put(0, &start, 1);
    dia_feed_wish_init(&wish, &rig, 0);
    assert_int_equal(dia_feed_light(&light, &volts, &rig, 0, &wish), DIA_OK);
    assert_in_range(volts.least_mv, 4500, 4501);
    assert_true(light > 0.01 && light < 0.1);
    for (int above = 0; above < 2; above++) {
        master = light * 100 * (above ? 1.1 : 0.99);
        put(0, &start, 1);
        assert_int_equal(run("$D check fed.rig.yaml"), 0);
        assert_int_equal(strstr(output, "colours hold") != NULL, above);
    }
    master = 100;
}

static void the_command_says_it(void **state)
{
    (void)state;
    const struct dia_rig_feed start = {0, 0, 1000000, 750000, 0};
    master = 100;
    put(0, &start, 1);
    assert_int_equal(run("$D feeds fed.rig.yaml --wire 'AWG 18' | tr -s ' '"), 0);
    says("every pixel has 4.50 V or more (the worst, pixel ");
    says("- { at: start, length: 1.00 m, section: 0.823 mm2, fuse: ");
    says("a feed less 4.");
    says("supply 18.30 A flow; take one for 22.0 A or more, of 5 V");
    says("20 A light 327 pixels at 100 %, or all 300 at 100 %");
    says("feeds of the file hold a master of up to 2.");
    for (char *line = strtok(output, "\n"); line; line = strtok(NULL, "\n"))
        assert_true(strlen(line) <= 80);
    assert_int_equal(run("$D feeds fed.rig.yaml --json --colour '#ff8000'"), 0);
    says("\"found\":\ttrue");
    assert_int_equal(run("$D feeds fed.rig.yaml --wire 'AWG 30'"), 1);
    says("not even 16 feeds of 0.051 mm2 will do");
    assert_int_equal(run("$D feeds fed.rig.yaml --wire 'AWG 77'"), 2);
    says("--wire as a gauge is 'AWG 0' to 'AWG 36'; found 'AWG 77'");
    assert_int_equal(run("$D feeds fed.rig.yaml --least 5ft"), 2);
    says("--least takes a voltage in V, mV, such as 5 V; found '5ft'");
    assert_int_equal(run("$D feeds fed.rig.yaml --lane shalf"), 2);
    says("there is no lane 'shalf'; did you mean 'shelf'");
    assert_int_equal(run("$D feeds fed.rig.yaml --colour reddd"), 2);
    says("--colour: ");
    remove("fed.rig.yaml");
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(what_is_planned_is_good_and_a_step_less_is_not),
        cmocka_unit_test(how_many_and_how_bright),
        cmocka_unit_test(the_highest_master_of_given_feeds),
        cmocka_unit_test(the_command_says_it),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
