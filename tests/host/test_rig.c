/* SPDX-License-Identifier: MIT */
#include "../run.h"

#include <diachrome/player.h>
#include <diachrome/rig.h>
#include <diachrome/scene.h>
#include <diachrome/show.h>

static const char good[] = "rig: desk\n"                                        /* 1 */
                           "master: 25 %\n"                                     /* 2 */
                           "controller:\n"                                      /* 3 */
                           "  name: board\n"                                    /* 4 */
                           "  clock: 16 MHz\n"                                  /* 5 */
                           "  ram: 2 KB\n"                                      /* 6 */
                           "  flash: 32 KB\n"                                   /* 7 */
                           "  logic_high: 3300 mV\n"                            /* 8 */
                           "supplies:\n"                                        /* 9 */
                           "  usb: { voltage: 5V, current: 2.5 A }\n"           /* 10 */
                           "lanes:\n"                                           /* 11 */
                           "  rail:\n"                                          /* 12 */
                           "    pin: 6\n"                                       /* 13 */
                           "    chip: SK6812-RGBW\n"                            /* 14 */
                           "    count: 120\n"                                   /* 15 */
                           "    order: WRGB\n"                                  /* 16 */
                           "    supply: usb\n"                                  /* 17 */
                           "    white: [100 %, 50%, 25 %, 0 %]\n"               /* 18 */
                           "    channel_current: 12 mA\n"                       /* 19 */
                           "    line: { start: -2.5 cm, pitch: 16.6667 mm }\n"; /* 20 */

static struct dia_rig rig;
static struct dia_diagnostic wrong;

static enum dia_status load(const char *text, size_t length)
{
    write_file("test.rig.yaml", text, length);
    return dia_rig_load(&rig, "test.rig.yaml", &wrong);
}

/* A measured white and a curve reach the wire: full white is even, a code of 128 is as its gamma.
 */
static void light_is_as_the_file_says(void **state)
{
    (void)state;
    char text[1400];
    const char *at = strstr(good, "    white: [");
    int n = snprintf(text, sizeof text, "%.*s    white_seen: [40, 50, 64]\n    curve: 2\n%s",
                     (int)(at - good), good, strchr(at, '\n') + 1);
    assert_int_equal(load(text, (size_t)n), DIA_OK);
    assert_int_equal(rig.lanes[0].white[0], DIA_SHARE_ONE);
    assert_int_equal(rig.lanes[0].white[1], 26214); /* 40 / 50 */
    assert_int_equal(rig.lanes[0].white[2], 20480); /* 40 / 64 */
    assert_int_equal(rig.lanes[0].gamma, 2000);
    struct dia_steady grey = {{128, 0, 0}};
    struct dia_player *player = dia_player_new(&rig, &wrong);
    assert_non_null(player);
    assert_int_equal(dia_player_show(player, &dia_look_steady, &grey, 0, 0, NULL), DIA_OK);
    uint32_t sum = 0;
    for (uint32_t i = 0; i < 120; i++)
        sum += dia_player_shown(player, 0)->drive[i][0];
    /* (128 / 255) ^ 2 * 255 * 25 % are 16.06 of 255 */
    assert_in_range(sum, 120 * 16, 120 * 16 + 9);
    dia_player_free(player);
}

static void every_key_arrives_in_its_unit(void **state)
{
    (void)state;
    assert_int_equal(load(good, strlen(good)), DIA_OK);
    assert_string_equal(rig.name, "desk");
    assert_int_equal(rig.master, DIA_SHARE_ONE / 4);
    assert_int_equal(rig.frame_rate_mhz, 30000); /* the default */
    assert_int_equal(rig.controller.clock_hz, 16000000);
    assert_int_equal(rig.controller.ram_bytes, 2048);
    assert_int_equal(rig.controller.flash_bytes, 32768);
    assert_int_equal(rig.controller.logic_high_mv, 3300);
    assert_int_equal(rig.supplies[0].voltage_mv, 5000);
    assert_int_equal(rig.supplies[0].current_ua, 2500000);
    assert_int_equal(rig.supplies[0].reserve_ua, 0);
    const struct dia_rig_lane *lane = &rig.lanes[0];
    assert_int_equal(lane->pin, 6);
    assert_int_equal(lane->count, 120);
    assert_string_equal(lane->order, "WRGB");
    assert_memory_equal(lane->part.order.channel, ((uint8_t[]){3, 0, 1, 2}), 4);
    assert_int_equal(lane->white[1], DIA_SHARE_ONE / 2);
    assert_int_equal(lane->white[3], 0);
    assert_int_equal(lane->part.power.channel_ua[3], 12000);
    assert_int_equal(lane->part.power.idle_ua, 1000); /* the sheet's */
    assert_int_equal(lane->layout.surface.start_um, -25000);
    assert_int_equal(lane->layout.surface.pitch_um, 16667); /* to a whole micrometre */
}

/* One mistake at a time: `from` in the good file becomes `to`, and this is what is said. */
static const struct {
    const char *from, *to, *said;
} mistakes[] = {
    {"count:", "cuont:", ":15:5: unknown key 'cuont' in lane 'rail'; did you mean 'count'?"},
    {"  ram: 2 KB\n", "", ":3:1: 'controller' has no 'ram'; write 'ram: 2 KB'"},
    {"  ram: 2 KB\n", "  chip: ATmega382P\n",
     ":6:9: unknown controller 'ATmega382P'; did you mean ATmega328P?"},
    {"    supply: usb\n", "    supply:\n", ":17:12: 'supply' is empty; write such as main"},
    {"5V, current: 2.5 A }\nlanes:\n",
     "5V, current: 2.5 A }\n  old: { current: 1 A }\nlanes:\n"
     "  more: { pin: 1, chip: WS2812B, count: 1 }\n",
     ":13:3: lane 'more' does not say which of the 2 supplies it hangs on; write 'supply: usb'"},
    {"supply: usb", "supply: ubs", ":17:13: unknown supply 'ubs'; did you mean 'usb'"},
    {"5V", "5 A", ":10:19: 'voltage' takes a voltage in V, mV, such as 5 V; found '5 A'"},
    {"16 MHz", "16", ":5:10: 'clock' takes a clock rate in MHz, kHz, Hz, such as 16 MHz"},
    {"2.5 A", "two A", ":10:32: 'current' takes a current in A, mA, uA"},
    {"count: 120", "count: 0", ":15:12: 'count' must be 1 to 65535; found '0'"},
    {"count: 120", "count: 0120", ":15:12: 'count' begins with 0; write it without"},
    {"count: 120", "count: 1.5", ":15:12: 'count' takes a whole number without a unit"},
    {"25 %", "125 %", ":2:9: 'master' must be 0 % to 100 %; found '125 %'"},
    {"pin: 6", "pin: 64", ":13:10: 'pin' must be 0 to 63; found '64'"},
    {"SK6812-RGBW", "SK6812-RGWB", ":14:11: unknown chip 'SK6812-RGWB'; did you mean SK6812-RGBW?"},
    {"SK6812-RGBW", "LED", ":14:11: unknown chip 'LED'; known: WS2811-slow, "},
    {"WRGB", "GRB", ":16:12: 'order' of SK6812-RGBW takes the letters R G B W, each once"},
    {"WRGB", "RRGB", ":16:12: 'order' of SK6812-RGBW takes the letters R G B W, each once"},
    {", 0 %]", "]", ":18:12: 'white' of SK6812-RGBW takes 4 percentages"},
    {"pitch: 16.6667 mm", "pitch: 0 mm", ":20:36: 'pitch' must be 0.1 mm to 10000 mm"},
    {"    white:", "    white_seen: [1, 1, 1]\n    white:",
     ":18:5: 'white' and 'white_seen' both say"},
    {"white: [100 %, 50%, 25 %, 0 %]", "white_seen: [1, 2]",
     ":18:17: 'white_seen' takes three numbers"},
    {"white: [100 %, 50%, 25 %, 0 %]", "white_seen: [1, 2, x]",
     ":18:24: 'white_seen' is a number of 0.001 to 1e+06; found 'x'"},
    {"white: [100 %, 50%, 25 %, 0 %]", "white_seen: [0.001, 2, 1000000]",
     ":18:17: 'white_seen' has next to nothing of one colour"},
    {"white: [100 %, 50%, 25 %, 0 %]", "curve: 0.5",
     ":18:12: 'curve', if not sRGB, is a number of 1 to 4; found '0.5'"},
    {"count: 120", "count: 120\n    at: { x: 1 mm }", ":16:"},
    {"count: 120", "count: 120\n    at: { x: 1 mm, y: 2 mm, turn: 45 }",
     "'turn' is one of: 0, 90, 180, 270; found '45'"},
    {"line: {", "line: [", ":20:"},
    {"  usb: {", "  u b: {", ":10:3: 'u b' is no name for a supply"},
    {"2.5 A }", "2.5 A, reserve: 3 A }", ":10:48: 'reserve' must be less than the 'current'"},
    {"supplies:", "supplys:",
     ":9:1: unknown key 'supplys' in a rig file; did you mean 'supplies'?"},
    {"  usb: {", "  usb: { voltage: 5 V }\n  usb: {",
     ":11:3: 'usb' is here twice, first on line 10"},
    {"lanes:\n",
     "lanes:\n  r2: {pin: 6, chip: WS2812, count: 1, supply: usb, line: {pitch: 1 mm}}\n",
     ":14:10: pin 6 already drives lane 'r2'"},
    {"rig: desk", "rig: *desk", ":1:6: a rig file has no aliases"},
    {"rig: desk", "rig: !!binary ZGVzaw==", ":1:6: a rig file has no tags such as !!binary"},
    {"rig: desk", "rig: \"de\\0sk\"", ":1:6: a text cannot have the character 0 in it"},
    {"rig: desk", "rig: \"desk", ": this is not YAML: "},
    {"rig: desk", "rig: de\x01sk", ":1:8: this is not a text file: control characters"},
    {"120", "999999999999999999999", ":15:12: 'count' takes a whole number"},
    {"    line:", "    ring: { diameter: 6 cm }\n    line:",
     ":20:5: 'line' and 'ring' both say how lane 'rail' lies; keep one"},
    {"    line: {", "    grid: { columns: 16, rows: 7, ", ":20:"},
    {"line: { start: -2.5 cm, ", "grid: { columns: 16, rows: 7, ",
     ":20:11: 16 columns of 7 are 112 pixels, but 'count' of lane 'rail' is 120"},
    {"line: { start: -2.5 cm, ", "grid: { columns: 15, rows: 8, corner: up, ",
     ":20:43: 'corner' is one of: top-left, top-right, bottom-left, bottom-right; found 'up'"},
    {"line: { start: -2.5 cm, pitch: 16.6667 mm }", "ring: { diameter: 66 ft }",
     ":20:23: 'diameter' takes a length in mm, cm, m"},
    {"    line: {", "    lyne: {",
     ":20:5: unknown key 'lyne' in lane 'rail'; did you mean 'line'?"},
    {"lanes:\n",
     "lanes:\n"
     "  r1: {pin: 4, chip: SK6812-RGBW, count: 1, supply: usb, group: A, line: {pitch: 1 mm}}\n"
     "  r2: {pin: 7, chip: SK6812-RGBW, count: 1, supply: usb, group: A, line: {pitch: 1 mm}}\n",
     ":12:3: the 2 lanes of group 'A' are on pins 4 to 7; those of a group are on neighbouring"},
    {"lanes:\n",
     "lanes:\n"
     "  r1: {pin: 4, chip: SK6812-RGBW, count: 1, supply: usb, group: A, line: {pitch: 1 mm}}\n"
     "  r2: {pin: 5, chip: WS2812B, count: 1, supply: usb, group: A, line: {pitch: 1 mm}}\n",
     ":13:61: lane 'r1' of group 'A' is SK6812-RGBW; lanes sent at once are of one chip"},
    {"lanes:", "buttons: { bell: { pin: 6 } }\nlanes:",
     ":11:25: pin 6 is already used by 'rail'; a button has its own"},
    {"lanes:", "buttons: { rail: { pin: 7 } }\nlanes:", ":11:12: 'rail' is a lane already"},
    {"lanes:", "buttons: { bell: { pin: 7, pressed: down } }\nlanes:",
     ":11:37: 'pressed' of button 'bell' is the level of its pin while it is pressed: low or high"},
    {"count: 120", "count: [120]", ":15:12: 'count' takes a single value"},
};

static void each_mistake_is_told_with_its_place_and_what_is_right(void **state)
{
    (void)state;
    for (size_t i = 0; i < sizeof mistakes / sizeof mistakes[0]; i++) {
        char text[2048];
        const char *at = strstr(good, mistakes[i].from);
        assert_non_null(at);
        snprintf(text, sizeof text, "%.*s%s%s", (int)(at - good), good, mistakes[i].to,
                 at + strlen(mistakes[i].from));
        assert_int_equal(load(text, strlen(text)), DIA_BAD_VALUE);
        char said[512];
        snprintf(said, sizeof said, "test.rig.yaml%s",
                 mistakes[i].said[0] == ':' && mistakes[i].said[1] != ' ' ? mistakes[i].said : "");
        if (!strstr(wrong.text, said) || !strstr(wrong.text, mistakes[i].said))
            print_error("expected %s\nfound    %s\n", mistakes[i].said, wrong.text);
        assert_non_null(strstr(wrong.text, said));
        assert_non_null(strstr(wrong.text, mistakes[i].said));
        if (strchr(wrong.text, '\n')) /* one mistake is told once */
            fail_msg("%s", wrong.text);
    }
}

/* A chip with a clock line: the lane line of a rig, and what is said of it ("" when it is good). */
static const struct {
    const char *lane, *said;
} clocked[] = {
    {"pin: 11, clock_pin: 13, clock: 4 MHz, chip: APA102, order: RGB", ""},
    {"pin: 11, clock_pin: 13, clock: 25 MHz, chip: WS2801", ""},
    {"pin: 11, clock_pin: 13, chip: APA102", ""},
    {"pin: 11, clock: 1 MHz, chip: LPD8806", "has no 'clock_pin', which LPD8806 needs"},
    {"pin: 11, clock_pin: 13, clock: 16 MHz, chip: SK9822", "'clock' of SK9822 is at most 15 MHz"},
    {"pin: 11, clock: 1 MHz, chip: WS2812B", "for chips with a clock line; WS2812B has none"},
    {"pin: 11, clock_pin: 11, clock: 4 MHz, chip: APA102", "'clock_pin' is the same as 'pin'"},
    {"pin: 2, clock_pin: 13, clock: 4 MHz, chip: APA102", "pin 2 already drives lane 'other'"},
    {"pin: 11, clock_pin: 2, clock: 4 MHz, chip: APA102", "pin 2 already drives lane 'other'"},
    {"pin: 11, clock_pin: 13, clock: 4 MHz, chip: APA102, order: LBGR", "the letters R G B, each"},
};

static void a_chip_with_a_clock_line_wants_its_keys(void **state)
{
    (void)state;
    for (size_t i = 0; i < sizeof clocked / sizeof clocked[0]; i++) {
        char text[2048];
        const char *lanes = strstr(good, "lanes:");
        int n = snprintf(text, sizeof text,
                         "%.*slanes:\n  other: {pin: 1, clock_pin: 2, clock: 1 MHz, chip: WS2801, "
                         "count: 4, supply: usb, line: {pitch: 1 mm}}\n"
                         "  wall: {%s, count: 8, supply: usb, line: {pitch: 1 mm}}\n",
                         (int)(lanes - good), good, clocked[i].lane);
        enum dia_status status = load(text, (size_t)n);
        assert_int_equal(status, clocked[i].said[0] ? DIA_BAD_VALUE : DIA_OK);
        if (status != DIA_OK && !strstr(wrong.text, clocked[i].said))
            print_error("expected %s\nfound    %s\n", clocked[i].said, wrong.text);
        assert_true(status == DIA_OK || strstr(wrong.text, clocked[i].said));
        assert_true(status == DIA_OK || strstr(wrong.text, "test.rig.yaml:13:"));
    }
    /* the trace calls the wires of 'rail2' rail2_clock and rail2_data */
    static const char clash[] =
        "  rail2: {pin: 1, clock_pin: 2, clock: 1 MHz, chip: WS2801, count: 4, "
        "supply: usb, line: {pitch: 1 mm}}\n"
        "  rail2_data: {pin: 3, chip: WS2812, count: 4, supply: usb, "
        "line: {pitch: 1 mm}}\n";
    char both[2048];
    int length = snprintf(both, sizeof both, "%s%s", good, clash);
    assert_int_equal(load(both, (size_t)length), DIA_BAD_VALUE);
    assert_non_null(strstr(wrong.text, ":22:3: 'rail2_data' and 'rail2' would have a wire of one"));
    assert_int_equal(load(good, strlen(good)), DIA_OK);
}

/* The same for devices: one change at a time in a file with one of every kind. */
static const struct {
    const char *from, *to, *said;
} device_mistakes[] = {
    {"MAX7221", "MAX7291", "unknown chip 'MAX7291'; did you mean MAX72"},
    {"MAX7221", "WS2812B", "WS2812B goes under 'lanes', not 'devices'"},
    {"    chip: MAX7221\n", "", "device 'dots' has no 'chip'; write 'chip: MAX7219'"},
    {"chips: 2", "chips: 0", "'chips' must be 1 to 32; found '0'"},
    {"chips: 2\n    lamps", "chips: 10000\n    lamps", "'chips' must be 1 to 255; found '10000'"},
    {"cs: 3", "cs: 2", "pin 2 is already used by 'dots'; each wire has its own"},
    {"ser: 4", "ser: 1", "'row' shares one wire of a bus with 'dots'; give it the other one too"},
    {", cs: 3", "", "'pins' of 'dots' has no 'cs'; write 'cs: 20'"},
    {"cs: 3", "stb: 3", "MAX7221 has no pin 'stb'; it has din, clk, cs"},
    {"turn: 90", "turn: 45", "'turn' is 0, 90, 180 or 270 (degrees clockwise)"},
    {"first: right", "first: up", "'first' is one of: left, right; found 'up'"},
    {"    mirrored: yes\n", "    text: no\n", "'text' is for digits; with 'shows: dots' looks"},
    {"2H, 2G", "2H, 2H", "output 2H drives lamp 0 already"},
    {"2H, 2G", "2H, 3A",
     "'wiring' takes a chip 1 to 2 and its output A to H, such as 1A, or none; found"},
    {"2H, 2G", "2H", "'wiring' has 9 outputs for 10 lamps"},
    {"lamps: 10", "lamps: 17", "17 lamps do not fit the 16 outputs of 2 chips"},
    {"depth: 3", "depth: 9", "'depth' must be 1 to 8; found '9'"},
    {"depth: 3", "depth: 8\n    clock: 10 kHz", "the shortest slice of 'row' is 32 us, and its"},
    {"12.5-AbC", "123456789", "'123456789' does not fit; 'eight' has room for 8"},
    {"digit2: 18 }", "digit2: 18, digit3: 40 }", "'clock' has no pin 'digit3' wired"},
    {", digit2: 18", "", "'pins' of 'clock' has no 'digit2'; write 'digit2: 20'"},
    {"clk: 19", "stb: 40, clk: 19", "'four' has no pin 'stb' wired as it is described here"},
    {"0x27", "0x80", "'address' is an I2C address, 0x03 to 0x77, such as 0x27; found '0x80'"},
    {"rows: 2", "rows: 3", "no 16x3 display; there are 8x1 to 40x2"},
    {"and another\"", "caf\u00e9\"",
     "the ROM of 'notes' (A00) has no '\u00e9'; besides ASCII without"},
    {"and another\"", "a~\"", "the ROM of 'notes' (A00) has no '~'"},
    {"and another\"", "12345678901234567\"", "does not fit; 'notes' has room for 16"},
    {"and another\"", "another\", more", "'notes' shows 2 lines; 'text' has more"},
    {"  wide:", "  notes:", "'notes' is here twice, first on line"},
    {", d7: 35", "", "'pins' of 'wide' has no 'd7'; write 'd7: 20'"},
};

static void each_mistake_in_a_device_is_told(void **state)
{
    (void)state;
    char *all = read_file("rigs/all.rig.yaml", NULL), text[4096];
    assert_int_equal(load(all, strlen(all)), DIA_OK);
    for (size_t i = 0; i < sizeof device_mistakes / sizeof device_mistakes[0]; i++) {
        const char *at = strstr(all, device_mistakes[i].from);
        assert_non_null(at);
        snprintf(text, sizeof text, "%.*s%s%s", (int)(at - all), all, device_mistakes[i].to,
                 at + strlen(device_mistakes[i].from));
        assert_int_equal(load(text, strlen(text)), DIA_BAD_VALUE);
        if (!strstr(wrong.text, device_mistakes[i].said))
            print_error("expected %s\nfound    %s\n", device_mistakes[i].said, wrong.text);
        assert_non_null(strstr(wrong.text, device_mistakes[i].said));
        if (strchr(wrong.text, '\n'))
            fail_msg("%s", wrong.text);
    }
    free(all);
}

/* Rigs of three or four lines with all that is said of them: tests/rigs/mistakes.txt. */
static void each_mistake_of_the_list_is_told(void **state)
{
    (void)state;
    char *list = read_file("rigs/mistakes.txt", NULL), line[2048], said[2048], text[4096];
    int rigs = 0;
    for (const char *rest = list; next_case(&rest, 2, line, said); rigs++) {
        int n = snprintf(text, sizeof text,
                         "controller: ATmega328P\n"
                         "supplies: { usb: { current: 2 A } }\n%s",
                         line);
        enum dia_status status = load(text, (size_t)n);
        char found[4096] = "", *to = found;
        for (char *mistake = wrong.text; status != DIA_OK && *mistake;) { /* without the file */
            size_t length = strcspn(mistake, "\n");
            to += sprintf(to, "%.*s\n", (int)(length - strlen("test.rig.yaml")),
                          mistake + strlen("test.rig.yaml"));
            mistake += length + (mistake[length] != 0);
        }
        if (status != (said[0] ? DIA_BAD_VALUE : DIA_OK) || strcmp(found, said) != 0)
            fail_msg("%s\nexpected %s\nfound    %s\n", text, said, found);
    }
    assert_true(rigs > 100);
    free(list);
}

/* Where nothing is said: lamps are red, a character display yellow-green. */
static void colours_that_are_not_said_are_the_usual_ones(void **state)
{
    (void)state;
    int displays = 0;
    assert_int_equal(dia_rig_load(&rig, "rigs/all.rig.yaml", &wrong), DIA_OK);
    for (uint32_t i = 0; i < rig.device_count; i++) {
        int is_display = dia_rig_lies(&rig.devices[i]) == DIA_LIES_CELLS;
        displays += is_display;
        if (is_display)
            assert_true(rig.devices[i].colour.g > rig.devices[i].colour.r);
    }
    assert_true(displays > 1);
}

/* As many modules of digits as there may be: 256 digits, and their text is read. */
static void the_longest_chain_of_digits_is_read(void **state)
{
    (void)state;
    char *all = read_file("rigs/all.rig.yaml", NULL), text[4096];
    const char *at = strstr(all, "chips: 1\n");
    assert_non_null(at);
    snprintf(text, sizeof text, "%.*schips: 32\n%s", (int)(at - all), all, at + 9);
    assert_int_equal(load(text, strlen(text)), DIA_OK);
    assert_string_equal(rig.devices[2].name, "eight");
    assert_int_equal(rig.devices[2].digits, 256);
    assert_string_equal(rig.devices[2].text[0], "12.5-AbC");
    free(all);
}

static void files_that_are_no_rig_are_refused(void **state)
{
    (void)state;
    assert_int_equal(load("", 0), DIA_BAD_VALUE);
    assert_non_null(strstr(wrong.text, "yaml:1:1: the file is empty"));
    assert_int_equal(load("just words\n", 11), DIA_BAD_VALUE);
    assert_non_null(strstr(wrong.text, "yaml:1:1: a rig file takes keys with values"));
    assert_int_equal(load("rig: a\n---\nrig: b\n", 18), DIA_BAD_VALUE);
    assert_non_null(strstr(wrong.text, "yaml:2:1: a second document"));

    char *deep = malloc(20001);
    memset(deep, '[', 10000);
    memset(deep + 10000, ']', 10000);
    assert_int_equal(load(deep, 20000), DIA_BAD_VALUE);
    assert_non_null(strstr(wrong.text, "yaml:1:17: this nests deeper"));
    free(deep);

    assert_int_equal(run("head -c 104857600 /dev/zero | tr '\\0' '#' > big.rig.yaml"), 0);
    assert_int_equal(dia_rig_load(&rig, "big.rig.yaml", &wrong), DIA_BAD_VALUE);
    assert_non_null(strstr(wrong.text, "big.rig.yaml:1:1: the file is larger than 1 MB"));
    remove("big.rig.yaml");

    assert_int_equal(dia_rig_load(&rig, "no/such.rig.yaml", &wrong), DIA_BAD_VALUE);
    assert_string_equal(wrong.text, "no/such.rig.yaml: cannot be read: No such file or directory");
    assert_int_equal(dia_rig_load(&rig, ".", &wrong), DIA_BAD_VALUE);
}

/* Bytes changed, left out, doubled, or the end cut off, at random. */
static size_t damaged(char *text, size_t length, uint32_t *seed)
{
    uint32_t hits = 1 + random_below(seed, 4);
    while (hits-- > 0 && length > 2) {
        size_t at = random_below(seed, (uint32_t)length - 1);
        switch (random_below(seed, 5)) {
        case 0:
            text[at] = (char)random_below(seed, 256);
            break;
        case 1:
            memmove(text + at, text + at + 1, length - at - 1);
            length--;
            break;
        case 2:
            memmove(text + at + 1, text + at, length - at);
            length++;
            break;
        case 3:
            text[at] = "{}[]:,-#&*!|>'\"%@ \n\t0129"[random_below(seed, 24)];
            break;
        default:
            length = at + 1;
        }
    }
    return length;
}

/* The smallest rig: what it does not say is as usual. */
static void the_smallest_rig_is_six_lines(void **state)
{
    (void)state;
    static const char six[] = "controller: ATmega328P\n"
                              "supplies:\n"
                              "  usb: { current: 2 A }\n"
                              "lanes:\n"
                              "  shelf: { pin: 6, chip: WS2812B, count: 60 }\n"
                              "  wall: { pin: 7, clock_pin: 8, chip: APA102, count: 64, "
                              "grid: { columns: 8, rows: 8 } }\n";
    assert_int_equal(load(six, strlen(six)), DIA_OK);
    assert_string_equal(rig.name, "test");
    assert_string_equal(rig.controller.name, "ATmega328P");
    assert_int_equal(rig.controller.ram_bytes, 2048);
    assert_int_equal(rig.controller.logic_high_mv, 5000);
    assert_int_equal(rig.supplies[0].voltage_mv, 5000);
    assert_int_equal(rig.lanes[0].layout.pitch_um, 16700);
    assert_int_equal(rig.lanes[0].layout.surface.count, 60);
    assert_int_equal(rig.lanes[1].layout.pitch_um, 10000);
    assert_int_equal(rig.lanes[1].clock_hz, 4000000);
    static const char devices[] =
        "controller: { chip: RP2040, clock: 133 MHz }\n"
        "supplies: { usb: { current: 2 A } }\n"
        "devices:\n"
        "  board: { chip: MAX7219, pins: { din: 3, clk: 2, cs: 4 } }\n"
        "  lamps: { chip: 74HC595, pins: { ser: 3, srclk: 2, rclk: 5 }, clock: 1 MHz }\n"
        "  notes: { chip: HD44780, pins: { scl: 8, sda: 9 } }\n"
        "  more: { chip: HD44780, address: 0x3f, pins: { scl: 8, sda: 9 } }\n";
    assert_int_equal(load(devices, strlen(devices)), DIA_OK);
    assert_int_equal(rig.controller.clock_hz, 133000000);
    assert_int_equal(rig.controller.logic_high_mv, 3300);
    assert_int_equal(rig.devices[0].clock_hz, 1000000);
    assert_int_equal(rig.devices[0].count, 1);
    assert_int_equal(rig.devices[2].columns, 16);
    assert_int_equal(rig.devices[2].address, 0x27);
    /* by table 4 of the sheet: u with two points 0xf5, degree 0xdf, Omega 0xf4, katakana a 0xb1 */
    static const char notes[] =
        "controller: RP2040\nsupplies: { usb: { current: 2 A } }\ndevices:\n"
        "  notes: { chip: HD44780, pins: { scl: 8, sda: 9 }, text: \"\u00fc\u00b0\u03a9\uff71\" "
        "}\n";
    char shown[8];
    assert_int_equal(load(notes, strlen(notes)), DIA_OK);
    assert_string_equal(rig.devices[0].text[0], "\xf5\xdf\xf4\xb1");
    assert_string_equal(dia_rig_cell_text(&rig.devices[0], 0xb1, shown), "\uff71");
    assert_string_equal(dia_rig_cell_text(&rig.devices[0], 0xf5, shown), "\u00fc");
    assert_string_equal(dia_rig_cell_text(&rig.devices[0], 'A', shown), "A");
    static const char western[] =
        "controller: RP2040\nsupplies: { usb: { current: 2 A } }\ndevices:\n"
        "  notes: { chip: HD44780, rom: A02, pins: { scl: 8, sda: 9 }, text: \"\u00e9~\u00c5\" }\n";
    assert_int_equal(load(western, strlen(western)), DIA_OK);
    assert_string_equal(rig.devices[0].text[0], "\xe9~\xc5");
}

/* In the order of lines, each once: what follows from a mistake is none. */
static void all_mistakes_are_told_at_once(void **state)
{
    (void)state;
    static const char text[] = "controller: ATmega328P\n"
                               "master: 300 %\n"
                               "supplies:\n"
                               "  usb: { curent: 2 A }\n"
                               "lanes:\n"
                               "  a: { pin: 6, chip: WS2812b, count: 0, supply: usb }\n"
                               "  b: { pin: 64, chip: WS2812B, count: 4, line: { pitch: 3 } }\n"
                               "  c: { pin: 6, chip: WS2812B, count: 4 }\n"
                               "devices:\n"
                               "  d: { chip: MAX7219, pins: { din: 1, clk: 1, cs: 99 } }\n"
                               "  e: { chip: MAX7219 }\n"
                               "faults: [ \"nobody: dead 1\" ]\n";
    static const char *const by_hand[] = {":2:9: 'master'",
                                          ":4:10: unknown key 'curent'",
                                          ":6:22: unknown chip 'WS2812b'",
                                          ":6:38: 'count'",
                                          ":7:13: 'pin'",
                                          ":7:57: 'pitch'",
                                          ":10:44: pin 1 is",
                                          ":10:51: a pin",
                                          ":11:3: device 'e' has no 'pins'"};
    uint32_t lines = 1;
    assert_int_equal(load(text, strlen(text)), DIA_BAD_VALUE);
    const char *at = wrong.text;
    for (size_t k = 0; k < sizeof by_hand / sizeof by_hand[0]; k++) {
        const char *next = strstr(at, by_hand[k]);
        if (!next)
            fail_msg("no %s in\n%s", by_hand[k], wrong.text);
        at = next + 1;
    }
    for (at = wrong.text; (at = strchr(at, '\n')) != NULL; at++)
        lines++;
    assert_int_equal(lines, sizeof by_hand / sizeof by_hand[0]);
    char many[4000] = "controller: ATmega328P\nsupplies: { usb: { current: 2 A } }\nlanes:\n";
    for (int k = 0; k < 30; k++)
        snprintf(many + strlen(many), sizeof many - strlen(many),
                 "  l%d: { pin: %d, chip: WS2812B, count: 0 }\n", k, k);
    assert_int_equal(load(many, strlen(many)), DIA_BAD_VALUE);
    assert_non_null(strstr(wrong.text, ":23:41: 'count' must be 1 to 65535; found '0'\nand 10 "
                                       "mistakes more"));
}

/* A valid rig, or lines with their places; every twentieth through the command, as a user meets
 * it. */
static void damaged_files_never_crash(void **state)
{
    (void)state;
    size_t length;
    char *demo = read_file("demo/quay.rig.yaml", &length);
    char *text = malloc(length + 64);
    uint32_t seed = 11, refused = 0;
    for (int i = 0; i < 3000; i++) {
        memcpy(text, demo, length);
        size_t n = damaged(text, length, &seed);
        if (load(text, n) == DIA_OK)
            continue;
        unsigned line, column;
        char rest[2];
        refused++;
        for (const char *at = wrong.text; at && strncmp(at, "and ", 4) != 0;
             at = strchr(at, '\n') ? strchr(at, '\n') + 1 : NULL)
            assert_int_equal(sscanf(at, "test.rig.yaml:%u:%u: %1s", &line, &column, rest), 3);
        if (refused % 20 == 0) {
            assert_int_equal(run("$D check test.rig.yaml"), 2);
            says(wrong.text);
        }
    }
    assert_in_range(refused, 900, 2970);
    free(text);
    free(demo);
}

static int remove_files(void **state)
{
    (void)state;
    remove("test.rig.yaml");
    return 0;
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(every_key_arrives_in_its_unit),
        cmocka_unit_test(light_is_as_the_file_says),
        cmocka_unit_test(each_mistake_is_told_with_its_place_and_what_is_right),
        cmocka_unit_test(a_chip_with_a_clock_line_wants_its_keys),
        cmocka_unit_test(each_mistake_in_a_device_is_told),
        cmocka_unit_test(the_smallest_rig_is_six_lines),
        cmocka_unit_test(all_mistakes_are_told_at_once),
        cmocka_unit_test(each_mistake_of_the_list_is_told),
        cmocka_unit_test(colours_that_are_not_said_are_the_usual_ones),
        cmocka_unit_test(the_longest_chain_of_digits_is_read),
        cmocka_unit_test(files_that_are_no_rig_are_refused),
        cmocka_unit_test(damaged_files_never_crash),
    };
    return cmocka_run_group_tests(tests, NULL, remove_files);
}
