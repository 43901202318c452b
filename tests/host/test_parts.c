/* SPDX-License-Identifier: MIT */
/* Resistors and other parts around a rig: planned ones are right, one step smaller is not. */
#include <stdlib.h>
#include <string.h>

#include <diachrome/check.h>
#include <diachrome/parts.h>
#include <diachrome/resistor.h>

#include "../run.h"

static struct dia_rig rig;
static struct dia_diagnostic wrong;

static enum dia_status load(const char *devices)
{
    char text[2000];
    int n = snprintf(text, sizeof text,
                     "controller: RP2040\nsupplies: { s: { current: 5 A } }\n%s\n", devices);
    write_file("parts.rig.yaml", text, (size_t)n);
    return dia_rig_load(&rig, "parts.rig.yaml", &wrong);
}

/* All of E12 and E24 in one decade, in their order, and from one decade to the next. */
static void preferred_numbers(void **state)
{
    (void)state;
    static const uint32_t e12[] = {10, 12, 15, 18, 22, 27, 33, 39, 47, 56, 68, 82, 100};
    uint32_t at = 100000, steps = 0;
    for (size_t i = 0; i + 1 < sizeof e12 / sizeof e12[0]; i++) {
        assert_int_equal(dia_resistor_next(e12[i] * 10000, DIA_E12), e12[i] * 10000);
        assert_int_equal(dia_resistor_next(e12[i] * 10000 + 1, DIA_E12), e12[i + 1] * 10000);
    }
    for (; at < 1000000; steps++) {
        uint32_t next = dia_resistor_next(at + 1, DIA_E24);
        assert_true(next > at && next <= at + at / 6); /* steps of 8 to 16 % */
        at = next;
    }
    assert_int_equal(steps, 24);
    assert_int_equal(dia_resistor_next(1, DIA_E24), 10);
    assert_int_equal(dia_resistor_next(3900000001u, DIA_E24), 0);
}

/* 5 V, 2 V of LED, 0.2 V of transistor, 25 ohm of a pin: 2.8 V / 10 mA = 280 ohm less 25. With 270
 * ohm 2.8 V / 295 ohm = 9.49 mA, and heat of 9.49^2 * 0.27 = 24.3 mW, a quarter of it in four
 * turns. */
static void an_led_and_its_resistor(void **state)
{
    (void)state;
    const struct dia_led_circuit led = {5000, 2000, 200, 25000};
    assert_int_equal(dia_led_resistor_mohm(&led, 10000), 255000);
    assert_int_equal(dia_resistor_next(255000, DIA_E24), 270000);
    assert_int_equal(dia_led_current_ua(&led, 270000), 9492);
    assert_int_equal(dia_resistor_heat_uw(270000, 9492, 1000) / 100, 243);
    assert_in_range(dia_resistor_heat_uw(270000, 9492, 250), 6081, 6082);
    assert_int_equal(dia_resistor_rating_mw(24300), 250);
    assert_int_equal(dia_resistor_rating_mw(130000), 500);
    assert_int_equal(dia_resistor_rating_mw(1100000), 0);
    const struct dia_led_circuit blue = {3300, 3150, 200, 0};
    assert_int_equal(dia_led_resistor_mohm(&blue, 1000), 0);
    assert_int_equal(dia_led_current_ua(&blue, 100000), 0);
}

/* The table of the sheet, and back; between 20 and 30 mA at 2.0 V 1 / R is in the middle of 1
 * / 28.0 and 1 / 17.1: 21.23 kohm. */
static void the_resistor_of_a_matrix_driver(void **state)
{
    (void)state;
    static const struct {
        uint32_t ua, forward_mv, ohm;
    } sheet[] = {{40000, 1500, 12200}, {40000, 3500, 9690},  {30000, 2500, 15800},
                 {20000, 3000, 24500}, {10000, 2000, 63700}, {25000, 2000, 21233}};
    for (size_t i = 0; i < sizeof sheet / sizeof sheet[0]; i++) {
        uint32_t ohm = dia_segment_resistor_ohm(sheet[i].ua, sheet[i].forward_mv);
        assert_in_range(ohm, sheet[i].ohm - 1, sheet[i].ohm + 1);
        assert_in_range(dia_segment_current_ua(ohm, sheet[i].forward_mv), sheet[i].ua - 5,
                        sheet[i].ua + 5);
    }
}

/* For lamps of each family: the planned resistor gives at most what is wanted, the next smaller one
 * more, and in the rig it gives what the list says. */
static void a_planned_resistor_is_right_and_the_next_is_not(void **state)
{
    (void)state;
    static const struct {
        const char *device, *key;
        uint32_t ua;
    } lamps[] = {
        {"{ chip: lamps, colour: amber, pins: { lamp1: 2 }", "lamp_current", 8000},
        {"{ chip: lamps, common: anode, colour: red, pins: { lamp1: 2 }", "lamp_current", 15000},
        {"{ chip: 74HC595, colour: blue, pins: { ser: 1, srclk: 2, rclk: 3 }", "lamp_current",
         5000},
        {"{ chip: 74HC595, chips: 2, digits: 2, common_outputs: [2A, 2B], commons: inverted, pins: "
         "{ "
         "ser: 1, srclk: 2, rclk: 3 }",
         "lamp_current", 6000},
        {"{ chip: digits, digits: 1, common: anode, commons: inverted, forward: 3.6 V, pins: { a: "
         "1, "
         "b: 2, c: 3, d: 4, e: 5, f: 6, g: 7, digit1: 8 }",
         "segment_current", 4000},
        {"{ chip: digits, digits: 2, lit: segment-by-segment, pins: { a: 1, b: 2, c: 3, d: 4, e: "
         "5, "
         "f: 6, g: 7, digit1: 8, digit2: 9 }",
         "segment_current", 3000},
        {"{ chip: MAX7219, pins: { din: 1, clk: 2, cs: 3 }", "segment_current", 20000},
    };
    for (size_t i = 0; i < sizeof lamps / sizeof lamps[0]; i++) {
        char text[400];
        struct dia_parts parts;
        double ohm = 0, smaller;
        char unit[8];
        snprintf(text, sizeof text, "devices:\n  d: %s, %s: %u uA }", lamps[i].device, lamps[i].key,
                 (unsigned)lamps[i].ua);
        if (load(text) != DIA_OK)
            fail_msg("%s", wrong.text);
        assert_int_equal(dia_parts_list(&parts, &rig), DIA_OK);
        assert_int_equal(sscanf(parts.items[0].name, "resistor %lf %7[^,]", &ohm, unit), 2);
        dia_parts_free(&parts);
        uint32_t mohm = (uint32_t)(ohm * (strcmp(unit, "kohm") == 0 ? 1e6 : 1e3) + 0.5);
        /* the one before in E24: the largest that is less */
        smaller = mohm;
        for (double of = mohm * 0.99; smaller == mohm; of *= 0.99)
            smaller = dia_resistor_next((uint32_t)of, DIA_E24);
        for (int less = 0; less < 2; less++) {
            snprintf(text, sizeof text, "devices:\n  d: %s, resistor: %.3f ohm }", lamps[i].device,
                     (less ? smaller : mohm) / 1e3);
            if (load(text) != DIA_OK)
                fail_msg("%s", wrong.text);
            uint32_t ua = rig.devices[0].lamp_ua;
            if (less ? ua <= lamps[i].ua : ua > lamps[i].ua || ua < lamps[i].ua * 8 / 10)
                fail_msg("%s: %u uA with %.0f ohm", lamps[i].device, (unsigned)ua,
                         (less ? smaller : mohm) / 1e3);
        }
    }
    remove("parts.rig.yaml");
}

/* The file says a resistor, the bench draws what flows: 8 lamps of 5 V, 1.95 V, 40 + 330 ohm: 8.24
 * mA. */
static void the_bench_draws_what_a_resistor_lets_through(void **state)
{
    (void)state;
    assert_int_equal(load("devices:\n  d: { chip: 74HC595, resistor: 330 ohm, shifter: 5 V, pins: "
                          "{ ser: 1, srclk: "
                          "2, rclk: 3 } }"),
                     DIA_OK);
    assert_in_range(rig.devices[0].lamp_ua, 8243, 8244);
    assert_int_equal(run("$D check parts.rig.yaml"), 0);
    says("0.066 A"); /* 8 * 8.243 mA */
    says("8.243 mA from an output; it keeps its levels up to 6 mA");
    remove("parts.rig.yaml");
}

static void a_shifter_is_named_and_judged(void **state)
{
    (void)state;
    static const struct {
        const char *rig, *said;
        int code;
    } shifters[] = {
        {"lanes: { a: { pin: 1, chip: WS2812B, count: 9, shifter: 74AHCT125 } }",
         "every limit is kept", 0},
        {"lanes: { a: { pin: 1, chip: WS2812B, count: 9, shifter: BSS138 } }",
         "BSS138 is too slow for WS2812B", 1},
        {"devices: { a: { chip: TM1638, shifter: 74AHCT125, pins: { stb: 1, clk: 2, dio: 3 } } }",
         "74AHCT125 drives one way only, and DIO goes both ways", 1},
        {"devices: { a: { chip: TM1637, shifter: BSS138, pins: { clk: 2, dio: 3 } } }",
         "every limit is kept", 0},
        {"devices: { a: { chip: MAX7219, shifter: BSS138, pins: { din: 1, clk: 2, cs: 3 } } }",
         "BSS138 is good for some 400 kHz, and the clock is 1 MHz", 1},
        {"lanes: { a: { pin: 1, chip: WS2812B, count: 9, shifter: 74AHCT } }",
         "unknown shifter '74AHCT'; did you mean 74AHCT125?", 2},
    };
    for (size_t i = 0; i < sizeof shifters / sizeof shifters[0]; i++) {
        char text[400];
        int n = snprintf(text, sizeof text,
                         "controller: RP2040\nsupplies: { s: { current: 5 A } }\n%s\n",
                         shifters[i].rig);
        write_file("parts.rig.yaml", text, (size_t)n);
        assert_int_equal(run("$D check parts.rig.yaml | tr -s ' \\n' ' '; $D check parts.rig.yaml "
                             ">/dev/null"),
                         shifters[i].code);
        says(shifters[i].said);
    }
    remove("parts.rig.yaml");
}

/* What lines that go both ways, displays and buttons need around them. */
static void lines_and_buttons_have_their_parts(void **state)
{
    (void)state;
    static const struct {
        const char *rig, *part, *used; /* used "": there is no such part */
    } cases[] = {
        {"devices: { a: { chip: TM1638, shifter: 74AHCT125, pins: { stb: 1, clk: 2, dio: 3 } } }",
         "BSS138 and two resistors", "of a, which goes both ways: no 74AHCT there"},
        {"devices: { a: { chip: TM1638, shifter: 74AHCT125, pins: { stb: 1, clk: 2, dio: 3 } } }",
         "74AHCT125", "the other lines"},
        {"devices: { a: { chip: TM1638, shifter: BSS138, pins: { stb: 1, clk: 2, dio: 3 } } }",
         "74AHCT125", ""},
        {"devices: { a: { chip: HD44780, pins: { rs: 1, rw: 2, e: 3, d4: 4, d5: 5, d6: 6, d7: 7 "
         "},\n"
         "                shifter: 74AHCT125, text: A } }",
         "74AHCT125", "the other lines"},
        {"devices: { a: { chip: HD44780, pins: { rs: 1, e: 3, d4: 4, d5: 5, d6: 6, d7: 7 },\n"
         "                shifter: 74AHCT125, text: A } }",
         "74AHCT125", "lines to it"},
        {"devices: { a: { chip: TM1637, pins: { clk: 2, dio: 3 } } }\n"
         "buttons: { bell: { pin: 9, pressed: high } }",
         "10 kohm", "pull-down of bell"},
        {"devices: { a: { chip: MAX7219, pins: { din: 1, clk: 2, cs: 3 } } }\n"
         "buttons: { bell: { pin: 9, pressed: low } }",
         "10 kohm", ""},
    };
    for (size_t k = 0; k < sizeof cases / sizeof cases[0]; k++) {
        struct dia_parts parts;
        int found = 0;
        if (load(cases[k].rig) != DIA_OK)
            fail_msg("%s: %s", cases[k].rig, wrong.text);
        assert_int_equal(dia_parts_list(&parts, &rig), DIA_OK);
        for (uint32_t i = 0; i < parts.count; i++)
            found |= strstr(parts.items[i].name, cases[k].part) &&
                     (!cases[k].used[0] || strstr(parts.items[i].used, cases[k].used));
        if (found != (cases[k].used[0] != 0))
            fail_msg("%s: %s %s", cases[k].rig, cases[k].part, found ? "is there" : "is missing");
        dia_parts_free(&parts);
    }
    assert_int_equal(load(cases[0].rig), DIA_OK);
    assert_int_equal(run("$D parts parts.rig.yaml"), 0);
    says("1  BSS138 and two resistors of 10 kohm \n"); /* a long name is not cut */
}

static void the_commands_say_it(void **state)
{
    (void)state;
    assert_int_equal(run("$D parts demo/quay.rig.yaml"), 0);
    says("24  resistor 360 ohm, 250 mW     each lamp of buoys: 5 mA");
    says("resistor 330 ohm, 250 mW     data of handrail, at the first pixel");
    says("fuse 3.15 A                  feed of handrail at pixel 0");
    for (char *line = strtok(output, "\n"); line; line = strtok(NULL, "\n"))
        assert_true(strlen(line) <= 80);
    /* 13 lines of a colour panel, eight gates a chip */
    assert_int_equal(run("$D parts demo/ferry.rig.yaml"), 0);
    says("2  74HCT245, one gate a line    lines to it of ferry");
    assert_int_equal(run("$D parts demo/quay.rig.yaml --sources | tr -s ' \\n' ' ' | grep -o "
                         "'sheet, table of RSET'"),
                     0);
    assert_int_equal(run("$D parts demo/quay.rig.yaml --json"), 0);
    says("\"length_mm\":\t2000");
    assert_int_equal(run("$D resistor --turns 4 --transistor --current 3mA"), 0);
    says("resistor   220 ohm, the next of E24 from 212.5 ohm");
    says("2.91 mA in the mean");
    assert_int_equal(run("$D resistor --even \"red 400, green 1800\" --json"), 0);
    says("\"resistor_mohm\":\t910000"); /* 10 mA * 400 / 1800 of 2 V: 900 ohm less 25 */
    assert_int_equal(run("$D resistor --colour blue --supply 3V"), 1);
    says("nothing flows: the LEDs take 3.15 V, and the supply has 3 V");
    assert_int_equal(run("$D resistor --even red"), 2);
    says("such as \"red 400, green 1800, blue 700\"; found 'red'");
    assert_int_equal(run("$D resistor --current 2"), 2);
    says("--current takes a current in A, mA, uA");
    assert_int_equal(run("$D resistor blue"), 2);
    says("'blue' is too many");
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(preferred_numbers),
        cmocka_unit_test(an_led_and_its_resistor),
        cmocka_unit_test(the_resistor_of_a_matrix_driver),
        cmocka_unit_test(a_planned_resistor_is_right_and_the_next_is_not),
        cmocka_unit_test(the_bench_draws_what_a_resistor_lets_through),
        cmocka_unit_test(a_shifter_is_named_and_judged),
        cmocka_unit_test(lines_and_buttons_have_their_parts),
        cmocka_unit_test(the_commands_say_it),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
