/* SPDX-License-Identifier: MIT */
#include "../run.h"

#include <diachrome/check.h>
#include <diachrome/player.h>
#include <diachrome/rig_layer.h>

/* Lanes of many kinds on one supply that is far too small for them. */
static const char many[] =
    "rig: many\n"
    "controller: {name: c, clock: 64 MHz, ram: 64 KB, flash: 1 MB, "
    "logic_high: 5 V}\n"
    "supplies: {s: {voltage: 5 V, current: 1300 mA, reserve: 50 mA}}\n"
    "lanes:\n"
    "  a: {pin: 1, chip: WS2812B, count: 200, supply: s, line: {pitch: 9 mm}}\n"
    "  b: {pin: 2, chip: SK6812-RGBW, count: 24, supply: s, order: WBGR, "
    "line: {start: 1 m, pitch: 30 mm}}\n"
    "  c: {pin: 3, chip: WS2812B-V5, count: 7, supply: s, line: {pitch: 1 m}}\n"
    "  d: {pin: 4, clock_pin: 5, clock: 2 MHz, chip: APA102, count: 64, "
    "supply: s, order: RGB, line: {start: 3 m, pitch: 20 mm}}\n"
    "  e: {pin: 6, clock_pin: 7, clock: 8 MHz, chip: SK9822, count: 30, "
    "supply: s, line: {start: 5 m, pitch: 20 mm}}\n"
    "  f: {pin: 8, clock_pin: 9, clock: 1 MHz, chip: WS2801, count: 25, "
    "supply: s, line: {start: 7 m, pitch: 20 mm}}\n"
    "  g: {pin: 10, clock_pin: 11, clock: 4 MHz, chip: LPD8806, count: 40, "
    "supply: s, line: {start: 9 m, pitch: 20 mm}}\n";

static struct dia_rig many_rig;

static struct dia_player *player_of(struct dia_rig *rig, const char *text)
{
    struct dia_diagnostic wrong;
    write_file("player.rig.yaml", text, strlen(text));
    assert_int_equal(dia_rig_load(rig, "player.rig.yaml", &wrong), DIA_OK);
    struct dia_player *player = dia_player_new(rig, &wrong);
    assert_non_null(player);
    remove("player.rig.yaml");
    return player;
}

/* Lanes latch one after the other: the supply must hold while some show the frame before. */
static void lanes_share_a_supply_in_every_moment(void **state)
{
    (void)state;
    struct dia_player *player = player_of(&many_rig, many);
    struct dia_drift drift;
    dia_drift_defaults(&drift);
    drift.palette = (struct dia_palette){.count = 2, .colours = {{0, 0, 0}, {255, 255, 255}}};
    drift.change_ms = 150; /* so that lanes get darker and brighter against each other */
    uint32_t limited = 0;
    for (uint32_t k = 0; k < 300; k++) {
        assert_int_equal(dia_player_show(player, &dia_look_drift, &drift, k * 40, k, NULL), DIA_OK);
        uint64_t gives = dia_player_gives_ua(player, 0);
        assert_true(gives <= 1300000);
        if (dia_player_share(player, 0) != DIA_SHARE_ONE) {
            limited++;
            assert_true(gives >= 1287000);
        }
    }
    assert_true(limited > 100);
    assert_int_equal(dia_player_findings(player)->count, 0);
    dia_player_free(player);
}

/* 200 pixels take 200 * 24 * 1.25 us = 6 ms, 50 us of latch gap, 10 us since clocks may be coarse,
 * and some until it is noticed. The short lanes do not wait for them when all get brighter. */
static void lanes_are_sent_at_once(void **state)
{
    (void)state;
    struct dia_player *player = player_of(&many_rig, many);
    struct dia_steady steady = {{40, 40, 40}};
    uint64_t frame_ns;
    assert_int_equal(dia_player_show(player, &dia_look_steady, &steady, 0, 0, &frame_ns), DIA_OK);
    assert_in_range(frame_ns, 6050000, 6150000);
    assert_in_range(dia_player_lane_ns(player, 0), 6060000, 6080000);
    /* 24 pixels of 32 bits of 1.2 us, and 80 us; asking each of the lanes takes 1 us here */
    assert_in_range(dia_player_lane_ns(player, 1), 1011600, 1045000);
    dia_player_free(player);
}

/* Three lanes on neighbouring pins, sent at once where %s is a group. */
#define TOGETHER                                                                                   \
    "rig: together\n"                                                                              \
    "controller: {name: c, clock: 64 MHz, ram: 64 KB, flash: 1 MB, logic_high: 5 V}\n"             \
    "supplies: {s: {voltage: 5 V, current: 2 A, reserve: 50 mA}}\n"                                \
    "lanes:\n"                                                                                     \
    "  a: {pin: 3, chip: WS2812B, count: 200, supply: s,%s line: {pitch: 9 mm}}\n"                 \
    "  b: {pin: 2, chip: WS2812B, count: 32, supply: s, order: RGB,%s "                            \
    "grid: {columns: 8, rows: 4, pitch: 30 mm, serpentine: yes}}\n"                                \
    "  c: {pin: 4, chip: WS2812B, count: 7, supply: s,%s ring: {diameter: 50 mm}}\n"

static void lanes_of_a_group_show_what_they_show_alone(void **state)
{
    (void)state;
    static struct dia_rig rigs[2];
    struct dia_drift drift;
    char text[1024];
    uint64_t frame_ns;
    const char *of[] = {"", " group: A,"};
    struct dia_player *players[2];
    for (int k = 0; k < 2; k++) {
        snprintf(text, sizeof text, TOGETHER, of[k], of[k], of[k]);
        players[k] = player_of(&rigs[k], text);
    }
    dia_drift_defaults(&drift);
    drift.palette = (struct dia_palette){.count = 2, .colours = {{0, 0, 0}, {255, 255, 255}}};
    drift.change_ms = 150;
    for (uint32_t k = 0; k < 200; k++) {
        for (int p = 0; p < 2; p++)
            assert_int_equal(
                dia_player_show(players[p], &dia_look_drift, &drift, k * 40, k, &frame_ns), DIA_OK);
        /* once or, when a lane gets brighter while another gets darker, twice: 6.05 ms each */
        assert_true(frame_ns >= 6050000 && frame_ns <= 12400000);
        assert_true(dia_player_gives_ua(players[1], 0) <= 2000000);
        for (uint32_t lane = 0; lane < 3; lane++) {
            const struct dia_shown *a = dia_player_shown(players[0], lane);
            const struct dia_shown *b = dia_player_shown(players[1], lane);
            assert_memory_equal(a->drive, b->drive, a->count * sizeof *a->drive);
        }
    }
    /* all brighter at once: one transmission, as long as the longest lane's */
    struct dia_steady steady = {{0, 0, 0}};
    assert_int_equal(dia_player_show(players[1], &dia_look_steady, &steady, 0, 0, NULL), DIA_OK);
    steady.colour.r = 90;
    assert_int_equal(dia_player_show(players[1], &dia_look_steady, &steady, 0, 0, &frame_ns),
                     DIA_OK);
    assert_in_range(frame_ns, 6050000, 6150000);
    for (int p = 0; p < 2; p++) {
        assert_int_equal(dia_player_findings(players[p])->count, 0);
        dia_player_free(players[p]);
    }
}

static uint8_t segments_shown(const struct dia_player *player, uint32_t device, uint32_t digit)
{
    uint8_t segments = 0;
    for (uint32_t k = 0; k < 8; k++)
        segments |= (uint8_t)((dia_player_lamp(player, device, digit * 8 + k) != 0) << k);
    return segments;
}

static void shows_text(const struct dia_player *player, uint32_t device, const char *text,
                       uint16_t digits)
{
    uint8_t segments[16];
    dia_segments_text(text, segments, digits);
    for (uint32_t k = 0; k < digits; k++)
        assert_int_equal(segments_shown(player, device, k), segments[k]);
}

/* Every device of a rig, each in its own wiring, shows what it should where it lies. */
static void every_device_shows_the_look_or_its_text(void **state)
{
    (void)state;
    static struct dia_rig all;
    char *text = read_file("rigs/all.rig.yaml", NULL);
    struct dia_player *player = player_of(&all, text);
    struct dia_hue_sweep sweep;
    dia_hue_sweep_defaults(&sweep);
    for (uint32_t ms = 0; ms < 2000; ms += 400) {
        assert_int_equal(dia_player_show(player, &dia_look_hue_sweep, &sweep, ms, ms, NULL),
                         DIA_OK);
        for (uint32_t i = 0; i < 128; i++) { /* dots: on from level 128, in their columns */
            struct dia_rgb colour;
            dia_hue_sweep_render(&sweep, &all.devices[0].surface, ms, i % 16, 1, &colour);
            assert_int_equal(dia_player_lamp(player, 0, i) != 0, dia_lamp_of(colour) >= 128);
        }
        for (uint32_t i = 0; i < 10; i++) { /* lamps: 3 bits of linear light */
            struct dia_rgb colour;
            dia_hue_sweep_render(&sweep, &all.devices[1].surface, ms, i, 1, &colour);
            uint32_t light = dia_light_of(dia_lamp_of(colour));
            assert_int_equal((dia_player_lamp(player, 1, i) * 7u + 32767) / 65535,
                             (light * 7u + 32768) / 65536);
        }
        shows_text(player, 2, "12.5-AbC", 8);
        shows_text(player, 3, "42", 2);
        shows_text(player, 4, "19.07", 4);
        assert_memory_equal(dia_player_cells(player, 6)->code[1], "and another     ", 16);
        assert_memory_equal(dia_player_cells(player, 7)->code[0], "sixteen in a row", 16);
    }
    dia_player_hold_keys(player, 5, 0x81);
    assert_int_equal(dia_player_show(player, &dia_look_hue_sweep, &sweep, 0, 0, NULL), DIA_OK);
    assert_int_equal(dia_player_keys(player, 5), 0x81);
    const struct dia_findings *found = dia_player_findings(player);
    if (found->count)
        print_error("%s %s: %s\n", found->items[0].place, found->items[0].code,
                    found->items[0].text);
    assert_int_equal(found->count, 0);
    free(text);
    dia_player_free(player);
}

/* Lanes of every family and devices of every kind, after a bright frame. */
static void everything_goes_dark(void **state)
{
    (void)state;
    static struct dia_rig of[2];
    struct dia_steady steady = {{255, 255, 255}};
    char *all = read_file("rigs/all.rig.yaml", NULL);
    const char *texts[] = {many, all};
    for (int k = 0; k < 2; k++) {
        struct dia_player *player = player_of(&of[k], texts[k]);
        assert_int_equal(dia_player_show(player, &dia_look_steady, &steady, 0, 0, NULL), DIA_OK);
        assert_false(dia_player_is_dark(player));
        assert_int_equal(dia_player_dark(player), DIA_OK);
        dia_player_rest_until(player, dia_player_now_ns(player) + 50000000);
        assert_true(dia_player_is_dark(player));
        for (uint32_t i = 0; i < of[k].device_count; i++) {
            for (uint32_t lamp = 0; lamp < of[k].devices[i].lamps; lamp++)
                assert_int_equal(dia_player_lamp(player, i, lamp), 0);
        }
        assert_int_equal(dia_player_findings(player)->count, 0);
        dia_player_free(player);
    }
    free(all);
}

/* What check says of a look is what a player of its own comes to that shows nothing else: what was
 * measured before it does not count. */
static void check_measures_each_look_by_itself(void **state)
{
    (void)state;
    static struct dia_rig quay;
    static struct dia_check check;
    struct dia_diagnostic wrong = {""};
    assert_int_equal(dia_rig_load(&quay, "demo/quay.rig.yaml", &wrong), DIA_OK);
    assert_int_equal(dia_check_run(&check, &quay, NULL, &wrong), DIA_OK);
    const struct dia_look *const looks[] = {&dia_look_alternate, &dia_look_steady, &dia_look_blink};
    for (size_t k = 0; k < sizeof looks / sizeof looks[0]; k++) {
        const struct dia_check_current *said = &check.currents[0][0];
        union dia_look_values values;
        dia_share least = DIA_SHARE_ONE;
        struct dia_player *player = dia_player_new(&quay, &wrong);
        assert_non_null(player);
        looks[k]->defaults(&values);
        for (uint32_t moment = 0; moment < 8; moment++) {
            assert_int_equal(
                dia_player_show(player, looks[k], &values, moment * 1009, moment, NULL), DIA_OK);
            dia_share share = dia_player_share(player, 0);
            least = share < least ? share : least;
        }
        while (strcmp(said->look, looks[k]->name) != 0)
            said++;
        assert_in_range(said->least_share, least - least / 100, least + least / 100);
        dia_player_free(player);
    }
    dia_check_free(&check);
}

/* The lamps of a device that are lit, digit by digit: segment a in bit 0, the point in bit 7. */
static void lit_segments(const struct dia_player *player, uint32_t digits, uint8_t *segments)
{
    memset(segments, 0, digits);
    for (uint32_t k = 0; k < digits * 8; k++) {
        if (dia_player_lamp(player, 0, k) != 0)
            segments[k / 8] |= (uint8_t)(1u << k % 8);
    }
}

/*
 * Six digits on seven registers, each segment on any output, some on none: by pins and by SPI, with
 * either common, what the model's outputs light is what the text says, and nothing is lit before or
 * in the end.
 */
static void digits_hang_on_registers_in_any_way(void **state)
{
    (void)state;
    static struct dia_rig rig;
    static const char *const texts[] = {"8.8.8.8.8.8.", "18:47:32", "3.141", "-7", "FA", "COOL"};
    uint32_t seed = 11;
    for (int way = 0; way < 8; way++) {
        char text[1600], *at = text;
        uint16_t outputs[56];
        uint8_t wired[6] = {0};
        for (uint16_t k = 0; k < 56; k++) {
            uint32_t j = random_below(&seed, k + 1u);
            outputs[k] = outputs[j];
            outputs[j] = k;
        }
        at += sprintf(at,
                      "controller: { clock: 16 MHz, ram: 2 KB, flash: 32 KB, logic_high: 5 V }\n"
                      "supplies: { usb: { current: 1 A } }\ndevices:\n  clock: { chip: 74HC595, "
                      "chips: 7, digits: 6, common: %s, pins: { ser: 3, srclk: 4, rclk: 5%s }%s, "
                      "wiring: [",
                      way & 1 ? "anode" : "cathode", way & 4 ? ", oe: 6" : "",
                      way & 2 ? ", clock: 1 MHz" : "");
        for (uint32_t k = 0; k < 48; k++) {
            int none = k % 8 == 7 && random_below(&seed, 3) == 0;
            if (!none)
                wired[k / 8] |= (uint8_t)(1u << k % 8);
            at += none ? sprintf(at, "%snone", k ? ", " : "")
                       : sprintf(at, "%s%d%c", k ? ", " : "", outputs[k] / 8 + 1,
                                 'A' + outputs[k] % 8);
        }
        sprintf(at, "] }\n");
        struct dia_player *player = player_of(&rig, text);
        struct dia_rig_layer layer;
        struct dia_diagnostic wrong;
        for (size_t k = 0; k < sizeof texts / sizeof texts[0]; k++) {
            uint8_t lit[6], wanted[6];
            char line[60];
            snprintf(line, sizeof line, "text says=%s", texts[k]);
            assert_int_equal(dia_rig_layer_read(&layer, &rig, line, &wrong), DIA_OK);
            assert_int_equal(dia_player_show_layers(player, &layer, 1, 0, 0, NULL), DIA_OK);
            assert_int_equal(dia_segments_text(texts[k], wanted, 6), 0);
            lit_segments(player, 6, lit);
            for (uint32_t d = 0; d < 6; d++)
                assert_int_equal(lit[d], wanted[d] & wired[d]);
        }
        assert_int_equal(dia_player_findings(player)->count, 0);
        assert_int_equal(dia_player_dark(player), DIA_OK);
        assert_true(dia_player_is_dark(player));
        dia_player_free(player);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(everything_goes_dark),
        cmocka_unit_test(every_device_shows_the_look_or_its_text),
        cmocka_unit_test(lanes_of_a_group_show_what_they_show_alone),
        cmocka_unit_test(lanes_share_a_supply_in_every_moment),
        cmocka_unit_test(lanes_are_sent_at_once),
        cmocka_unit_test(check_measures_each_look_by_itself),
        cmocka_unit_test(digits_hang_on_registers_in_any_way),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
