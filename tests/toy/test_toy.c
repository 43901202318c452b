/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <stdio.h>
#include <string.h>

#include <diachrome/check.h>
#include <diachrome/player.h>
#include <diachrome/show.h>

#include "beacon.h"

/*
 * A family that is not in the library, added by its own files and one list: the rig reads it, the
 * player shows it, the bench sees it, check counts it. What docs/adding-a-family.md promises.
 */
#define RIG                                                                                        \
    "rig: toy\n"                                                                                   \
    "controller: {name: c, clock: 16 MHz, ram: 2 KB, flash: 32 KB, logic_high: 5 V}\n"             \
    "supplies: {s: {voltage: 5 V, current: 1 A, reserve: 50 mA}}\n"                                \
    "devices:\n"                                                                                   \
    "  mast: {chip: BEACON, lamps: 3, supply: s, pins: {lamp1: 4, lamp2: 9, lamp3: 5%s}}\n"        \
    "  dots: {chip: MAX7219, chips: 1, clock: 1 MHz, supply: s, pins: {din: 1, clk: 2, cs: 3}}\n"

static struct dia_rig rig;
static struct dia_diagnostic wrong;

static enum dia_status read(const char *more)
{
    FILE *file = fopen("toy.rig.yaml", "w");
    assert_non_null(file);
    fprintf(file, RIG, more);
    fclose(file);
    enum dia_status status = dia_rig_load(&rig, "toy.rig.yaml", &wrong);
    remove("toy.rig.yaml");
    return status;
}

static void it_shows_what_a_look_shows(void **state)
{
    (void)state;
    assert_int_equal(read(""), DIA_OK);
    struct dia_player *player = dia_player_new(&rig, &wrong);
    assert_non_null(player);
    struct dia_steady white = {{255, 255, 255}}, black = {{0, 0, 0}};
    assert_int_equal(dia_player_show(player, &dia_look_steady, &white, 0, 0, NULL), DIA_OK);
    for (uint32_t lamp = 0; lamp < 3; lamp++)
        assert_int_equal(dia_player_lamp(player, 0, lamp), 65535);
    /* three lamps of 10 mA; 64 dots of 40 mA, an eighth of the time, 31 of 32 of that: 310 mA */
    assert_int_equal(dia_player_asked_ua(player, 0), 30000 + 64 * (40000 / 8 + 1) / 16 * 16);
    assert_int_equal(dia_player_show(player, &dia_look_steady, &black, 20, 1, NULL), DIA_OK);
    assert_int_equal(dia_player_lamp(player, 0, 1), 0);
    assert_int_equal(dia_player_show(player, &dia_look_steady, &white, 40, 2, NULL), DIA_OK);
    assert_int_equal(dia_player_dark(player), DIA_OK);
    assert_true(dia_player_is_dark(player));
    assert_int_equal(dia_player_findings(player)->count, 0);
    dia_player_free(player);
}

static void it_is_checked(void **state)
{
    (void)state;
    static struct dia_check check;
    assert_int_equal(read(""), DIA_OK);
    assert_int_equal(dia_check_run(&check, &rig, NULL, &wrong), DIA_OK);
    assert_int_equal(check.devices[0].bits, 3);
    assert_true(check.devices[0].frame_ns > 0 && check.devices[0].frame_ns < 200000);
    dia_check_free(&check);
}

static void messages_know_it(void **state)
{
    (void)state;
    char facts[80];
    assert_int_equal(read(""), DIA_OK);
    dia_rig_facts(&rig.devices[0], facts, sizeof facts);
    assert_string_equal(facts, "lamp1 4, lamp2 9, lamp3 5");
    assert_int_equal(read(", lamp7: 6"), DIA_BAD_VALUE);
    assert_non_null(strstr(wrong.text, "BEACON has no pin 'lamp7'; it has lamp1, lamp2, lamp3"));
    assert_int_equal(read("}}\n  lit: {chip: BEAKON, pins: {lamp1: 8"), DIA_BAD_VALUE);
    assert_non_null(strstr(wrong.text, "unknown chip 'BEAKON'; did you mean BEACON?"));
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(it_shows_what_a_look_shows),
        cmocka_unit_test(it_is_checked),
        cmocka_unit_test(messages_know_it),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
