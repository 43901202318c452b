/* SPDX-License-Identifier: MIT */
#include "../run.h"

#include <cjson/cJSON.h>

#include <diachrome/rig.h>

#define QUAY "rigs/handrail.rig.yaml"

static const char pair[] = "rig: pair\ncontroller: RP2040\nsupplies: { usb: { current: 2 A } }\n"
                           "lanes: { a: { node: here, pin: 2, chip: WS2812B, count: 10 } }\n"
                           "buttons: { b: { node: gate, pin: 9 } }\n";

static void check_reports_a_rig(void **state)
{
    (void)state;
    assert_int_equal(run("$D check " QUAY), 0);
    says("handrail: pin 6, 120 x WS2812B in GRB order");
    says("2880"); /* 120 * 24 bits; * 1.25 us = 3.6 ms, and 50 us to latch */
    says("3.67 ms");
    assert_null(strstr(output, "pier, water")); /* looks only on demand */
    assert_int_equal(strncmp(output, "Petrel Quay: every limit is kept\n\n", 34), 0);
    assert_int_equal(run("$D check --looks " QUAY), 0);
    says("pier, water "); /* the last look but drawings */
    says("2.000 A      2.000 A    4.540 A, full white");
    assert_null(strchr(output, '\033')); /* no terminal, no colour */
    for (char *line = strtok(output, "\n"); line; line = strtok(NULL, "\n"))
        assert_true(strlen(line) <= 80);
}

static double number(const cJSON *object, const char *key)
{
    const cJSON *item = cJSON_GetObjectItemCaseSensitive(object, key);
    assert_true(cJSON_IsNumber(item));
    return item->valuedouble;
}

/* 2880 bits of 1.25 us, 50 us of latch gap, 10 us since clocks may be coarse, and some until it is
 * noticed. Full white at 60 %: 120 * (60 mA * 0.6 + 1 mA) and 100 mA for the controller are 4.54 A.
 */
static void check_gives_programs_the_same_facts(void **state)
{
    (void)state;
    assert_int_equal(run("$D check --json " QUAY), 0);
    cJSON *root = cJSON_Parse(output);
    assert_non_null(root);
    cJSON *lane = cJSON_GetArrayItem(cJSON_GetObjectItem(root, "lanes"), 0);
    assert_int_equal(number(lane, "bits"), 2880);
    assert_in_range(number(lane, "frame_ns"), 3660000, 3668000);
    cJSON *supply = cJSON_GetArrayItem(cJSON_GetObjectItem(root, "supplies"), 0);
    cJSON *white = cJSON_GetArrayItem(cJSON_GetObjectItem(supply, "looks"), 0);
    assert_in_range(number(white, "asked_ua"), 4539500, 4540500);
    assert_in_range(number(white, "drawn_ua"), 1980000, 2000000);
    cJSON *findings = cJSON_GetObjectItem(root, "findings");
    cJSON *first = cJSON_GetArrayItem(findings, 0);
    assert_string_equal(cJSON_GetObjectItem(first, "code")->valuestring, "supply-limited");
    cJSON_Delete(root);
}

/* One change at a time in the demo: `from` becomes `to`, the finding and exit code are these. */
static const struct {
    const char *from, *to, *said;
    int code;
} broken[] = {
    /* 120 pixels of 3 bytes to draw and 3 to send, 136 of the strip, 256 of stack; in one buffer
     * 360, 80 and 256 */
    {"ram: 2 KB", "ram: 1300 B", "warning controller: 1112 of 1300 bytes are taken", 0},
    {"ram: 2 KB", "ram: 800 B",
     "warning controller: 1112 bytes needed, 800 there: it fits with one-wire strips in one buffer "
     "(dia_inplace_strip), 696 bytes, or with fewer pixels",
     0},
    {"logic_high: 5 V", "logic_high: 3.3 V", "WS2812B at 5 V needs 3.5 V (70 %)", 1},
    {"frame_rate: 50 Hz", "frame_rate: 400 Hz", "'frame_rate' is 400 Hz; the wire carries 27", 1},
    {"ram: 2 KB", "ram: 690 B", "1112 bytes needed, 690 there: use fewer pixels", 1},
    {"flash: 32 KB", "flash: 2 KB", "2048 bytes there; the smallest program takes", 1},
    {"voltage: 5 V", "voltage: 12 V", "WS2812B takes 3.5 V to 5.3 V", 1},
    {"current: 2 A", "current: 210 mA", "dark pixels alone draw 120 mA; there is 110 mA", 1},
    {"clock: 16 MHz", "clock: 1 MHz", "high of 1000 ns in bit 0 of pixel 0", 1},
};

static void each_limit_is_held(void **state)
{
    (void)state;
    char *demo = read_file(QUAY, NULL);
    for (size_t i = 0; i < sizeof broken / sizeof broken[0]; i++) {
        char text[4096];
        const char *at = strstr(demo, broken[i].from);
        assert_non_null(at);
        int n = snprintf(text, sizeof text, "%.*s%s%s", (int)(at - demo), demo, broken[i].to,
                         at + strlen(broken[i].from));
        write_file("broken.rig.yaml", text, (size_t)n);
        assert_int_equal(run("$D check broken.rig.yaml | tr -s ' \\n' ' '; $D check "
                             "broken.rig.yaml >/dev/null"),
                         broken[i].code);
        says(broken[i].said);
    }
    remove("broken.rig.yaml");
    free(demo);
}

/* 8 lanes of 100 pixels: 8 * 3 * 100 planes of a byte besides what each lane has. Lamps alone have
 * no limiter. */
static void memory_and_limiter_are_told_as_they_are(void **state)
{
    (void)state;
    char text[2000];
    int n = snprintf(text, sizeof text,
                     "rig: r\ncontroller: {name: c, clock: 64 MHz, ram: 99 KB, "
                     "flash: 1 MB, logic_high: 5 V}\n"
                     "supplies: {s: {voltage: 5 V, current: 90 A}}\nlanes:\n");
    for (int i = 0; i < 8; i++)
        n += snprintf(text + n, sizeof text - (size_t)n,
                      "  l%d: {supply: s, pin: %d, chip: WS2812B, count: 100, line: {pitch: 1 cm}, "
                      "group: all}\n",
                      i, i);
    write_file("eight.rig.yaml", text, (size_t)n);
    assert_int_equal(run("$D check eight.rig.yaml --json"), 0);
    cJSON *root = cJSON_Parse(output), *memory = cJSON_GetObjectItem(root, "memory");
    double group = number(cJSON_GetObjectItem(memory, "groups_bytes"), "all");
    assert_in_range(group, 2400, 2400 + 400);
    assert_true(number(memory, "frames_bytes") >= group + 8 * (300 + 300));
    cJSON_Delete(root);
    assert_int_equal(run("$D check eight.rig.yaml"), 0);
    says("group all ");
    static const char lamps[] =
        "rig: r\ncontroller: {name: c, clock: 16 MHz, ram: 2 KB, flash: 32 KB, logic_high: 5 V}\n"
        "supplies: {s: {voltage: 5 V, current: 1 A}}\ndevices:\n  row: {supply: s, chip: 74HC595, "
        "chips: 1, pins: {ser: 1, srclk: 2, rclk: 3, oe: 4}, clock: 4 MHz, depth: 4}\n";
    write_file("lamps.rig.yaml", lamps, sizeof lamps - 1);
    assert_int_equal(run("$D check lamps.rig.yaml | tr -s ' '"), 0);
    says("s 0.040 A 1.000 A 0.040 A, full white no limiter"); /* 8 lamps of 5 mA */
    remove("eight.rig.yaml");
    remove("lamps.rig.yaml");
}

/* At 1 MHz no pulse is right: that is said, and nothing else, and the code is that of a limit. */
static void a_clock_too_slow_is_told_as_such(void **state)
{
    (void)state;
    assert_int_equal(
        run("sed 's/clock: 16 MHz/clock: 1 MHz/' rigs/handrail.rig.yaml >slow.rig.yaml && "
            "$D trace slow.rig.yaml --look steady --out slow.vcd"),
        1);
    says("high of 1000 ns in bit 0 of pixel 0; it must be 650 to 950");
    assert_null(strstr(output, "could not be made dark"));
    remove("slow.rig.yaml");
    remove("slow.vcd");
}

/* Through links, into pipes and devices, with the mode that was there, and with a reason where it
 * cannot be. */
static void outputs_take_no_ones_place(void **state)
{
    (void)state;
    assert_int_equal(
        run("mkdir out && cp demo/quay.rig.yaml out/q.rig.yaml && chmod 600 out/q.rig.yaml "
            "&& ln -s out/q.rig.yaml link.rig.yaml && $D bringup link.rig.yaml "
            "--fault 'handrail: order RGB' --self-test --write"),
        0);
    says("1 change written");
    assert_int_equal(run("test -L link.rig.yaml && stat -c %%a out/q.rig.yaml && "
                         "grep -c 'order: RGB' out/q.rig.yaml"),
                     0);
    assert_string_equal(output, "600\n1\n");
    assert_int_equal(
        run("mkfifo out/pipe.csv && { wc -l <out/pipe.csv & $D render "
            "rigs/handrail.rig.yaml --look steady --out out/pipe.csv >/dev/null; wait; } "
            "&& test -p out/pipe.csv"),
        0);
    assert_int_equal(atoi(output), 1 + 120);
    static const char *const kinds[] = {"png", "csv", "gif", "apng", "y4m", "ppm"};
    for (int k = 0; k < 6; k++) {
        assert_int_equal(run("ln -s /dev/full out/full.%s; $D render rigs/handrail.rig.yaml --look "
                             "steady --for 100ms --out out/full.%s",
                             kinds[k], kinds[k]),
                         3);
        says("No space left on device");
    }
    assert_int_equal(run("ln -s nowhere out/x.csv; $D render rigs/handrail.rig.yaml --look steady "
                         "--out out/x.csv"),
                     3);
    says("is a link, and what it leads to cannot be written: No such file");
    char name[300];
    memset(name, 'n', 252);
    strcpy(name + 252, ".csv");
    assert_int_equal(run("$D render rigs/handrail.rig.yaml --look steady --out %s", name), 3);
    says("File name too long");
    assert_int_equal(
        run("$D render rigs/handrail.rig.yaml --look steady --out %s && rm %s", name + 1, name + 1),
        0);
    assert_int_equal(run("$D check --help >/dev/full"), 3);
    says("No space left on device");
    assert_int_equal(run("$D trace rigs/handrail.rig.yaml --look steady --out b.png"), 2);
    says("'b.png': the name must end in .vcd");
    assert_int_equal(run("rm -r out link.rig.yaml; ls -A | grep -c '[.]partial\\|[.]changed'"), 1);
}

static void looks_lists_what_there_is(void **state)
{
    (void)state;
    assert_int_equal(run("$D looks"), 0);
    for (const struct dia_look *const *look = dia_looks; *look; look++) {
        says((*look)->name);
        says((*look)->help);
    }
    for (const struct dia_look *const *look = dia_looks; *look; look++) {
        assert_int_equal(run("$D looks %s", (*look)->name), 0);
        for (int i = 0; i < (*look)->param_count; i++)
            says((*look)->params[i].help);
    }
    assert_int_equal(run("$D looks hue-sweep"), 0);
    says("-10000 mm/s to 10000 mm/s; default 200 mm/s");
    assert_int_equal(run("$D looks reveal"), 0);
    says("start end middle sides; default start");
    assert_int_equal(run("$D looks --json drift"), 0);
    cJSON *root = cJSON_Parse(output);
    assert_int_equal(cJSON_GetArraySize(root), 1);
    cJSON_Delete(root);
}

/* Steady #ff0000 at 60 %, which the supply bears: 153 of 255 in red on every pixel; frames 100 ms
 * apart. */
static void render_writes_what_the_bench_saw(void **state)
{
    (void)state;
    assert_int_equal(run("$D render " QUAY " --look steady --set colour=#ff0000 --frames 2 "
                         "--rate 10Hz --from 1s --out test.csv"),
                     0);
    char *table = read_file("test.csv", NULL);
    char *line = strtok(table, "\r\n");
    assert_string_equal(line, "frame,time_us,surface,index,r,g,b,w,level,code");
    int sum = 0;
    for (int row = 0; row < 240; row++) {
        int frame, index, r, g, b;
        long time_us;
        line = strtok(NULL, "\r\n");
        assert_int_equal(
            sscanf(line, "%d,%ld,handrail,%d,%d,%d,%d,", &frame, &time_us, &index, &r, &g, &b), 6);
        assert_int_equal(frame, row / 120);
        assert_int_equal(time_us, 1000000 + frame * 100000);
        assert_int_equal(index, row % 120);
        assert_int_equal(g | b, 0);
        sum += r;
    }
    assert_null(strtok(NULL, "\r\n"));
    assert_in_range(sum, 240 * 153 - 2, 240 * 153 + 2);
    free(table);
    remove("test.csv");
}

static void render_draws_a_picture(void **state)
{
    (void)state;
    size_t length;
    for (int frames = 1; frames <= 40; frames += 39) {
        assert_int_equal(
            run("$D render " QUAY " --look hue-sweep --frames %d --out test.png", frames), 0);
        char *png = read_file("test.png", &length);
        assert_memory_equal(png, "\x89PNG\r\n\x1a\n", 8);
        assert_true(length > 3000);
        assert_int_equal((unsigned char)png[18] << 8 | (unsigned char)png[19],
                         1280); /* IHDR width */
        free(png);
    }
    remove("test.png");
}

/* Every frame alone is the frame of the run. */
static void any_frame_can_be_sought(void **state)
{
    (void)state;
    assert_int_equal(run("$D render " QUAY " --look drift --frames 30 --out run.csv && "
                         "$D render " QUAY " --look drift --from 500ms --frames 1 --out one.csv && "
                         "grep '^25,' run.csv | cut -d, -f3- > a.txt && "
                         "grep '^0,' one.csv | cut -d, -f3- > b.txt && cmp a.txt b.txt && "
                         "test $(wc -l < a.txt) = 120; e=$?; "
                         "rm -f run.csv one.csv a.txt b.txt; exit $e"),
                     0);
}

/* What a user gets wrong: the exit code, what is said, and that no file is left. */
static const struct {
    const char *arguments;
    int code;
    const char *said;
} wrong_calls[] = {
    {"", 2, "usage: diachrome COMMAND"},
    {"rendr", 2, "unknown command 'rendr'; did you mean 'render'?"},
    {"check", 2, "diachrome check: no rig file"},
    {"check a b", 2, "one rig file at a time; 'b' is too many"},
    {"check --jsn " QUAY, 2, "unknown option '--jsn'; did you mean '--json'?"},
    {"looks strobe", 2, "unknown look 'strobe'; there are wipe, reveal, chase, pulse, bounce,"},
    {"render " QUAY " --out x.png", 2, "no look; write '--look NAME'"},
    {"render " QUAY " --look drfit --out x.png", 2, "did you mean 'drift'?"},
    {"render " QUAY " --look drift", 2, "no file to write; add '--out FILE.png'"},
    {"render " QUAY " --look drift --out x.jpg", 2,
     "must end in .png (a picture), .csv (a table), or .apng"},
    {"render " QUAY " --look drift --out x.png --frames 2 --for 1s", 2, "keep one"},
    {"render " QUAY " --look drift --out x.png --for 1", 2, "--for takes a time in s, ms, min"},
    {"render " QUAY " --look drift --out x.png --frames 0", 2, "--frames must be 1 to"},
    {"render " QUAY " --look drift --out x.png --set speed=1", 2, "'drift' has no 'speed'"},
    {"render " QUAY " --look drift --out x.png --set colours=#12345", 2, "six hex digits"},
    {"render " QUAY " --look hue-sweep --out x.png --set turns=0", 2, "'turns' must be 1 to 100"},
    {"render " QUAY " --look hue-sweep --out x.png --set turns", 2, "write KEY=VALUE"},
    {"render " QUAY " --look wipe --out x.png --set from=side", 2, "did you mean 'sides'?"},
    {"render " QUAY " --look wipe --out x.png --set from=7", 2,
     "'from' has no choice '7'; it has: start end middle sides"},
    {"render " QUAY " --look drift --out x.png --rate 300Hz", 1, "takes 3.67 ms on the wire"},
    {"render " QUAY " --look drift --out x.png --frames 5000", 2, "at most 4000 frames"},
    {"render " QUAY " --look drift --out no/such/x.png", 3, "No such file or directory"},
    {"render " QUAY " --look drift --out x.png --sheet 9", 2, "say which with --for"},
    {"render " QUAY " --look drift --out x.gif --sheet 9 --for 9s", 2, "its name ends in .png"},
    {"render " QUAY " --look drift --out x.png --view dsk", 2, "--view is 'desk' or 'parts'"},
    {"render " QUAY " --look drift --out x.png --width 100", 2, "--width must be 320 to 7680"},
    {"render " QUAY " --show no.show --out x.png", 2, "no.show: cannot be read"},
    {"render " QUAY " --layer 'a: drift' --key '1 up: stop b' --out x.png", 2,
     "no layer before this is called 'b'"},
    {"looks chase flame", 2, "one look at a time; 'flame' is too many"},
    {"render " QUAY " --look steady --layer 'chase on handrail from 1s from 2s' --out x.csv", 2,
     "'from' is here twice; keep one of them"},
    {"trace " QUAY " --look drift --out x.png", 2, "'x.png': the name must end in .vcd"},
    {"trace " QUAY " --look drift --out x.vcd --rate 300Hz", 1, "272 Hz at most"},
    {"trace " QUAY " --look drift --out no/such/x.vcd", 3, "No such file or directory"},
    {"preview " QUAY " --look drift </dev/null", 2, "needs a terminal"},
    {"check " QUAY " >/dev/full", 3, "standard output"},
};

static void wrong_calls_are_told_what_is_right(void **state)
{
    (void)state;
    for (size_t i = 0; i < sizeof wrong_calls / sizeof wrong_calls[0]; i++) {
        int code = run("$D %s", wrong_calls[i].arguments);
        if (code != wrong_calls[i].code)
            print_error("%s\nended with %d: %s", wrong_calls[i].arguments, code, output);
        assert_int_equal(code, wrong_calls[i].code);
        says(wrong_calls[i].said);
    }
    assert_int_equal(run("ls x.* 2>/dev/null | wc -l"), 0);
    assert_string_equal(output, "0\n");
}

static void every_command_has_help_and_a_man_page(void **state)
{
    (void)state;
    static const char *const commands[] = {"check",   "looks", "render", "trace",
                                           "preview", "plot",  "glyphs", "bringup"};
    assert_int_equal(run("$D --help"), 0);
    for (int i = 0; i < 5; i++)
        says(commands[i]);
    for (int i = 0; i < 5; i++) {
        char path[64];
        snprintf(path, sizeof path, "man/diachrome-%s.1", commands[i]);
        char *page = read_file(path, NULL);
        assert_int_equal(run("$D %s --help", commands[i]), 0);
        /* every long option of the help stands in the page */
        for (char *at = strstr(output, "--"); at; at = strstr(at + 2, "--")) {
            char option[32], dashed[40];
            if (sscanf(at + 2, "%30[a-z]", option) != 1 || strcmp(option, "usage") == 0)
                continue;
            snprintf(dashed, sizeof dashed, "\\-\\-%s", option);
            if (!strstr(page, dashed))
                print_error("%s does not have --%s\n", path, option);
            assert_non_null(strstr(page, dashed));
        }
        free(page);
    }
}

/* The program of the README is the example; tests/examples has it judged by the bench. */
static void the_readme_has_the_example(void **state)
{
    (void)state;
    char *readme = read_file("README.md", NULL),
         *source = read_file("examples/smallest_strip.c", NULL);
    char *body = strchr(source, '\n') + 1; /* without the licence line */
    assert_non_null(strstr(readme, body));
    free(readme);
    free(source);
    assert_int_equal(run("%s/example-smallest_strip", getenv("DIACHROME_EXAMPLES")), 0);
    assert_string_equal(output, "50 frames shown\n");
}

static void the_bench_example_shows_what_it_says(void **state)
{
    (void)state;
    assert_int_equal(run("%s/example-strip_on_bench", getenv("DIACHROME_EXAMPLES")), 0);
    /* 50 frames in 980 ms: at 200 mm/s the sweep of 1000 mm is 0.196 turns on, which is in the
     * sixth of the circle from blue to magenta: no green, blue full */
    int r, g, b;
    assert_int_equal(sscanf(output, "50 frames; pixel 0 is driven at %d %d %d of 255", &r, &g, &b),
                     3);
    assert_true(r > 0 && g == 0 && b == 255);
}

/* Red code 124 is light 13240 of 65535 (by the curve: 0.2020), 5 % of it 0.0101: a 31st of the
 * pixel's 7905 small steps is level 1, and 0.0101 * 7905 is 80 of 255. Blue 60 is 0.0452: 18. */
static void the_clocked_example_keeps_dim_colours_apart(void **state)
{
    (void)state;
    int red, blue, level;
    assert_int_equal(run("%s/example-clocked_wall", getenv("DIACHROME_EXAMPLES")), 0);
    assert_int_equal(
        sscanf(output, "the last pixel: red %d, blue %d of 255, at level %d", &red, &blue, &level),
        3);
    assert_int_equal(level, 1);
    assert_in_range(red, 79, 81);
    assert_in_range(blue, 17, 19);
}

/* No lane, and nothing that has a frame on a wire. */
static void a_rig_may_be_one_display(void **state)
{
    (void)state;
    static const char one[] =
        "rig: one\ncontroller: {name: b, clock: 48 MHz, ram: 2 KB, flash: 32 KB, logic_high: 5 V}\n"
        "supplies: {usb: {voltage: 5 V, current: 1 A}}\ndevices:\n"
        "  d: {chip: HD44780, columns: 16, rows: 2, pins: {scl: 1, sda: 2}, address: 0x27, "
        "supply: usb, text: hello}\n";
    write_file("one.rig.yaml", one, strlen(one));
    assert_int_equal(run("$D check one.rig.yaml"), 0);
    says("d: HD44780, 16 columns, 2 rows");
    assert_int_equal(run("$D render one.rig.yaml --look chase --frames 2 --out one.png"), 2);
    says("this rig has none: render one frame");
    assert_int_equal(run("$D preview one.rig.yaml --look chase --from 0s --frames 1"), 0);
    says("  hello\n");
    remove("one.rig.yaml");
}

/* A matrix or a panel by itself shows its first frame, not the one before, and is found sound. */
static void a_family_alone_shows_its_first_frame(void **state)
{
    (void)state;
    static const struct {
        const char *device, *shows;
    } alone[] = {
        {"chip: MAX7219, chips: 1, pins: {din: 1, clk: 2, cs: 3}, clock: 1 MHz, shows: dots, "
         "pitch: 7.6 mm",
         "\n  ########\n  ########\n"},
        {"chip: TM1638, pins: {stb: 1, clk: 2, dio: 3}, text: \"8\"", "\n   _\n  |_|\n  |_|"},
    };
    for (size_t k = 0; k < 2; k++) {
        char rig[600];
        int n = snprintf(rig, sizeof rig,
                         "rig: one\ncontroller: {name: b, clock: 48 MHz, ram: 8 KB, flash: 32 KB, "
                         "logic_high: 5 V}\nsupplies: {usb: {voltage: 5 V, current: 1 A}}\n"
                         "devices:\n  d: {%s, supply: usb}\n",
                         alone[k].device);
        write_file("alone.rig.yaml", rig, (size_t)n);
        assert_int_equal(run("$D preview alone.rig.yaml --look steady --from 0s --frames 1"), 0);
        says(alone[k].shows);
        assert_int_equal(run("$D bringup alone.rig.yaml --self-test"), 0);
    }
    remove("alone.rig.yaml");
}

/* Two devices by SPI and two by I2C: with the same pins for a bus as with pins of their own. */
static void devices_share_a_bus(void **state)
{
    (void)state;
    static const char rig[] =
        "rig: bus\ncontroller: {name: b, clock: 48 MHz, ram: 8 KB, flash: 32 KB, "
        "logic_high: 5 V}\nsupplies: {usb: {voltage: 5 V, current: 1 A}}\ndevices:\n"
        "  board: {chip: MAX7219, chips: 2, pins: {din: 1, clk: 2, cs: 3}, clock: 1 MHz, "
        "shows: dots, pitch: 7.6 mm, supply: usb}\n"
        "  buoys: {chip: 74HC595, chips: 3, pins: {ser: %d, srclk: %d, rclk: 4, oe: 5}, "
        "clock: 1 MHz, depth: 4, supply: usb}\n"
        "  keeper: {chip: HD44780, columns: 16, rows: 2, pins: {scl: 6, sda: 7}, address: 0x27, "
        "supply: usb, text: hello}\n"
        "  guest: {chip: HD44780, columns: 16, rows: 2, pins: {scl: %d, sda: %d}, "
        "address: 0x%x, supply: usb, text: world}\n";
    static char alone[1 << 16];
    char file[2000];
    for (int at = 0; at < 3; at++) {
        write_file("own.rig.yaml", file,
                   (size_t)snprintf(file, sizeof file, rig, 8, 9, 10, 11, 0x26));
        write_file("bus.rig.yaml", file,
                   (size_t)snprintf(file, sizeof file, rig, 1, 2, 6, 7, 0x26));
        assert_int_equal(run("$D preview own.rig.yaml --look rings --from %ds --frames 1", at), 0);
        assert_true(strlen(output) < sizeof alone);
        memcpy(alone, output, strlen(output) + 1);
        assert_non_null(strstr(alone, "world"));
        assert_int_equal(run("$D preview bus.rig.yaml --look rings --from %ds --frames 1", at), 0);
        assert_string_equal(output, alone);
    }
    assert_int_equal(run("$D check bus.rig.yaml"), 0);
    assert_int_equal(run("$D bringup bus.rig.yaml --self-test"), 0);
    assert_int_equal(run("$D trace bus.rig.yaml --look rings --frames 3 --out bus.vcd"), 0);
    write_file("bus.rig.yaml", file, (size_t)snprintf(file, sizeof file, rig, 1, 9, 6, 7, 0x26));
    assert_int_equal(run("$D check bus.rig.yaml"), 2);
    says("'buoys' shares one wire of a bus with 'board'");
    write_file("bus.rig.yaml", file, (size_t)snprintf(file, sizeof file, rig, 2, 1, 6, 7, 0x26));
    assert_int_equal(run("$D check bus.rig.yaml"), 2);
    says("pin 2 is already used by 'board'");
    write_file("bus.rig.yaml", file, (size_t)snprintf(file, sizeof file, rig, 1, 2, 6, 7, 0x27));
    assert_int_equal(run("$D check bus.rig.yaml"), 2);
    says("'guest' and 'keeper' have the address 0x27 on one bus");
    remove("own.rig.yaml");
    remove("bus.rig.yaml");
    remove("bus.vcd");
}

/* One moment of the whole quay as plain text: every device is there, as it lies. */
static void preview_prints_one_moment(void **state)
{
    (void)state;
    assert_int_equal(run("$D preview demo/quay.rig.yaml --look hue-sweep --from 4s --frames 1"), 0);
    says("Petrel Quay  hue-sweep at 4.00 s\n\n  handrail  144 x WS2812B\n");
    says("_| |_  |_|       | |_| | | |_    Wind SW 4, sea calm\n"); /* dEP 14.05 */
    assert_null(strchr(output, '\033'));
    for (char *line = strtok(output, "\n"); line; line = strtok(NULL, "\n")) {
        assert_true(strlen(line) <= 80);
        assert_true(line[strlen(line) - 1] != ' ');
    }
    assert_int_equal(run("$D preview demo/quay.rig.yaml --look hue-sweep --from 4 --frames 1"), 2);
    says("--from takes a time in s, ms, min");
}

/* A display at another address than the rig says takes nothing: a broken limit, not silence. */
static void a_device_that_does_not_answer_is_told(void **state)
{
    (void)state;
    const char *text =
        "rig: one display\n"
        "controller: {name: c, clock: 16 MHz, ram: 2 KB, flash: 32 KB, logic_high: 5 V}\n"
        "supplies: {s: {voltage: 5 V, current: 500 mA}}\n"
        "devices:\n"
        "  keeper: {chip: HD44780, columns: 16, rows: 2, supply: s, address: 0x27, "
        "pins: {scl: 19, sda: 18}, text: [hello, there]}\n";
    write_file("display.rig.yaml", text, strlen(text));
    assert_int_equal(run("$D check display.rig.yaml"), 0);
    assert_int_equal(run("echo 'faults: [\"keeper: address 0x3f\"]' >>display.rig.yaml; $D check "
                         "display.rig.yaml"),
                     1);
    says("keeper: it did not take what was sent");
    says("(scl 19, sda 18) and its address");
    remove("display.rig.yaml");
}

/* For supplies of 0.5 A to 3 A the table and the note tell one percentage. */
static void check_tells_one_percentage(void **state)
{
    (void)state;
    for (int ma = 500; ma < 3000; ma += 170) {
        char text[300];
        int table = -1, note = -2;
        int n = snprintf(text, sizeof text,
                         "controller: ATmega328P\nsupplies: { usb: { current: %d mA } }\n"
                         "lanes: { shelf: { pin: 17, chip: WS2812B, count: 48 } }\n",
                         ma);
        write_file("shelf.rig.yaml", text, (size_t)n);
        assert_in_range(run("$D check shelf.rig.yaml"), 0, 1);
        const char *white = strstr(output, "A, full white"), *light = strstr(output, "with ");
        if (strstr(output, "the limiter holds") == NULL)
            continue;
        assert_int_equal(sscanf(white, "A, full white %d", &table), 1);
        assert_int_equal(sscanf(light, "with %d", &note), 1);
        assert_int_equal(table, note);
    }
    remove("shelf.rig.yaml");
}

/* A rig with nodes: check looks at the part of each and sums up, 60 x 61 mA on each; parts lists
 * what each wants; pictures show all of them. */
static void a_rig_of_nodes_is_taken_as_a_whole(void **state)
{
    (void)state;
    char name[80], *all, *one, *line, *rest;
    assert_int_equal(run("$D check demo/pier.rig.yaml"), 0);
    assert_int_equal(strncmp(output, "Petrel Quay pier, 3 nodes: every limit is kept\n\n", 48), 0);
    says("west            post          3.660 A    6.000 A    535 Hz  every limit is kept\n");
    says("\nall about one of them: --node west\n");
    for (line = strtok(output, "\n"); line; line = strtok(NULL, "\n"))
        assert_true(strlen(line) <= 80);
    assert_int_equal(run("$D check demo/pier.rig.yaml --node west | grep '^post'"), 0);
    says("post               3.660 A      6.000 A");
    /* one that breaks a limit breaks it for all; a node with nothing but a button has no currents
     */
    write_file("pair.rig.yaml", pair, sizeof pair - 1);
    assert_int_equal(run("$D check pair.rig.yaml"), 1);
    says("pair, 2 nodes: 1 limit is broken\n");
    says("error     a: the controller's high is 3.3 V");
    says("here            usb           0.610 A    2.000 A");
    says("1 broken\n");
    says("gate            -                   -          -         -  every limit is kept\n");
    assert_int_equal(run("$D check pair.rig.yaml --json"), 1);
    cJSON *root = cJSON_Parse(output), *nodes = cJSON_GetObjectItem(root, "nodes");
    assert_int_equal(cJSON_GetArraySize(nodes), 2);
    assert_string_equal(cJSON_GetObjectItem(cJSON_GetArrayItem(nodes, 1), "rig")->valuestring,
                        "pair, gate");
    cJSON_Delete(root);
    assert_int_equal(run("for n in west middle east; do echo; echo $n; $D parts "
                         "demo/pier.rig.yaml --node $n; done | sed 1d >each.txt; "
                         "$D parts demo/pier.rig.yaml | diff each.txt -"),
                     0);
    assert_int_equal(run("$D parts demo/pier.rig.yaml --json"), 0);
    cJSON *listed = cJSON_Parse(output);
    const cJSON *last = cJSON_GetArrayItem(cJSON_GetObjectItem(listed, "nodes"), 2);
    assert_string_equal(cJSON_GetObjectItem(last, "node")->valuestring, "east");
    assert_true(cJSON_GetArraySize(cJSON_GetObjectItem(last, "parts")) > 0);
    cJSON_Delete(listed);
    /* the table of all has the lines of each */
    assert_int_equal(run("$D render demo/pier.rig.yaml --show demo/pier.show --from 4s --frames 2 "
                         "--out all.csv && for n in west middle east; do $D render "
                         "demo/pier.rig.yaml --node $n --show demo/pier.show --from 4s --frames 2 "
                         "--out $n.csv || exit 9; done; sort -u west.csv middle.csv east.csv | "
                         "tr -d '\\r' >parts.txt; sort -u all.csv | tr -d '\\r' >all.txt"),
                     0);
    all = rest = read_file("all.txt", NULL);
    one = read_file("parts.txt", NULL);
    assert_string_equal(all, one);
    assert_non_null(strstr(rest, "rail-east"));
    free(all);
    free(one);
    assert_int_equal(run("$D preview demo/pier.rig.yaml --look steady --from 0s --frames 1"), 0);
    for (int k = 0; k < 3; k++) {
        snprintf(name, sizeof name, "rail-%s  60 x WS2812B",
                 k == 0   ? "west"
                 : k == 1 ? "middle"
                          : "east");
        says(name);
    }
    assert_int_equal(
        run("$D plot demo/pier.rig.yaml --look steady --element 'rail-east[59]' --for 1s"), 0);
    /* what is about one controller wants to know which */
    assert_int_equal(run("$D check demo/pier.rig.yaml --looks"), 2);
    says("--looks is about one node; say which with --node, such as --node west");
    assert_int_equal(run("$D trace demo/pier.rig.yaml --look steady --out a.vcd"), 2);
    says("the rig is driven by 3 nodes; say which with --node, such as --node west");
}

/* Small rigs with all the findings of check: tests/rigs/check-findings.txt. */
static void check_finds_what_is_wrong(void **state)
{
    (void)state;
    char *list = read_file("rigs/check-findings.txt", NULL), text[2048], said[4096];
    int rigs = 0;
    for (const char *rest = list; next_case(&rest, 4, text, said); rigs++) {
        write_file("found.rig.yaml", text, strlen(text));
        int code = run("$D check found.rig.yaml");
        char *end = strstr(output, "\n\ncurrent "), *first = strchr(output, '\n');
        assert_non_null(end);
        end[1] = 0; /* the verdict, a line between, and the findings */
        if (first < end)
            memmove(first, first + 1, strlen(first));
        if (strcmp(output, said) != 0)
            fail_msg("expected %s\nfound    %s", said, output);
        assert_int_equal(code, strstr(said, "broken") != NULL);
    }
    assert_true(rigs > 30);
    free(list);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(a_rig_may_be_one_display),
        cmocka_unit_test(a_family_alone_shows_its_first_frame),
        cmocka_unit_test(devices_share_a_bus),
        cmocka_unit_test(preview_prints_one_moment),
        cmocka_unit_test(check_reports_a_rig),
        cmocka_unit_test(check_gives_programs_the_same_facts),
        cmocka_unit_test(each_limit_is_held),
        cmocka_unit_test(a_device_that_does_not_answer_is_told),
        cmocka_unit_test(memory_and_limiter_are_told_as_they_are),
        cmocka_unit_test(a_clock_too_slow_is_told_as_such),
        cmocka_unit_test(outputs_take_no_ones_place),
        cmocka_unit_test(looks_lists_what_there_is),
        cmocka_unit_test(render_writes_what_the_bench_saw),
        cmocka_unit_test(render_draws_a_picture),
        cmocka_unit_test(any_frame_can_be_sought),
        cmocka_unit_test(wrong_calls_are_told_what_is_right),
        cmocka_unit_test(every_command_has_help_and_a_man_page),
        cmocka_unit_test(the_readme_has_the_example),
        cmocka_unit_test(the_bench_example_shows_what_it_says),
        cmocka_unit_test(the_clocked_example_keeps_dim_colours_apart),
        cmocka_unit_test(check_finds_what_is_wrong),
        cmocka_unit_test(a_rig_of_nodes_is_taken_as_a_whole),
        cmocka_unit_test(check_tells_one_percentage),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
