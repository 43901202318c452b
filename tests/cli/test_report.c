/* SPDX-License-Identifier: MIT */
/* The report: whole, by itself, with the numbers of check, and as a real browser shows it. */
#include <cjson/cJSON.h>

#include "../run.h"

#define TWO                                                                                        \
    "rig: \"two <supplies> & more\"\ncontroller: { chip: RP2040, pulses: interrupts off }\n"       \
    "supplies: { logic: { current: 1 A }, left: { current: 10 A }, right: { current: 10 A } }\n"   \
    "lanes:\n  wall: { pin: 3, chip: WS2812B, count: 300, supply: left, shifter: 74AHCT125, "      \
    "feeds: [ { at: start, supply: left, length: 1 m, section: 1.5 mm2, fuse: 10 A }, { at: end, " \
    "supply: right, length: 325 cm, section: AWG 16 } ], grounds: [ { at: 75, length: 2 m, "       \
    "section: 1.5 mm2 } ] }\n"                                                                     \
    "devices:\n  tide: { chip: 74HCT595, supply: logic, clock: 4 MHz, depth: 4, pins: { ser: 10, " \
    "srclk: 11,"                                                                                   \
    " rclk: 12 } }\nbuttons: { go: { pin: 20 } }\n"

static void all_of_it_is_in_one_file(void **state)
{
    (void)state;
    write_file("two.rig.yaml", TWO, sizeof TWO - 1);
    assert_int_equal(run("$D report two.rig.yaml --for 1s --out two.html"), 1); /* late ticks */
    says("two.html: report of two <supplies> & more");
    char *page = read_file("two.html", NULL);
    assert_non_null(strstr(page, "<title>two &lt;supplies&gt; &amp; more</title>"));
    assert_null(strstr(page, "two <supplies>"));
    assert_null(strstr(page, "http://"));
    assert_null(strstr(page, "https://"));
    assert_null(strstr(page, "<script"));
    /* a limit that is broken, what is in the lines, the feeds, and equal parts together: a pair of
     * 1 m and one wire of 2 m */
    assert_non_null(strstr(page, "<td class=\"level\">error</td><td>tide</td><td>a tick waits"));
    assert_non_null(strstr(page, ">74AHCT125</text>"));
    assert_non_null(strstr(page, ">feed at 299: 3.25 m, 1.309 mm2</text>"));
    assert_non_null(strstr(page, ">ground at 75: 2 m, 1.5 mm2</text>"));
    assert_non_null(strstr(page, "<td class=\"n\">4.00 m</td><td>wire 1.5 mm2</td>"));
    assert_non_null(strstr(page, "<li><b>20</b> go</li>"));
    free(page);
}

static double number(const cJSON *object, const char *key)
{
    const cJSON *item = cJSON_GetObjectItemCaseSensitive(object, key);
    assert_true(cJSON_IsNumber(item));
    return item->valuedouble;
}

/* The same facts for programs: what check says is in it whole, and limits have its numbers. */
static void programs_get_what_check_says(void **state)
{
    (void)state;
    write_file("two.rig.yaml", TWO, sizeof TWO - 1);
    assert_int_equal(run("$D check two.rig.yaml --json"), 1);
    cJSON *check = cJSON_Parse(output);
    assert_int_equal(run("$D report two.rig.yaml --json --for 1s"), 1);
    cJSON *all = cJSON_Parse(output), *item;
    assert_true(cJSON_Compare(cJSON_GetObjectItem(all, "check"), check, 1));
    cJSON *lane = cJSON_GetArrayItem(cJSON_GetObjectItem(check, "lanes"), 0);
    double least_mv =
        number(cJSON_GetObjectItem(cJSON_GetObjectItem(lane, "volts"), "in_budget"), "least_mv");
    int seen = 0;
    cJSON_ArrayForEach(item, cJSON_GetObjectItem(all, "limits"))
    {
        double is = 0;
        if (strcmp(cJSON_GetObjectItem(item, "what")->valuestring, "volts at its worst pixel") != 0)
            continue;
        assert_int_equal(sscanf(cJSON_GetObjectItem(item, "is")->valuestring, "%lf V", &is), 1);
        assert_true(is * 1000 > least_mv - 0.5 && is * 1000 < least_mv + 0.5);
        seen++;
    }
    assert_int_equal(seen, 1);
    item = cJSON_GetArrayItem(cJSON_GetObjectItem(all, "current_over_time"), 1);
    assert_string_equal(cJSON_GetObjectItem(item, "supply")->valuestring, "left");
    assert_int_equal(cJSON_GetArraySize(cJSON_GetObjectItem(item, "gives_ua")), 51); /* 20 ms */
    assert_true(cJSON_GetArraySize(cJSON_GetObjectItem(all, "pins")) == 5);
    cJSON_Delete(all);
    cJSON_Delete(check);
}

static void what_is_wrong_is_told(void **state)
{
    (void)state;
    write_file("two.rig.yaml", TWO, sizeof TWO - 1);
    assert_int_equal(run("$D report two.rig.yaml"), 2);
    says("no file to write; add '--out FILE.html'");
    assert_int_equal(run("$D report two.rig.yaml --out two.pdf"), 2);
    assert_int_equal(run("$D report two.rig.yaml --out two.html --frames 3"), 2);
    says("say how long with --for, not --frames");
    assert_int_equal(run("$D report none.rig.yaml --out two.html"), 2);
    assert_int_equal(run("$D report two.rig.yaml --for 1s --out nowhere/two.html"), 3);
    assert_int_equal(run("ls nowhere"), 2);
}

/* Chromium without a window: all pictures are there, nothing is asked for outside, no errors, no
 * wire over a word, nothing too wide on a desk or a phone, and it prints. The demo, all families,
 * a rig with three supplies, one pixel, and no pixel. */
static void a_browser_shows_it(void **state)
{
    (void)state;
    static const char one[] = "controller: RP2040\nsupplies: { s: { current: 2 A } }\n"
                              "lanes: { l: { chip: APA102, pin: 1, clock_pin: 2, count: 1 } }\n";
    static const char none[] =
        "controller: ATmega328P\nsupplies: { s: { current: 2 A } }\n"
        "devices: { d: { chip: HD44780, pins: { scl: 2, sda: 3 }, text: QUAY } }\n";
    write_file("two.rig.yaml", TWO, sizeof TWO - 1);
    write_file("one.rig.yaml", one, sizeof one - 1);
    write_file("none.rig.yaml", none, sizeof none - 1);
    static const char *const rigs[] = {"rigs/handrail.rig.yaml", "rigs/all.rig.yaml",
                                       "two.rig.yaml", "one.rig.yaml", "none.rig.yaml"};
    for (int k = 0; k < 5; k++)
        assert_in_range(run("$D report %s --for 2s --out r%d.html", rigs[k], k), 0, 1);
    if (run("python3 $SOURCE/tests/cli/report_browser.py r?.html") != 0)
        fail_msg("%s", output);
    run("rm -f r?.html two.html *.rig.yaml");
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(all_of_it_is_in_one_file),
        cmocka_unit_test(programs_get_what_check_says),
        cmocka_unit_test(what_is_wrong_is_told),
        cmocka_unit_test(a_browser_shows_it),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
