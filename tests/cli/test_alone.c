/* SPDX-License-Identifier: MIT */
#include "../run.h"

#include <diachrome/live.h>
#include <diachrome/scene.h>

/*
 * Every chip in a rig of its own, and devices in pairs: what holds on the demo, which has
 * everything at once, holds for each alone.
 */
static const struct thing {
    const char *name;
    const char *pixels; /* in lanes; NULL: in devices */
    const char *body;
    const char *faults; /* each found by bring-up, parted by | */
} things[] = {
    {"WS2812B", "pin: 1, chip: WS2812B, count: 9, line: {pitch: 1 cm}", NULL, "dead 4|order RGB"},
    {"WS2811", "pin: 1, chip: WS2811-fast, count: 9, line: {pitch: 1 cm}", NULL, "dead 4|count 7"},
    {"WS2813", "pin: 1, chip: WS2813, count: 9, line: {pitch: 1 cm}", NULL, "dead 4"},
    {"SK6812-RGBW", "pin: 1, chip: SK6812-RGBW, count: 9, line: {pitch: 1 cm}", NULL, "dead 4"},
    {"APA102", "pin: 2, clock_pin: 3, clock: 1 MHz, chip: APA102, count: 9, line: {pitch: 1 cm}",
     NULL, "dead 4|order RGB"},
    {"SK9822", "pin: 2, clock_pin: 3, clock: 1 MHz, chip: SK9822, count: 9, line: {pitch: 1 cm}",
     NULL, "dead 4"},
    {"WS2801", "pin: 2, clock_pin: 3, clock: 1 MHz, chip: WS2801, count: 9, line: {pitch: 1 cm}",
     NULL, "dead 4"},
    {"LPD8806", "pin: 2, clock_pin: 3, clock: 1 MHz, chip: LPD8806, count: 9, line: {pitch: 1 cm}",
     NULL, "dead 4"},
    {"MAX7219", NULL,
     "chip: MAX7219, chips: 2, pins: {din: 4, clk: 5, cs: 6}, clock: 1 MHz, shows: dots, "
     "segment_current: 20 mA",
     "reversed|turned 90"},
    {"MAX7219 in rows", NULL,
     "chip: MAX7219, chips: 4, rows: 2, serpentine: yes, pins: {din: 4, clk: 5, cs: 54}, "
     "clock: 1 MHz, segment_current: 20 mA",
     "reversed|turned 90|mirrored"},
    {"MAX7221", NULL,
     "chip: MAX7221, chips: 1, pins: {din: 4, clk: 5, cs: 7}, clock: 1 MHz, shows: digits, "
     "segment_current: 20 mA, text: \"12\"",
     "reversed"},
    {"74HC595", NULL,
     "chip: 74HC595, chips: 2, pins: {ser: 8, srclk: 9, rclk: 10, oe: 11}, clock: 4 MHz, depth: 4",
     "deaf 2|stuck 2C high|swapped 1 2"},
    {"74HC595, 14 segments", NULL,
     "chip: 74HC595, chips: 4, pins: {ser: 56, srclk: 57, rclk: 55}, clock: 4 MHz, digits: 2, "
     "segments: 14, text: \"K7\"",
     "deaf 2|stuck 2C high"},
    {"74HC595 in turns", NULL,
     "chip: 74HC595, chips: 2, pins: {ser: 8, srclk: 9, rclk: 50}, clock: 4 MHz, digits: 4, "
     "wiring: [1H, 1G, 1F, 1E, 1D, 1C, 1B, 1A], common_outputs: [2A, 2C, 2E, 2G], "
     "commons: inverted, text: \"2.37\"",
     "reversed|polarity|crossed b f|swapped 1 2|stuck 2C low|stuck 1D low|deaf 1|deaf 2"},
    {"digits", NULL,
     "chip: digits, digits: 2, pins: {a: 12, b: 13, c: 14, d: 15, e: 16, f: 17, g: 18, dp: 19, "
     "digit1: 20, digit2: 21}, common: cathode, commons: inverted, text: \"2.3\"",
     "crossed b f|polarity|reversed"},
    {"lamps", NULL, "chip: lamps, pins: {lamp1: 51, lamp2: 52, lamp3: 53}, depth: 6, common: anode",
     "polarity|crossed 1 3"},
    {"TM1638", NULL, "chip: TM1638, pins: {stb: 22, clk: 23, dio: 24}, text: \"1234\"", "reversed"},
    {"TM1637", NULL, "chip: TM1637, digits: 4, pins: {clk: 25, dio: 26}, text: \"12.34\"",
     "reversed"},
    {"HD44780", NULL,
     "chip: HD44780, columns: 16, rows: 2, pins: {rs: 30, rw: 31, e: 32, d4: 33, d5: 34, d6: 35, "
     "d7: 36}, text: [\"Petrel Quay\", \"calm\"]",
     "contrast 1.5 V"},
    {"HD44780 by I2C", NULL,
     "chip: HD44780, columns: 8, rows: 2, pins: {scl: 40, sda: 41}, address: 0x27, "
     "text: [\"Skua\", \"14:05\"]",
     "address 0x3f|contrast 1.5 V"},
    {"rgb-panel", NULL,
     "chip: rgb-panel, columns: 32, rows: 16, pins: {r1: 42, g1: 43, b1: 44, r2: 45, g2: 46, "
     "b2: 47, a: 48, b: 49, c: 58, clk: 59, lat: 60, oe: 61}",
     "crossed g1 b1|crossed r1 g2|halves|crossed a c|slow-rows|crossed clk lat|noise 0.1 %"},
};
#define THINGS (sizeof things / sizeof things[0])

static const char head[] = "rig: alone\ncontroller: {name: c, clock: 64 MHz, ram: 32 KB, "
                           "flash: 256 KB, logic_high: 5 V}\n"
                           "supplies: {pier: {voltage: 5 V, current: 9 A}}\n";

static void write_rig(const struct thing *a, const struct thing *b)
{
    char text[4000];
    int n = snprintf(text, sizeof text, "%s", head);
    for (int devices = 0; devices < 2; devices++) {
        int any = 0;
        for (int k = 0; k < 2; k++) {
            const struct thing *thing = k ? b : a;
            if (!thing || (thing->pixels == NULL) != devices)
                continue;
            if (!any++)
                n += snprintf(text + n, sizeof text - (size_t)n,
                              devices ? "devices:\n" : "lanes:\n");
            n += snprintf(text + n, sizeof text - (size_t)n, "  %s: {supply: pier, %s}\n",
                          k ? "other" : "it", devices ? thing->body : thing->pixels);
        }
    }
    write_file("alone.rig.yaml", text, (size_t)n);
}

static void ends_with_0(int code, const char *what, const struct thing *a, const struct thing *b)
{
    if (code != 0)
        fail_msg("%s of %s%s%s: %d\n%s", what, a->name, b ? " and " : "", b ? b->name : "", code,
                 output);
}

/* No supply gives more than is asked of it (0.1 A of these rigs is far more than any rounding). */
static void drawn_is_at_most_asked(const struct thing *a, const struct thing *b)
{
    int rows = 0;
    for (char *line = strtok(output, "\n"); line; line = strtok(NULL, "\n")) {
        double asked, drawn;
        if (sscanf(line, "pier, %*[a-z -] %*f to %lf A %lf A", &drawn, &asked) != 2)
            continue;
        rows++;
        if (drawn > asked + 0.001)
            fail_msg("%s%s%s: %s", a->name, b ? " and " : "", b ? b->name : "", line);
    }
    assert_true(rows > 10);
}

/* The rows of a time in a table, without the number of the frame. */
static char *rows_at(const char *path, const char *time_us)
{
    char *text = read_file(path, NULL), *rows = calloc(1, strlen(text) + 1), *save = NULL;
    assert_non_null(rows);
    for (char *line = strtok_r(text, "\n", &save); line; line = strtok_r(NULL, "\n", &save)) {
        char *comma = strchr(line, ',');
        if (comma && strncmp(comma + 1, time_us, strlen(time_us)) == 0)
            strcat(rows, comma);
    }
    free(text);
    return rows;
}

/* Ticks of one device wait for those of the other, by up to 54 us here: light that is a turn of
 * 1,250 us differs by as much. */
static void same_but_for_ticks(const char *a, const char *b)
{
    char *end_a, *end_b;
    while (*a && *b) {
        double x = strtod(a, &end_a), y = strtod(b, &end_b);
        if (end_a == a || end_b == b) {
            assert_int_equal(*a++, *b++);
            continue;
        }
        if (x - y > 2 + 0.05 * x || y - x > 2 + 0.05 * x)
            fail_msg("%.20s against %.20s", a, b);
        a = end_a;
        b = end_b;
    }
    assert_int_equal(*a, *b);
}

static void one_rig(const struct thing *a, const struct thing *b)
{
    write_rig(a, b);
    ends_with_0(run("$D check --looks alone.rig.yaml"), "check", a, b);
    drawn_is_at_most_asked(a, b);
    ends_with_0(run("$D bringup alone.rig.yaml --self-test"), "bringup", a, b);
    says("all is as the rig says");
    ends_with_0(run("$D render alone.rig.yaml --look chase --rate 10Hz --from 1s --frames 1 "
                    "--out one.csv && $D render alone.rig.yaml --look chase --rate 10Hz "
                    "--frames 12 --out many.csv"),
                "render", a, b);
    char *one = rows_at("one.csv", "1000000,"), *of_many = rows_at("many.csv", "1000000,");
    assert_true(strlen(one) > 10);
    if (b && strcmp(b->name, "rgb-panel") == 0)
        same_but_for_ticks(one, of_many);
    else
        assert_string_equal(one, of_many);
    free(one);
    free(of_many);
}

static void a_frame_by_itself_is_that_of_the_run_and_all_is_sound(void **state)
{
    (void)state;
    for (size_t a = 0; a < THINGS; a++) {
        one_rig(&things[a], NULL);
        ends_with_0(run("$D trace alone.rig.yaml --look chase --frames 2 --out one.vcd && "
                        "$D preview alone.rig.yaml --look chase --frames 1 && "
                        "$D render alone.rig.yaml --look chase --frames 1 --out one.png"),
                    "trace, preview or picture", &things[a], NULL);
    }
}

/* A report has pictures of some time, a second of work each: one of each family, of which every
 * third is tried unless $EACH_FAMILY is set. */
static void each_family_has_its_report(void **state)
{
    (void)state;
    static const char *const families[] = {"WS2812B", "APA102", "MAX7219", "74HC595",  "digits",
                                           "lamps",   "TM1638", "HD44780", "rgb-panel"};
    size_t next = 0;
    for (size_t a = 0; a < THINGS; a++) {
        if (next == sizeof families / sizeof families[0] ||
            strcmp(things[a].name, families[next]) != 0)
            continue;
        if (next++ % 3 && !getenv("EACH_FAMILY"))
            continue;
        write_rig(&things[a], NULL);
        ends_with_0(run("$D report alone.rig.yaml --look chase --for 100ms --out one.html"),
                    "report", &things[a], NULL);
    }
    assert_int_equal(next, sizeof families / sizeof families[0]);
}

/* Every third of the pairs, so that each family is with many others; where $EACH_FAMILY is set
 * (.ci/run), all of them. */
static void so_it_is_in_pairs(void **state)
{
    (void)state;
    int all = getenv("EACH_FAMILY") != NULL;
    for (size_t a = 0; a < THINGS; a++) {
        for (size_t b = a + 1; b < THINGS; b++) {
            if ((things[a].pixels && things[b].pixels) /* the same pins */ ||
                (!all && (a + b) % 3 != 0))
                continue;
            one_rig(&things[a], &things[b]);
        }
    }
}

/* With a fault on the desk the self-test of bring-up does not end well: it names a cause. */
static void each_fault_finds_itself(void **state)
{
    (void)state;
    for (size_t a = 0; a < THINGS; a++) {
        char faults[160], *save = NULL;
        write_rig(&things[a], NULL);
        snprintf(faults, sizeof faults, "%s", things[a].faults);
        for (char *fault = strtok_r(faults, "|", &save); fault;
             fault = strtok_r(NULL, "|", &save)) {
            if (run("$D bringup alone.rig.yaml --self-test --fault 'it: %s'", fault) != 1)
                fail_msg("%s: %s is not found:\n%s", things[a].name, fault, output);
        }
    }
}

/* Displays with a text need no look; lamps do. */
static void texts_show_without_a_look(void **state)
{
    (void)state;
    for (size_t a = 0; a < THINGS; a++) {
        write_rig(&things[a], NULL);
        int text = things[a].body && strstr(things[a].body, "text:") != NULL;
        assert_int_equal(run("$D render alone.rig.yaml --out one.csv"), text ? 0 : 2);
        says(text ? "one.csv: texts at 0 s" : "no look; write '--look NAME'");
    }
}

/* How many bytes of a frame are not 0. */
static uint32_t lit(const struct dia_scene *scene, const struct dia_player *player)
{
    uint8_t *bytes = malloc(scene->bytes);
    uint32_t any = 0;
    dia_scene_see(scene, player, bytes);
    for (uint32_t k = 0; k < scene->bytes; k++)
        any += bytes[k] != 0;
    free(bytes);
    return any;
}

/* As the live page sees it: all elements lie on the desk, white lights what has no text, pause and
 * paint work, and dark is dark. */
static void each_is_seen_live(void **state)
{
    (void)state;
    static struct dia_rig rig;
    struct dia_diagnostic wrong;
    for (size_t k = 0; k < 2 * THINGS - 1; k++) { /* each alone, and with the next of the list */
        const struct thing *a = &things[k % THINGS], *b = k < THINGS ? NULL : a + 1;
        if (b && a->pixels && b->pixels)
            continue; /* the same pins */
        write_rig(a, b);
        assert_int_equal(dia_rig_load(&rig, "alone.rig.yaml", &wrong), DIA_OK);
        struct dia_player *player = dia_player_new(&rig, &wrong);
        struct dia_scene *scene = dia_scene_new(dia_player_desk(player));
        struct dia_live *live =
            dia_live_new(&rig, "layer a: steady colour=white\n", "a", NULL, &wrong);
        assert_true(player && scene && live && scene->count > 0);
        for (uint32_t e = 0; e < scene->count; e++) {
            const struct dia_scene_element *at = &scene->elements[e];
            assert_true(at->x >= 0 && at->x <= scene->width && at->y >= 0 &&
                        at->y <= scene->height);
        }
        assert_int_equal(dia_live_play(live, player, 0, 0, NULL), DIA_OK);
        if (lit(scene, player) == 0)
            fail_msg("nothing is seen of %s", a->name);
        assert_int_equal(dia_live_change(live, "paint all black", 20, DIA_LIVE_OTHERS, &wrong),
                         DIA_OK);
        assert_int_equal(dia_live_play(live, player, 20000, 1, NULL), DIA_OK);
        int text = a->body && (strstr(a->body, "text:") || strstr(a->body, "digits"));
        if (!b && !text && lit(scene, player) != 0)
            fail_msg("%s is painted black and seen", a->name);
        assert_int_equal(dia_player_dark(player), DIA_OK);
        dia_player_rest_until(player, 100000000);
        if (lit(scene, player) != 0)
            fail_msg("%s is dark and seen", a->name);
        dia_live_free(live);
        dia_scene_free(scene);
        dia_player_free(player);
    }
}

/* DIO is open-drain: the chip pulls it low for keys and answers. */
static void a_line_that_goes_both_ways_wants_a_shifter_that_does(void **state)
{
    (void)state;
    write_rig(&things[16], NULL);
    assert_int_equal(
        run("sed -i 's/logic_high: 5 V/logic_high: 3.3 V/' alone.rig.yaml && "
            "$D check --looks alone.rig.yaml | tr -s ' \\n' ' '; $D check alone.rig.yaml "
            ">/dev/null"),
        1);
    says("put a 74AHCT level shifter at 5 V before it; into DIO, which goes both ways, put a "
         "transistor with a pull-up on each side");
    assert_int_equal(run("sed -i 's/chip: TM1638/shifter: 5 V, chip: TM1638/' alone.rig.yaml && "
                         "$D check --looks alone.rig.yaml | tr -s ' \\n' ' '"),
                     0);
    says("DIO goes both ways: its shifter must be a transistor with a pull-up on each side, not a "
         "74AHCT");
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(a_frame_by_itself_is_that_of_the_run_and_all_is_sound),
        cmocka_unit_test(each_family_has_its_report),
        cmocka_unit_test(so_it_is_in_pairs),
        cmocka_unit_test(each_fault_finds_itself),
        cmocka_unit_test(texts_show_without_a_look),
        cmocka_unit_test(each_is_seen_live),
        cmocka_unit_test(a_line_that_goes_both_ways_wants_a_shifter_that_does),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
