/* SPDX-License-Identifier: MIT */
/* Captures of wires: our own, sampled, begun in the middle, with one pulse wrong, and damaged. */
#include <stdlib.h>
#include <string.h>

#include <diachrome/judge.h>

#include "../run.h"

#define COUNT 30

static struct dia_rig rig;
static struct dia_judge judge;
static struct dia_diagnostic wrong;

/* The three frames that strip.vcd has, as our player showed them; 4 is the one that is dark. */
static const char rig_text[] =
    "controller: { chip: ATmega328P }\nsupplies: { s: { current: 2 A } }\n"
    "lanes:\n  strip: { pin: 5, chip: WS2812B, count: 30 }\n"
    "  wall: { pin: 6, clock_pin: 7, clock: 2 MHz, chip: APA102, count: 30 }\n";

struct change {
    uint64_t t_ns;
    char text[16]; /* "1!" */
};
static struct change *changes;
static uint32_t change_count;
static uint8_t expected[8][2][COUNT][3], found[64][COUNT][3];
static struct dia_judge_frame frames[64];
static uint32_t frame_count;

static int keep_seen(void *self, struct dia_player *player, const struct dia_judge_frame *frame)
{
    (void)self;
    for (uint32_t i = 0; i < COUNT && frame_count < 64; i++) {
        struct dia_rgb rgb = dia_player_seen(player, frame->lane, i);
        memcpy(found[frame_count][i], &rgb, 3);
    }
    if (frame_count < 64)
        frames[frame_count++] = *frame;
    return 0;
}

static void sees(void *self, struct dia_player *player, const struct dia_judge_frame *frame)
{
    keep_seen(self, player, frame);
}

/* What the same look shows in a player of ours, and its trace, change by change. */
static int set_up(void **state)
{
    (void)state;
    write_file("wires.rig.yaml", rig_text, sizeof rig_text - 1);
    if (dia_rig_load(&rig, "wires.rig.yaml", &wrong) != DIA_OK)
        return -1;
    struct dia_player *player = dia_player_new(&rig, &wrong);
    union dia_look_values values;
    dia_look_hue_sweep.defaults(&values);
    for (uint32_t k = 0; k < 3; k++) {
        uint64_t us = dia_frame_us(0, rig.frame_rate_mhz, k);
        dia_player_show(player, &dia_look_hue_sweep, &values, (uint32_t)(us / 1000),
                        dia_frame_slot(us, rig.frame_rate_mhz), NULL);
        for (uint32_t lane = 0; lane < 2; lane++) {
            for (uint32_t i = 0; i < COUNT; i++) {
                struct dia_rgb rgb = dia_player_seen(player, lane, i);
                memcpy(expected[k][lane][i], &rgb, 3);
            }
        }
    }
    dia_player_free(player);
    if (run("$D trace wires.rig.yaml --look hue-sweep --frames 3 --out strip.vcd") != 0)
        return -1;
    char *text = read_file("strip.vcd", NULL), *rest = NULL;
    uint64_t now = 0;
    changes = calloc(100000, sizeof *changes);
    for (char *line = strtok_r(text, "\n", &rest); line; line = strtok_r(NULL, "\n", &rest)) {
        if (line[0] == '#')
            now = strtoull(line + 1, NULL, 10);
        else if ((line[0] == '0' || line[0] == '1') && change_count < 100000) {
            changes[change_count].t_ns = now;
            snprintf(changes[change_count++].text, sizeof changes[0].text, "%.15s", line);
        }
    }
    free(text);
    return 0;
}

static int tear_down(void **state)
{
    (void)state;
    free(changes);
    return 0;
}

/* The changes from `from_ns` on as another tool would have written them, at moments of its own. The
 * clock of the wall is !, its data and the strip are " and # in the order of the rig. */
static void write_capture(const char *path, uint64_t from_ns, double period_ns, const char *head)
{
    FILE *file = fopen(path, "w");
    uint64_t last = UINT64_MAX;
    assert_non_null(file);
    fputs(head, file);
    for (uint32_t k = 0; k < change_count; k++) {
        double sample = (double)changes[k].t_ns / period_ns;
        uint64_t t = (uint64_t)((double)(uint64_t)sample * period_ns); /* cut, as a sampler does */
        if (changes[k].t_ns < from_ns)
            continue;
        if (t != last)
            fprintf(file, "#%llu\n", (unsigned long long)t);
        last = t;
        fprintf(file, "%s\n", changes[k].text);
    }
    fclose(file);
}

static const char their_head[] =
    "$date today $end\n$timescale 1 ns $end\n$scope module top $end\n$var wire 1 ! D0 $end\n"
    "$var wire 1 \" D1 $end\n$var wire 1 # D2 $end\n$upscope $end\n$enddefinitions $end\n";

static enum dia_status judged(const char *path, const struct dia_judge_map *maps, uint32_t n)
{
    frame_count = 0;
    dia_judge_free(&judge);
    return dia_judge_capture(&judge, &rig, path, maps, n, 0, sees, NULL, &wrong);
}

/* Wires as the trace has them: the strip first, then clock and data of the wall. */
static const struct dia_judge_map maps[] = {
    {"D0", "strip"}, {"D1", "wall_clock"}, {"D2", "wall_data"}};

static void all_frames_are_seen(uint32_t first_missing)
{
    uint32_t of[2] = {first_missing, first_missing};
    for (uint32_t k = 0; k < frame_count; k++) {
        uint32_t lane = frames[k].lane;
        if (of[lane] < 3)
            assert_memory_equal(found[k], expected[of[lane]][lane], sizeof found[k]);
        of[lane]++;
    }
    assert_int_equal(of[0], 4); /* and dark at the end */
    assert_int_equal(of[1], 4);
}

static void our_own_trace_is_clean(void **state)
{
    (void)state;
    assert_int_equal(judged("strip.vcd", NULL, 0), DIA_OK);
    assert_int_equal(judge.findings.count, 0);
    assert_int_equal(judge.slack_ns, 0);
    all_frames_are_seen(0);
}

/* At 24 MHz edges are up to 41.7 ns early: the colours are the same, and there is no false alarm.
 */
static void sampled_at_24_mhz_it_is_the_same(void **state)
{
    (void)state;
    write_capture("sampled.vcd", 0, 1000.0 / 24, their_head);
    assert_int_equal(judged("sampled.vcd", maps, 3), DIA_OK);
    assert_int_equal(judge.sampled_khz, 24000);
    assert_int_equal(judge.slack_ns, 42);
    if (judge.findings.count)
        fail_msg("%s: %s", judge.findings.items[0].place, judge.findings.items[0].text);
    all_frames_are_seen(0);
}

/* From the middle of the first frames on: the second ones are the first that count. */
static void it_may_begin_in_the_middle(void **state)
{
    (void)state;
    uint64_t middle = 0;
    assert_int_equal(judged("strip.vcd", NULL, 0), DIA_OK);
    middle = frames[0].t_ns < frames[1].t_ns ? frames[0].t_ns : frames[1].t_ns;
    for (int part = 1; part < 12; part++) {
        write_capture("middle.vcd", middle - (uint64_t)part * 23457u, 1, their_head);
        assert_int_equal(judged("middle.vcd", maps, 3), DIA_OK);
        if (judge.findings.count)
            fail_msg("%d: %s: %s", part, judge.findings.items[0].place,
                     judge.findings.items[0].text);
        uint32_t strips = 0;
        for (uint32_t k = 0; k < frame_count; k++)
            strips += frames[k].lane == 0;
        assert_in_range(strips, 3, 4);
        for (uint32_t k = frame_count, n = 4; k-- > 0 && n > 1;) {
            if (frames[k].lane != 0)
                continue;
            n--;
            if (n < 3)
                assert_memory_equal(found[k], expected[n][0], sizeof found[k]);
        }
    }
}

/* The 17th pixel's third bit, 200 ns longer: 400 or 800 ns become 600 or 1000 ns, both out of
 * range. */
static void one_pulse_too_long_is_named(void **state)
{
    (void)state;
    uint32_t bit = 0, k = 0;
    for (; k < change_count; k++) { /* falls of the strip, '!' */
        if (changes[k].t_ns > 0 && strcmp(changes[k].text, "0!") == 0 && bit++ == 17 * 24 + 3)
            break;
    }
    changes[k].t_ns += 200;
    write_capture("long.vcd", 0, 1, their_head);
    changes[k].t_ns -= 200;
    assert_int_equal(judged("long.vcd", maps, 3), DIA_OK);
    const struct dia_finding *finding = dia_findings_find(&judge.findings, "pulse-high", "strip");
    assert_non_null(finding);
    assert_non_null(strstr(finding->text, "in bit 3 of pixel 17; it must be "));
    assert_int_equal(finding->t_ns, changes[k].t_ns + 200);
    assert_int_equal(
        run("$D judge long.vcd --rig wires.rig.yaml --wire D0=strip --wire D1=wall_clock "
            "--wire D2=wall_data | tr -s ' \\n' ' '"),
        0);
    says("long.vcd: 2 limits are broken"); /* the low behind it is too short, too */
    says("in bit 3 of pixel 17");
}

/* Ten times as coarse, finer than a ns, as bits of a vector, with x and z, and with comments. */
static void other_ways_to_write_it(void **state)
{
    (void)state;
    static const struct {
        const char *head, *body;
        uint32_t high_ns;
        uint64_t unknown;
    } ways[] = {
        {"$timescale 10ns $end\n$var wire 1 ab strip $end\n$enddefinitions $end\n",
         "$dumpvars\n0ab\n$end\n#100\n1ab\n#140\n0ab\n#90000\n", 400, 0},
        {"$timescale 100 ps $end\n$var reg 1 % strip $end\n$enddefinitions $end\n",
         "#0\n0%\n#10005\n1%\n$comment 5 ns late $end\n#14005\n0%\n#9000000\n", 400, 0},
        {"$timescale 1 ns $end\n$var wire 4 v bus [3:0] $end\n$enddefinitions $end\n",
         "#0\nb0000 v\n#1000\nb1000 v\n#1400\nb0 v\n#2000000\n", 400, 0},
        {"$timescale 1 ns $end\n$var wire 1 ! strip $end\n$enddefinitions $end\n",
         "#0\nx!\n#10\n0!\n#1000\n1!\n#1100\nz!\n#1400\n0!\n#2000000\n", 400, 2},
    };
    for (size_t i = 0; i < sizeof ways / sizeof ways[0]; i++) {
        char text[600];
        const struct dia_judge_map map = {"bus[3]", "strip"};
        int n = snprintf(text, sizeof text, "%s%s", ways[i].head, ways[i].body);
        write_file("way.vcd", text, (size_t)n);
        if (judged("way.vcd", &map, i == 2) != DIA_OK)
            fail_msg("%s", wrong.text);
        assert_int_equal(judge.wires[0].edges, 2);
        assert_int_equal(judge.wires[0].unknown, ways[i].unknown);
        assert_int_equal(dia_findings_find(&judge.findings, "unknown-level", "strip") != NULL,
                         ways[i].unknown != 0);
        assert_non_null(dia_findings_find(&judge.findings, "no-frame", "strip"));
        struct dia_capture *capture = dia_capture_open("way.vcd", &wrong);
        struct dia_capture_change change = {0};
        uint64_t rise = 0, fall = 0;
        while (dia_capture_next(capture, &change, &wrong) == DIA_OK) {
            if (change.value == DIA_CAPTURE_HIGH)
                rise = change.t_ns;
            else if (change.value == DIA_CAPTURE_LOW && rise && !fall && change.t_ns > rise)
                fall = change.t_ns;
        }
        assert_int_equal(fall - rise, ways[i].high_ns);
        dia_capture_close(capture);
    }
}

/* What is wrong with a file is told with its line. */
static void mistakes_have_a_line(void **state)
{
    (void)state;
    static const struct {
        const char *text, *said;
    } files[] = {
        {"", "no.vcd:1: the file ends before $enddefinitions"},
        {"PNG\n",
         "no.vcd:1: 'PNG' stands where a section such as $var begins; is this a VCD file?"},
        {"$timescale 3 ns $end\n",
         "no.vcd:1: $timescale is 1, 10 or 100 of s, ms, us, ns, ps, fs; found '3ns'"},
        {"$var wire 1 ! $end\n", "no.vcd:1: $var has 3 words"},
        {"$var wire 0 ! a $end\n", "no.vcd:1: the width of 'a' is '0'; it is 1 to 65536"},
        {"$date today\n", "no.vcd:2: a section of line 1 has no $end"},
        {"$var wire 1 ! strip $end\n$enddefinitions $end\n#5\n1!\n#4\n",
         "no.vcd:5: time goes back from #5 to #4"},
        {"$var wire 1 ! strip $end\n$enddefinitions $end\n#5\n2!\n",
         "no.vcd:4: '2!' is no change; write '1!' or 'b1010 !'"},
        {"$var wire 1 ! strip $end\n$enddefinitions $end\n#5x\n", "no.vcd:3: '#5x' is no time"},
        {"$var wire 1 ! strip $end\n$enddefinitions $end\n$scope\n",
         "no.vcd:3: '$scope' has no place among the changes"},
        {"$var wire 1 ! D0 $end\n$var wire 1 # D1 $end\n$enddefinitions $end\n",
         "no wire of the capture (D0, D1) has the name of one of the rig (strip, wall_clock, "
         "wall_data): say which "
         "is which, such as --wire \"D0=strip\""},
    };
    for (size_t i = 0; i < sizeof files / sizeof files[0]; i++) {
        write_file("no.vcd", files[i].text, strlen(files[i].text));
        assert_int_equal(run("$D judge no.vcd --rig wires.rig.yaml"), 2);
        says(files[i].said);
    }
    assert_int_equal(run("$D judge strip.vcd --rig wires.rig.yaml --wire D9=strip"), 2);
    says("the capture has no wire 'D9'; there is 'strip'");
    assert_int_equal(run("$D judge strip.vcd --rig wires.rig.yaml --wire strip=stripe"), 2);
    says("the rig has no wire 'stripe'; did you mean 'strip'");
    assert_int_equal(run("$D judge strip.vcd --rig wires.rig.yaml --wire strip"), 2);
    says("--wire takes a wire of the capture and one of the rig, such as D0=handrail; found "
         "'strip'");
    assert_int_equal(run("$D judge --rig wires.rig.yaml"), 2);
    says("no capture; write 'diachrome judge CAPTURE.vcd --rig RIG'");
    assert_int_equal(run("$D judge nowhere.vcd --rig wires.rig.yaml"), 2);
    says("nowhere.vcd: No such file or directory");
    remove("no.vcd");
}

/* 1,000 damaged files: judged, or an error with a line. */
static void damage_is_told(void **state)
{
    (void)state;
    size_t size = 0;
    char *whole = read_file("strip.vcd", &size), *copy = malloc(size);
    uint32_t seed = 11, refused = 0;
    size_t part = size / 8; /* the first frames */
    for (int i = 0; i < 1000; i++) {
        size_t n = part;
        memcpy(copy, whole, part);
        for (uint32_t k = 1 + random_below(&seed, 5); k > 0; k--)
            copy[random_below(&seed, (uint32_t)(i % 2 ? 300 : part))] =
                (char)random_below(&seed, 256);
        if (random_below(&seed, 4) == 0)
            n = random_below(&seed, (uint32_t)part);
        write_file("damaged.vcd", copy, n);
        enum dia_status status = judged("damaged.vcd", NULL, 0);
        if (status == DIA_OK)
            continue;
        refused++;
        assert_int_equal(status, DIA_BAD_VALUE);
        assert_true(strncmp(wrong.text, "damaged.vcd:", 12) == 0 ||
                    strncmp(wrong.text, "no wire of the capture", 22) == 0 ||
                    strstr(wrong.text, "no wires at all"));
    }
    assert_true(refused > 300);
    remove("damaged.vcd");
    free(whole);
    free(copy);
    dia_judge_free(&judge);
}

static void the_command_tells_what_is_seen(void **state)
{
    (void)state;
    assert_int_equal(run("$D judge strip.vcd --rig wires.rig.yaml"), 0);
    assert_int_equal(strncmp(output, "strip.vcd: all that was heard is as the sheets say\n", 51),
                     0);
    says("strip: 0-29 dark");
    says("wall_clock              wall_clock");
    for (char *line = strtok(output, "\n"); line; line = strtok(NULL, "\n"))
        assert_true(strlen(line) <= 80);
    assert_int_equal(run("$D judge strip.vcd --rig wires.rig.yaml --json | head -c 3000"), 0);
    says("\"sampled_hz\":\t0");
    assert_int_equal(
        run("$D judge strip.vcd --rig wires.rig.yaml --out seen.png >/dev/null; test -s "
            "seen.png"),
        0);
    assert_int_equal(run("$D judge strip.vcd --rig wires.rig.yaml --out seen.gif"), 2);
    says("'seen.gif': the name must end in .png");
    remove("seen.png");
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(our_own_trace_is_clean),
        cmocka_unit_test(sampled_at_24_mhz_it_is_the_same),
        cmocka_unit_test(it_may_begin_in_the_middle),
        cmocka_unit_test(one_pulse_too_long_is_named),
        cmocka_unit_test(other_ways_to_write_it),
        cmocka_unit_test(mistakes_have_a_line),
        cmocka_unit_test(damage_is_told),
        cmocka_unit_test(the_command_tells_what_is_seen),
    };
    return cmocka_run_group_tests(tests, set_up, tear_down);
}
