/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <string.h>

#include <diachrome/bench.h>

/*
 * The model of the pixel chain, fed with edges made here by hand. All numbers in this file are
 * from the data sheets, typed a third time.
 */
#define PIN 3

struct sheet_numbers {
    const char *part;
    uint32_t t0h[2], t0l[2], t1h[2], t1l[2]; /* least and most, ns */
    uint32_t latch_us;
};

static const struct sheet_numbers sheets[] = {
    {"WS2811-slow", {350, 650}, {1850, 2150}, {1050, 1350}, {1150, 1450}, 50},
    {"WS2811-fast", {175, 325}, {925, 1075}, {525, 675}, {575, 725}, 50},
    {"WS2812", {200, 500}, {650, 950}, {550, 850}, {450, 750}, 50},
    {"WS2812B", {250, 550}, {700, 1000}, {650, 950}, {300, 600}, 50},
    {"WS2812B-V5", {220, 380}, {580, 1000}, {580, 1000}, {220, 420}, 280},
    {"WS2813", {220, 380}, {580, 1000}, {580, 1000}, {220, 420}, 280},
    {"WS2815", {220, 380}, {580, 1000}, {580, 1000}, {220, 420}, 280},
    {"SK6812", {150, 450}, {750, 1050}, {450, 750}, {450, 750}, 80},
    {"SK6812-RGBW", {150, 450}, {750, 1050}, {450, 750}, {450, 750}, 80},
};

struct desk {
    struct dia_bench *bench;
    uint64_t now;
    int chain;
};

static struct desk desk_with(const char *part, uint32_t count, int with_supply, uint64_t max_ua)
{
    struct desk desk = {dia_bench_new(), 1000000, 0};
    int supply = with_supply ? dia_bench_supply(desk.bench, "mains", max_ua, 100000) : 0;
    struct dia_chain_setup setup = {
        .name = "strip", .part = part, .pin = PIN, .count = count, .supply = supply};
    desk.chain = dia_bench_chain(desk.bench, &setup);
    assert_int_equal(desk.chain, 0);
    return desk;
}

static void pulse(struct desk *desk, uint32_t high, uint32_t low)
{
    struct dia_edge edges[2] = {{desk->now, PIN, 1, 0}, {desk->now + high, PIN, 0, 0}};
    dia_bench_take(desk->bench, edges, 2);
    desk->now += high + low;
}

static void rest_us(struct desk *desk, uint32_t us)
{
    desk->now += us * 1000u;
    dia_bench_settle(desk->bench, desk->now);
}

/* bits with pulses in the middle of every range of the WS2812B */
static void send(struct desk *desk, uint32_t bits, int value)
{
    for (uint32_t i = 0; i < bits; i++)
        pulse(desk, value ? 800 : 400, value ? 450 : 850);
}

static const struct dia_finding *finding(const struct desk *desk, const char *code)
{
    return dia_findings_find(dia_bench_findings(desk->bench), code, "strip");
}

/* One pixel's worth of bits in which only the third is unusual; what is found is its pulse.
 * value is how the third must be read, -1 where the sheet leaves that open. */
static const char *verdict(const struct sheet_numbers *s, int value, uint32_t high, uint32_t low)
{
    struct desk desk = desk_with(s->part, 1, 0, 0);
    uint32_t bits = strcmp(s->part, "SK6812-RGBW") == 0 ? 32 : 24;
    for (uint32_t i = 0; i < bits; i++) {
        if (i == 2)
            pulse(&desk, high, low);
        else
            pulse(&desk, (s->t0h[0] + s->t0h[1]) / 2, (s->t0l[0] + s->t0l[1]) / 2);
    }
    rest_us(&desk, s->latch_us);
    const struct dia_shown *shown = dia_bench_shown(desk.bench, 0);
    assert_int_equal(shown->frames, 1);
    int byte = shown->drive[0][0] | shown->drive[0][1];
    if (value >= 0)
        assert_int_equal(byte, value ? 0x20 : 0);
    const struct dia_findings *all = dia_bench_findings(desk.bench);
    static char code[24];
    strcpy(code, all->count ? all->items[0].code : "fine");
    assert_true(all->count <= 1);
    if (all->count)
        assert_non_null(strstr(all->items[0].text, "bit 2 of pixel 0"));
    dia_bench_free(desk.bench);
    return code;
}

static void each_limit_of_each_sheet_is_kept_from_both_sides(void **state)
{
    (void)state;
    for (size_t i = 0; i < sizeof sheets / sizeof sheets[0]; i++) {
        const struct sheet_numbers *s = &sheets[i];
        for (int value = 0; value < 2; value++) {
            const uint32_t *high = value ? s->t1h : s->t0h;
            const uint32_t *low = value ? s->t1l : s->t0l;
            uint32_t mid_high = (high[0] + high[1]) / 2, mid_low = (low[0] + low[1]) / 2;
            for (int side = 0; side < 2; side++) {
                uint32_t outside = side ? high[1] + 1 : high[0] - 1;
                /* SK6812: 450 ns is the longest 0 and the shortest 1; on the far side of it the
                 * pulse is good, but for the other value, and then the low is wrong */
                if (s->t0h[1] == s->t1h[0] && side != value) {
                    assert_string_equal(verdict(s, -1, outside, mid_low), "pulse-low");
                    continue;
                }
                assert_string_equal(verdict(s, value, high[side], mid_low), "fine");
                assert_string_equal(verdict(s, value, outside, mid_low), "pulse-high");
            }
            assert_string_equal(verdict(s, value, mid_high, low[0]), "fine");
            assert_string_equal(verdict(s, value, mid_high, low[1]), "fine");
            assert_string_equal(verdict(s, value, mid_high, low[0] - 1), "pulse-low");
            assert_string_equal(verdict(s, value, mid_high, low[1] + 1), "pulse-low");
        }
    }
}

static void latching_takes_the_time_of_the_sheet(void **state)
{
    (void)state;
    for (size_t i = 0; i < sizeof sheets / sizeof sheets[0]; i++) {
        const struct sheet_numbers *s = &sheets[i];
        struct desk desk = desk_with(s->part, 1, 0, 0);
        uint32_t bits = strcmp(s->part, "SK6812-RGBW") == 0 ? 32 : 24;
        for (uint32_t b = 0; b < bits; b++)
            pulse(&desk, s->t0h[0], s->t0l[0]);
        desk.now += s->latch_us * 1000u - s->t0l[0]; /* the last low counts */
        dia_bench_settle(desk.bench, desk.now - 1);
        assert_int_equal(dia_bench_shown(desk.bench, 0)->frames, 0);
        dia_bench_settle(desk.bench, desk.now);
        assert_int_equal(dia_bench_shown(desk.bench, 0)->frames, 1);
        dia_bench_free(desk.bench);

        /* the same when the next frame begins just then, and not when it begins 1 ns earlier */
        for (uint32_t early = 0; early < 2; early++) {
            desk = desk_with(s->part, 1, 0, 0);
            for (uint32_t b = 0; b < bits; b++)
                pulse(&desk, s->t0h[0], s->t0l[0]);
            desk.now += s->latch_us * 1000u - s->t0l[0] - early;
            pulse(&desk, s->t0h[0], s->t0l[0]);
            assert_int_equal(dia_bench_shown(desk.bench, 0)->frames, !early);
            dia_bench_free(desk.bench);
        }
    }
}

static void a_short_gap_is_told_and_the_next_frame_falls_out_at_the_end(void **state)
{
    (void)state;
    struct desk desk = desk_with("WS2812B", 2, 0, 0);
    send(&desk, 48, 1);
    rest_us(&desk, 30);
    send(&desk, 48, 0);
    rest_us(&desk, 60);
    const struct dia_finding *found = finding(&desk, "latch-short");
    assert_non_null(found);
    /* 30 us and the last low of 450 ns; at 1 ms + 48 * 1.25 us + 30 us */
    assert_non_null(strstr(found->text, "30.4 us"));
    assert_string_equal(found->source, "WS2812B sheet (first), data transfer time");
    assert_int_equal(found->t_ns, 1000000 + 48 * 1250 + 30000);
    assert_non_null(strstr(finding(&desk, "bits-left")->text, "48 bits"));
    assert_int_equal(dia_bench_shown(desk.bench, 0)->drive[1][2], 255);
    dia_bench_free(desk.bench);
}

static void a_frame_cut_short_leaves_the_rest_as_it_was(void **state)
{
    (void)state;
    struct desk desk = desk_with("WS2812B", 3, 0, 0);
    send(&desk, 72, 1);
    rest_us(&desk, 60);
    send(&desk, 40, 0); /* one whole pixel, and 16 bits of the next */
    rest_us(&desk, 60);
    const struct dia_shown *shown = dia_bench_shown(desk.bench, 0);
    assert_int_equal(shown->drive[0][0], 0);
    assert_int_equal(shown->drive[1][0], 255);
    const struct dia_finding *found = finding(&desk, "frame-short");
    assert_non_null(strstr(found->text, "40 bits (1 whole pixels)"));
    assert_int_equal(found->times, 1);
    dia_bench_free(desk.bench);
}

/* WS2812B: 20 mA a die, 1 mA quiet. Two pixels full white draw 2 * 61 mA, with 100 mA for the
 * controller 222 mA. */
static void a_supply_is_judged_by_what_the_pixels_draw(void **state)
{
    (void)state;
    for (uint64_t max_ua = 221999; max_ua <= 222000; max_ua++) {
        struct desk desk = desk_with("WS2812B", 2, 1, max_ua);
        assert_int_equal(dia_bench_gives_ua(desk.bench, 1), 102000);
        send(&desk, 48, 1);
        rest_us(&desk, 60);
        assert_int_equal(dia_bench_gives_ua(desk.bench, 1), 222000);
        const struct dia_findings *all = dia_bench_findings(desk.bench);
        assert_int_equal(all->count, max_ua < 222000);
        if (all->count) {
            assert_string_equal(all->items[0].code, "supply-over");
            assert_string_equal(all->items[0].place, "mains");
            assert_string_equal(all->items[0].text, "0.222 A drawn; it may give 0.221 A");
            assert_string_equal(all->items[0].source, "rating of the supply");
        }
        send(&desk, 48, 0);
        rest_us(&desk, 60);
        assert_int_equal(dia_bench_gives_ua(desk.bench, 1), 102000);
        assert_int_equal(dia_bench_most_ua(desk.bench, 1), 222000);
        dia_bench_free(desk.bench);
    }
}

/* 1.939 A and a pixel full white with 61 mA are 2 A to the microampere. */
static void amperes_are_told_to_the_milliampere(void **state)
{
    (void)state;
    struct desk desk = {dia_bench_new(), 1000000, 0};
    const struct dia_chain_setup setup = {
        .name = "strip",
        .part = "WS2812B",
        .pin = PIN,
        .count = 1,
        .supply = dia_bench_supply(desk.bench, "mains", 1000000, 1939000)};
    desk.chain = dia_bench_chain(desk.bench, &setup);
    send(&desk, 24, 1);
    rest_us(&desk, 60);
    const struct dia_finding *over =
        dia_findings_find(dia_bench_findings(desk.bench), "supply-over", "mains");
    assert_non_null(over);
    assert_string_equal(over->text, "2.000 A drawn; it may give 1.000 A");
    dia_bench_free(desk.bench);
}

/* A fifth of 240 bits goes wrong, 48 give or take 25: the same of the same seed, others of others.
 */
static void bits_go_wrong_by_the_seed(void **state)
{
    (void)state;
    static const uint32_t seeds[] = {1, 1, 0, 2, 3};
    uint8_t drives[5][10][4];
    for (int i = 0; i < 5; i++) {
        struct dia_chain_fault fault = {.wrong_ppm = 200000, .seed = seeds[i]};
        struct desk desk = desk_with("WS2812B", 10, 0, 0);
        assert_int_equal(dia_bench_chain_fault(desk.bench, desk.chain, &fault), 0);
        send(&desk, 240, 1);
        rest_us(&desk, 300);
        memcpy(drives[i], dia_bench_shown(desk.bench, desk.chain)->drive, sizeof drives[i]);
        int wrong = 0;
        for (int pixel = 0; pixel < 10; pixel++)
            for (int channel = 0; channel < 3; channel++)
                for (int bit = 0; bit < 8; bit++)
                    wrong += !(drives[i][pixel][channel] >> bit & 1);
        assert_in_range(wrong, 48 - 25, 48 + 25);
        for (int before = 0; before < i; before++)
            assert_int_equal(memcmp(drives[before], drives[i], sizeof drives[i]) == 0,
                             seeds[before] == seeds[i]);
        dia_bench_free(desk.bench);
    }
}

static void what_cannot_be_set_up_is_refused(void **state)
{
    (void)state;
    struct dia_bench *bench = dia_bench_new();
    struct dia_chain_setup good = {.name = "a", .part = "WS2812B", .pin = PIN, .count = 5};
    struct dia_chain_setup part = good, order = good, count = good, twice = good, supply = good;
    part.part = "WS9999";
    order.order = "GGB";
    count.count = 0;
    supply.supply = 1;
    assert_int_equal(dia_bench_chain(bench, &part), -1);
    assert_int_equal(dia_bench_chain(bench, &order), -1);
    assert_int_equal(dia_bench_chain(bench, &count), -1);
    assert_int_equal(dia_bench_chain(bench, &supply), -1);
    assert_int_equal(dia_bench_chain(bench, &good), 0);
    assert_int_equal(dia_bench_chain(bench, &twice), -1); /* the pin is taken */
    struct dia_chain_setup clocked = {
        .name = "c", .part = "APA102", .pin = PIN + 1, .clock_pin = PIN, .count = 5};
    assert_int_equal(dia_bench_chain(bench, &clocked), -1); /* the clock's pin is taken, */
    clocked.clock_pin = PIN + 1;
    assert_int_equal(dia_bench_chain(bench, &clocked), -1); /* or that of its data */
    assert_null(dia_bench_shown(bench, 1));
    assert_null(dia_bench_fed(bench, -1));
    assert_null(dia_bench_fed(bench, 1));
    assert_null(dia_bench_fed(bench, 1000000));
    clocked.clock_pin = PIN + 2;
    assert_int_equal(dia_bench_chain(bench, &clocked), 1);

    /* displays of no size, of more than there is, or of another part; the smallest is one cell */
    uint8_t pins[DIA_CHARACTERS_PINS];
    for (uint8_t k = 0; k < sizeof pins; k++)
        pins[k] = (uint8_t)(20 + k);
    struct dia_device_setup device = {.name = "d", .part = "HD44780", .pins = pins, .count = 1};
    static const struct dia_glass none[] = {{.columns = 0, .rows = 1},
                                            {.columns = 1, .rows = 0},
                                            {.columns = 41, .rows = 1},
                                            {.columns = 1, .rows = 5}};
    for (size_t k = 0; k < sizeof none / sizeof none[0]; k++)
        assert_int_equal(dia_bench_characters(bench, &device, &none[k]), -1);
    assert_int_equal(dia_bench_digits(bench, &device), -1);
    assert_int_equal(dia_bench_panel(bench, &device), -1);
    device.part = "digits";
    device.count = 0;
    assert_int_equal(dia_bench_digits(bench, &device), -1);
    device.count = 9;
    assert_int_equal(dia_bench_digits(bench, &device), -1);
    device.part = "HD44780";
    assert_int_equal(
        dia_bench_characters(bench, &device, &(struct dia_glass){.columns = 1, .rows = 1}), 0);
    dia_bench_free(bench);
}

/* A pin used twice by one device, or by two that share no bus, select and data; no such part or
 * supply; too many chips; and more than there is room for. */
static void devices_that_cannot_be_connected_are_refused(void **state)
{
    (void)state;
    static const uint8_t pins[][3] = {{1, 2, 3}, {4, 4, 5}, {1, 2, 3}, {6, 2, 7}, {8, 9, 1}};
    struct dia_bench *bench = dia_bench_new();
    assert_non_null(bench);
    struct dia_chain_setup strip = {.name = "s", .part = "WS2812B", .pin = 8, .count = 1};
    struct dia_device_setup setup = {.name = "d", .part = "MAX7219", .pins = pins[0], .count = 1};
    assert_int_equal(dia_bench_chain(bench, &strip), 0);
    setup.part = "MAX1";
    assert_int_equal(dia_bench_matrix(bench, &setup), -1);
    setup.part = "MAX7219";
    setup.supply = 1;
    assert_int_equal(dia_bench_matrix(bench, &setup), -1);
    setup.supply = -1;
    assert_int_equal(dia_bench_matrix(bench, &setup), -1);
    setup.supply = 0;
    assert_int_equal(dia_bench_matrix(bench, &setup), 0);
    for (int k = 1; k < 5; k++) {
        setup.pins = pins[k];
        if (dia_bench_matrix(bench, &setup) != (k == 3 ? 1 : -1)) /* another on the same clock */
            fail_msg("pins %d", k);
    }
    strip.pin = 3;
    assert_int_equal(dia_bench_chain(bench, &strip), -1); /* the select of the first */
    uint8_t own[3];
    setup.pins = own;
    int devices = 2;
    for (; devices < 100; devices++) {
        own[0] = 1;
        own[1] = 2;
        own[2] = (uint8_t)(20 + devices);
        if (dia_bench_matrix(bench, &setup) < 0)
            break;
    }
    assert_in_range(devices, 8, 64);
    dia_bench_free(bench);
}

/* Nothing is said of what is not there. */
static void what_is_not_there_is_not_asked(void **state)
{
    (void)state;
    static const int numbers[] = {-1, 0, 5};
    struct dia_chain_fault wrong_end = {.wrong_end = 1};
    struct dia_shift_fault deaf = {0};
    struct dia_bench *bench = dia_bench_new();
    assert_non_null(bench);
    for (int k = 0; k < 3; k++) {
        int n = numbers[k];
        assert_null(dia_bench_shown(bench, n));
        assert_null(dia_bench_lamps(bench, n));
        assert_null(dia_bench_cells(bench, n));
        assert_int_equal(dia_bench_keys(bench, n, 1), -1);
        assert_int_equal(dia_bench_chain_fault(bench, n, &wrong_end), -1);
        assert_int_equal(dia_bench_shift_fault(bench, n, &deaf), -1);
        assert_int_equal(dia_bench_gives_ua(bench, n), 0);
        assert_int_equal(dia_bench_most_ua(bench, n), 0);
        dia_bench_expose(bench, n, 0);
        dia_bench_see(bench, n, 0);
    }
    static const uint8_t pins[] = {1, 2, 3};
    struct dia_device_setup setup = {.name = "d", .part = "MAX7219", .pins = pins, .count = 1};
    assert_int_equal(dia_bench_matrix(bench, &setup), 0);
    assert_null(dia_bench_cells(bench, 0)); /* it has lamps, no keys and no faults */
    assert_non_null(dia_bench_lamps(bench, 0));
    assert_int_equal(dia_bench_keys(bench, 0, 1), -1);
    assert_int_equal(dia_bench_shift_fault(bench, 0, &deaf), -1);
    dia_bench_free(bench);
    dia_bench_free(NULL);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(each_limit_of_each_sheet_is_kept_from_both_sides),
        cmocka_unit_test(latching_takes_the_time_of_the_sheet),
        cmocka_unit_test(a_short_gap_is_told_and_the_next_frame_falls_out_at_the_end),
        cmocka_unit_test(a_frame_cut_short_leaves_the_rest_as_it_was),
        cmocka_unit_test(a_supply_is_judged_by_what_the_pixels_draw),
        cmocka_unit_test(amperes_are_told_to_the_milliampere),
        cmocka_unit_test(bits_go_wrong_by_the_seed),
        cmocka_unit_test(what_cannot_be_set_up_is_refused),
        cmocka_unit_test(devices_that_cannot_be_connected_are_refused),
        cmocka_unit_test(what_is_not_there_is_not_asked),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
