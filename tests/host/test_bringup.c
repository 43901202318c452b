/* SPDX-License-Identifier: MIT */
#include "../run.h"

#include <diachrome/bringup.h>

#define DEMO "demo/quay.rig.yaml"
#define COPY "bringup.rig.yaml"

static struct dia_rig rig, mended;
static struct dia_desk desk;
static struct dia_bringup found;
static struct dia_diagnostic wrong;

static int bench_answers(void *self, const struct dia_question *question)
{
    (void)self;
    assert_true(question->bench_says < question->count);
    return (int)question->bench_says;
}

#define FOLD "fold: { pitch: 13.9 mm, gap: 260 mm }"

/* A copy of the demo with its handrail in a line, which can be the wrong way round, and one thing
 * in it changed. */
static void copy_demo(const char *from, const char *to)
{
    char *demo = read_file(DEMO, NULL), text[16384];
    char *fold = strstr(demo, FOLD);
    assert_non_null(fold);
    memset(fold, ' ', strlen(FOLD));
    memcpy(fold, "line: { pitch: 16.7 mm }", strlen("line: { pitch: 16.7 mm }"));
    const char *at = from ? strstr(demo, from) : demo;
    assert_non_null(at);
    int n = snprintf(text, sizeof text, "%.*s%s%s", (int)(at - demo), demo, from ? to : "",
                     at + (from ? strlen(from) : 0));
    write_file(COPY, text, (size_t)n);
    free(demo);
}

static void look_for(const char *fault)
{
    char place[32];
    snprintf(place, sizeof place, "%.*s", (int)strcspn(fault, ":"), fault);
    assert_int_equal(dia_rig_load(&rig, COPY, &wrong), DIA_OK);
    dia_desk_init(&desk, &rig);
    desk.seed = 5;
    assert_int_equal(dia_desk_fault(&desk, fault, &wrong), DIA_OK);
    assert_int_equal(dia_bringup_run(&found, &rig, &desk, 0, place, bench_answers, NULL, &wrong),
                     DIA_OK);
}

/* Every element that is seen, of a rig on a desk. */
static size_t seen(const struct dia_rig *with, const struct dia_desk *on, uint32_t *out)
{
    struct dia_hue_sweep sweep;
    dia_hue_sweep_defaults(&sweep);
    struct dia_player *player = dia_player_on(with, on, &wrong);
    assert_non_null(player);
    assert_int_equal(dia_player_show(player, &dia_look_hue_sweep, &sweep, 700, 0, NULL), DIA_OK);
    assert_int_equal(dia_player_show(player, &dia_look_hue_sweep, &sweep, 700, 0, NULL), DIA_OK);
    size_t n = 0;
    for (uint32_t i = 0; i < on->rig.lane_count; i++) {
        for (uint32_t k = 0; k < on->rig.lanes[i].count; k++) {
            struct dia_rgb rgb = dia_player_seen(player, i, k);
            out[n++] = (uint32_t)rgb.r << 16 | (uint32_t)rgb.g << 8 | rgb.b;
            /* and where: the same colour at another place would be another picture */
            if (on->rig.lanes[i].layout.grid.columns) {
                struct dia_cell cell = dia_grid_cell(&on->rig.lanes[i].layout.grid, (uint16_t)k);
                out[n++] = (uint32_t)cell.column << 16 | cell.row;
            }
        }
    }
    for (uint32_t i = 0; i < on->rig.device_count; i++) {
        for (uint32_t k = 0; k < on->rig.devices[i].lamps; k++)
            out[n++] = dia_player_lamp(player, i, k) > 2000;
        const struct dia_cells_shown *cells = dia_player_cells(player, i);
        for (uint32_t k = 0; cells && k < (uint32_t)cells->columns * cells->rows; k++)
            out[n++] = cells->code[k / cells->columns][k % cells->columns];
    }
    dia_player_free(player);
    return n;
}

/* What is found, and whether a change of the rig file mends it (else the wiring must). */
static const struct {
    const char *fault, *said;
    int by_file;
} faults[] = {
    {"handrail: order RGB", "its bytes are in the order RGB, not GRB", 1},
    {"handrail: order BRG", "its bytes are in the order BRG, not GRB", 1},
    {"handrail: count 7", "it has 7 pixels, not 144", 1},
    {"handrail: count 143", "it has 143 pixels, not 144", 1},
    {"handrail: count 145", "it has 145 pixels, not 144", 1},
    {"handrail: count 150", "it has 150 pixels, not 144", 1},
    {"handrail: dead 1", "pixel 1 is dead", 0},
    {"handrail: dead 77", "pixel 77 is dead", 0},
    {"handrail: wrong-end", "no data comes in at its first pixel", 0},
    {"handrail: reversed", "it runs the other way", 1},
    {"handrail: noise 0.05 %", "its line is disturbed", 0},
    {"lantern: chip SK6812", "its pixels are SK6812, without white", 1},
    {"lantern: order BWRG", "its bytes are in the order BWRG, not GRBW", 1},
    {"lantern: reversed", "it runs the other way", 1},
    {"waves: order RGB", "its bytes are in the order RGB, not BGR", 1},
    {"waves: corner top-right", "the chain takes another way through its grid", 1},
    {"waves: runs columns", "the chain takes another way through its grid", 1},
    {"waves: serpentine no", "the chain takes another way through its grid", 1},
    {"waves: dead 127", "pixel 127 is dead", 0},
    {"waves: noise 0.1 %", "its line is disturbed", 0},
    {"pier: sag 0.4 ohm", "the voltage sags", 1},
    {"board: turned 90", "its modules are mounted at 90 degrees", 1},
    {"board: turned 270", "its modules are mounted at 270 degrees", 1},
    {"board: mirrored", "its modules are mounted at 0 degrees, mirrored", 1},
    {"board: reversed", "the first at the right", 1},
    {"board: noise 0.5 %", "its line is disturbed", 0},
    {"buoys: stuck 2C high", "output QC of chip 2 is stuck high (lamp 11)", 0},
    {"buoys: stuck 3H low", "output QH of chip 3 is stuck low (lamp 24)", 0},
    {"buoys: deaf 1", "chip 1 does not follow the latch", 0},
    {"buoys: deaf 3", "chip 3 does not follow the latch", 0},
    {"buoys: swapped 1 3", "its chips are connected in a different order", 1},
    {"buoys: swapped 2 3", "its chips are connected in a different order", 1},
    {"buoys: noise 0.5 %", "its line is disturbed", 0},
    {"tide: reversed", "its digits count from the other end", 1},
    {"tide: crossed a d", "segments a and d are crossed", 1},
    {"tide: crossed f g", "segments f and g are crossed", 1},
    {"tide: polarity", "it has common anodes, not cathodes", 1},
    {"operator: reversed", "its digits count from the other end", 1},
    {"operator: noise 0.5 %", "its line is disturbed", 0},
    {"keeper: oscillator 100 kHz", "its oscillator is slower", 1},
    {"keeper: half-pair", "the controller was reset while the display was on", 0},
    {"keeper: contrast 1.6 V", "its contrast pin is too high", 0},
    {"keeper: contrast 0.1 V", "its contrast pin is too low", 0},
    {"keeper: contrast 0 V", "its contrast pin is too low", 0},
    {"keeper: noise 0.5 %", "its line is disturbed", 0},
};

static const struct dia_cause *the_cause(const char *fault, const char *said)
{
    for (uint32_t i = 0; i < found.count; i++) {
        if (strstr(found.causes[i].what, said))
            return &found.causes[i];
    }
    print_error("%s: not found: %s; found %u, first: %s\n", fault, said, found.count,
                found.count ? found.causes[0].what : "-");
    fail();
    return &found.causes[0];
}

static void mends(const char *fault)
{
    static uint32_t is[8192], should[8192];
    struct dia_desk right;
    assert_int_equal(dia_rig_load(&mended, COPY, &wrong), DIA_OK);
    dia_desk_init(&right, &mended);
    memcpy(right.sag_mohm, desk.sag_mohm, sizeof right.sag_mohm);
    size_t n = seen(&mended, &desk, is);
    assert_int_equal(seen(&mended, &right, should), n);
    if (memcmp(is, should, n * sizeof is[0]) != 0)
        print_error("%s: not mended\n", fault);
    assert_memory_equal(is, should, n * sizeof is[0]);
}

static void every_fault_is_found_and_mended(void **state)
{
    (void)state;
    for (size_t i = 0; i < sizeof faults / sizeof faults[0]; i++) {
        copy_demo(NULL, NULL);
        look_for(faults[i].fault);
        const struct dia_cause *cause = the_cause(faults[i].fault, faults[i].said);
        assert_int_equal(found.count, 1);
        assert_in_range(cause->questions, 1, 12);
        assert_true(cause->evidence[0] != 0);
        assert_int_equal(cause->edit_count != 0, faults[i].by_file);
        assert_true(faults[i].by_file || cause->wiring[0]);
        if (!cause->edit_count)
            continue;
        assert_int_equal(dia_rig_edit(COPY, cause->edits, cause->edit_count, &wrong), DIA_OK);
        mends(faults[i].fault);
    }
}

/* The same on other wirings: an expander, eight lines of which four are there, modules of digits.
 */
static void faults_of_other_wirings_are_found(void **state)
{
    (void)state;
    static const struct {
        const char *fault, *said;
    } others[] = {
        {"wide: four-lines", "it is wired for four lines"},
        {"notes: oscillator 100 kHz", "its oscillator is slower"},
        {"notes: contrast 2 V", "its contrast pin is too high"},
        {"eight: reversed", "its digits count from the other end"},
        {"clock: polarity", "it has common cathodes, not anodes"},
        {"clock: crossed a g", "segments a and g are crossed"},
        {"four: reversed", "its digits count from the other end"},
        {"dots: turned 180", "its modules are mounted at 270 degrees, mirrored, the first at the"},
        {"row: stuck 1C high", "output QC of chip 1 is stuck high (lamp 8)"},
    };
    char *all = read_file("rigs/all.rig.yaml", NULL);
    for (size_t i = 0; i < sizeof others / sizeof others[0]; i++) {
        write_file(COPY, all, strlen(all));
        look_for(others[i].fault);
        const struct dia_cause *cause = the_cause(others[i].fault, others[i].said);
        assert_in_range(cause->questions, 1, 12);
        if (!cause->edit_count)
            continue;
        assert_int_equal(dia_rig_edit(COPY, cause->edits, cause->edit_count, &wrong), DIA_OK);
        mends(others[i].fault);
    }
    free(all);
}

/* Digits in turns on registers: the file is mended, where it can be, and shows what it should. */
static void faults_of_digits_in_turns_are_found(void **state)
{
    (void)state;
    static const char rig_text[] =
        "controller: RP2040\nsupplies: { usb: { current: 1 A } }\ndevices:\n"
        "  depth: { chip: 74HCT595, chips: 2, digits: 3, pins: { ser: 1, srclk: 2, rclk: 3 },\n"
        "    common: anode, common_outputs: [2A, 2C, 2E], wiring: [1H, 1G, 1F, 1E, 1D, 1C, 1B, "
        "none] }\n";
    static const struct {
        const char *fault, *said;
    } others[] = {
        {"depth: reversed", "its digits count from the other end"},
        {"depth: polarity", "it has common cathodes, not anodes"},
        {"depth: crossed b f", "segments b and f are crossed"},
        {"depth: swapped 1 2", "its two chips are in each other's place"},
        {"depth: stuck 2C low", "the common of digit 2 does not go on"},
        {"depth: stuck 1F high", "segment c does not light on any digit"},
        {"depth: deaf 1", "segments or commons hang on other outputs than the rig says"},
    };
    for (size_t i = 0; i < sizeof others / sizeof others[0]; i++) {
        write_file(COPY, rig_text, sizeof rig_text - 1);
        look_for(others[i].fault);
        const struct dia_cause *cause = the_cause(others[i].fault, others[i].said);
        assert_int_equal(found.count, 1);
        assert_in_range(cause->questions, 1, 12);
        assert_true(cause->edit_count || cause->wiring[0]);
        if (!cause->edit_count)
            continue;
        assert_int_equal(dia_rig_edit(COPY, cause->edits, cause->edit_count, &wrong), DIA_OK);
        mends(others[i].fault);
    }
}

/* Right answers up to a question, and then none; or any answers at all, from a seed. */
static int answers_left;
static uint32_t answers_seed;

static int answers_for_a_while(void *self, const struct dia_question *question)
{
    (void)self;
    assert_true(question->count >= 2 && question->bench_says < question->count);
    return answers_left-- > 0 ? (int)question->bench_says : -1;
}

static int answers_anything(void *self, const struct dia_question *question)
{
    (void)self;
    assert_true(answers_left-- > 0); /* it comes to an end */
    return (int)random_below(&answers_seed, question->count);
}

/* Whoever stops at a question gets no cause but the right one, if that was known by then. */
static void one_may_stop_at_any_question(void **state)
{
    (void)state;
    for (size_t i = 0; i < sizeof faults / sizeof faults[0]; i++) {
        copy_demo(NULL, NULL);
        look_for(faults[i].fault);
        uint32_t all = found.questions;
        char place[32];
        snprintf(place, sizeof place, "%.*s", (int)strcspn(faults[i].fault, ":"), faults[i].fault);
        for (uint32_t k = 0; k < all; k++) {
            answers_left = (int)k;
            assert_int_equal(
                dia_bringup_run(&found, &rig, &desk, 0, place, answers_for_a_while, NULL, &wrong),
                DIA_OK);
            if (!found.stopped || found.questions > k + 1)
                fail_msg("%s: it does not stop at question %u", faults[i].fault, (unsigned)k);
            if (found.count != 0) /* it was sure before */
                assert_string_equal(found.causes[0].what,
                                    the_cause(faults[i].fault, faults[i].said)->what);
        }
        for (answers_seed = 0; answers_seed < 4; answers_seed++) {
            answers_left = 60;
            assert_int_equal(
                dia_bringup_run(&found, &rig, &desk, 0, place, answers_anything, NULL, &wrong),
                DIA_OK);
        }
    }
}

/* With the sag mended, white is white: what was only seen to be the same above. */
static void less_current_keeps_white_white(void **state)
{
    (void)state;
    struct dia_steady steady = {{255, 255, 255}};
    for (int after = 0; after < 2; after++) {
        copy_demo("master: 60 %", "master: 100 %");
        look_for("pier: sag 0.4 ohm");
        if (after)
            assert_int_equal(dia_rig_edit(COPY, found.causes[0].edits, 1, &wrong), DIA_OK);
        assert_int_equal(dia_rig_load(&mended, COPY, &wrong), DIA_OK);
        struct dia_player *player = dia_player_on(&mended, &desk, &wrong);
        assert_int_equal(dia_player_show(player, &dia_look_steady, &steady, 0, 0, NULL), DIA_OK);
        const struct dia_shown *shown = dia_player_shown(player, 0);
        assert_int_equal(100 * shown->lit[0][2] >= 85 * shown->drive[0][2], after);
        dia_player_free(player);
    }
}

/* 3.3 V into an input that takes 3.5 V: 1 % of the bits go wrong, until a shifter is there. */
static void a_missing_level_shifter_is_told_from_noise(void **state)
{
    (void)state;
    copy_demo("logic_high: 5 V", "logic_high: 3.3 V");
    look_for("handrail: weak 1 %");
    const struct dia_cause *cause =
        the_cause("weak", "its input takes 3.5 V for high, and gets 3.3 V");
    assert_non_null(strstr(cause->wiring, "level shifter"));
    assert_int_equal(dia_rig_edit(COPY, cause->edits, cause->edit_count, &wrong), DIA_OK);
    mends("weak");
    char *text = read_file(COPY, NULL);
    assert_non_null(strstr(text, "    shifter: 5 V\n    pin: 3\n"));
    free(text);
}

/* Only the lines that must change do; comments and everything else stay byte for byte. */
static void a_written_file_keeps_its_comments_and_layout(void **state)
{
    (void)state;
    copy_demo(NULL, NULL);
    static const struct dia_rig_edit edits[] = {
        {"lanes", "handrail", "", "order", "RGB"},
        {"lanes", "waves", "grid", "serpentine", "no"},
        {"lanes", "waves", "grid", "runs", "columns"},
        {"devices", "tide", "pins", "b", "25"},
        {"devices", "tide", "pins", "f", "21"},
        {"devices", "board", "", "turn", "90"},
    };
    char *before = read_file(COPY, NULL);
    assert_int_equal(dia_rig_edit(COPY, edits, 6, &wrong), DIA_OK);
    char *after = read_file(COPY, NULL);
    assert_non_null(strstr(after, "handrail:                  # along the pier"));
    assert_non_null(strstr(after, "    order: RGB\n"));
    assert_non_null(strstr(after, "grid: { runs: columns, columns: 16, rows: 8"));
    assert_non_null(strstr(after, "corner: bottom-left, serpentine: no }"));
    assert_non_null(strstr(after, "b: 25, c: 22, d: 23, e: 24, f: 21,"));
    assert_non_null(strstr(after, "  board:                     # departures: six modules of 8 x 8 "
                                  "dots\n    turn: 90\n    chip: MAX7219\n"));
    /* two keys came in: a line of 13 bytes and 15 in brackets; GRB to RGB, yes to no */
    assert_int_equal(strlen(after), strlen(before) + 13 + 15 - 1);
    free(before);

    /* a change that makes no rig leaves the file as it is */
    static const struct dia_rig_edit bad = {"lanes", "handrail", "", "count", "many"};
    static const struct dia_rig_edit nowhere[] = {{"lanes", "rail", "", "count", "7"},
                                                  {"pixels", "handrail", "", "count", "7"},
                                                  {"lanes", "handrail", "grid", "runs", "rows"},
                                                  {"lanes", "waves", "chip", "runs", "rows"},
                                                  {"devices", "keeper", "", "text", "[ A ]"}};
    assert_int_equal(dia_rig_edit(COPY, &bad, 1, &wrong), DIA_BAD_VALUE);
    for (size_t k = 0; k < sizeof nowhere / sizeof nowhere[0]; k++)
        assert_int_equal(dia_rig_edit(COPY, &nowhere[k], 1, &wrong), DIA_BAD_VALUE);
    assert_non_null(strstr(wrong.text, "'text' of 'keeper' is written over several lines"));
    assert_int_equal(dia_rig_edit("none.rig.yaml", nowhere, 1, &wrong), DIA_BAD_VALUE);
    char far[5000];
    memset(far, 'f', sizeof far);
    far[4990] = '/';
    far[4999] = 0;
    assert_int_equal(dia_rig_edit(far, nowhere, 1, &wrong), DIA_PORT_FAILED);
    char *still = read_file(COPY, NULL);
    assert_string_equal(still, after);
    free(still);
    free(after);

    /* columns are characters, of which some have two bytes */
    static const char one[] =
        "supplies: { a: { current: 1 A } }\ncontroller: ATmega328P\n"
        "devices: { d: { chip: HD44780, text: \"5 \302\260C\", address: 0x27, "
        "pins: { scl: 8, sda: 9 } } }\n";
    static const struct dia_rig_edit address = {"devices", "d", "", "address", "0x3f"};
    write_file("degree.rig.yaml", one, sizeof one - 1);
    assert_int_equal(dia_rig_edit("degree.rig.yaml", &address, 1, &wrong), DIA_OK);
    after = read_file("degree.rig.yaml", NULL);
    assert_non_null(strstr(after, "text: \"5 \302\260C\", address: 0x3f, pins:"));
    free(after);
}

static int random_answers(void *self, const struct dia_question *question)
{
    return random_below(self, 40) ? (int)random_below(self, question->count) : -1;
}

/* Whatever a person says, it comes to an end, and what it would write is a rig. */
static void any_answers_lead_to_an_end(void **state)
{
    (void)state;
    uint32_t seed = 21;
    for (int k = 0; k < 25; k++) {
        copy_demo(NULL, NULL);
        assert_int_equal(dia_rig_load(&rig, COPY, &wrong), DIA_OK);
        dia_desk_init(&desk, &rig);
        assert_int_equal(
            dia_bringup_run(&found, &rig, &desk, 0, NULL, random_answers, &seed, &wrong), DIA_OK);
        assert_in_range(found.questions, 1, 200);
        for (uint32_t i = 0; i < found.count; i++) {
            if (found.causes[i].edit_count &&
                dia_rig_edit(COPY, found.causes[i].edits, found.causes[i].edit_count, &wrong) !=
                    DIA_OK)
                fail_msg("%s", wrong.text);
        }
    }
}

/* What a bench never shows of lamps on pins: one that is dead, the last too, and one that nothing
 * switches. */
static void lamps_on_pins_may_fail_alone(void **state)
{
    (void)state;
    static const char text[] = "controller: ATmega328P\n"
                               "supplies: { usb: { voltage: 5 V, current: 500 mA } }\ndevices:\n"
                               "  hut: { chip: lamps, pins: { lamp1: 9, lamp2: 10, lamp3: 11 } }\n";
    write_file("lamps.rig.yaml", text, sizeof text - 1);
    assert_int_equal(run("printf '1\n1\n2\n4\n' | $D bringup lamps.rig.yaml"), 1);
    says("hut: lamp 3 does not light");
    says("look at its wire from pin 11");
    assert_int_equal(run("printf '2\n' | $D bringup lamps.rig.yaml"), 1);
    says("hut: some lamps are lit that are sent off");
}

/* The command, with answers from a pipe. */
static void answers_come_from_a_pipe(void **state)
{
    (void)state;
    copy_demo(NULL, NULL);
    assert_int_equal(run("printf 'green\\n# a note\\nred\\nyes\\n1\\nthe l\\n' | $D bringup " COPY
                         " --only handrail"),
                     1);
    says("All of 'handrail' is sent red. What does it show?");
    says("handrail: its bytes are in the order RGB, not GRB");
    says("rig file  lanes.handrail.order: RGB");
    assert_int_equal(run("printf 'green\\nred\\nyes\\nyes\\n1\\n' | $D bringup " COPY
                         " --only handrail --write"),
                     0);
    char *text = read_file(COPY, NULL);
    assert_non_null(strstr(text, "    order: RGB\n"));
    free(text);
    /* answers that cannot both be true change nothing */
    assert_int_equal(
        run("printf '1\\n1\\n1\\n2\\n2\\n' | $D bringup " COPY " --only buoys --write"), 1);
    says("two groups of lamps came up in one place");
    says("0 changes written");
    assert_int_equal(run("echo mauve | $D bringup " COPY " --only handrail"), 2);
    says("line 1 of the answers: 'mauve' is no answer to");
    assert_int_equal(run("$D bringup " COPY " --only handrail </dev/null"), 2);
    assert_int_equal(run("$D bringup " COPY " --only rail --self-test"), 2);
    says("there is no lane, device or supply 'rail'");
    assert_int_equal(run("$D bringup " DEMO " --self-test"), 0);
    says("all is as the rig says after");
    assert_int_equal(run("$D bringup " DEMO " --self-test --json --fault 'buoys: deaf 2'"), 1);
    says("\"cause\":\t\"chip 2 does not follow the latch\"");
}

static const struct {
    const char *fault, *said;
} no_faults[] = {
    {"handrail", "a fault is written as 'TARGET: WHAT'"},
    {"rail: dead 3", "there is no lane, device or supply 'rail'"},
    {"handrail: ded 3", "unknown fault 'ded'; did you mean 'dead'?"},
    {"handrail:", "fault 'handrail:' does not say what is wrong"},
    {"handrail: dead", "takes a number 1 to 143; found 'nothing'"},
    {"handrail: dead 144", "takes a number 1 to 143; found '144'"},
    {"handrail: order RGX", "takes the letters R G B, each once"},
    {"handrail: chip APA102", "there is no such chip 'APA102' in place of WS2812B"},
    {"handrail: corner top-left", "'handrail' is no grid"},
    {"waves: reversed", "'waves' is a grid; say 'corner top-right'"},
    {"waves: corner up", "takes top-left, top-right, bottom-left or bottom-right; found 'up'"},
    {"waves: runs", "takes rows or columns; found 'nothing'"},
    {"waves: serpentine 1", "takes yes or no; found '1'"},
    {"waves: count 5", "fault 'count' is for a line or ring without gaps; 'waves' is none"},
    {"handrail: reversed", "'handrail' is no line or ring"},
    {"handrail: dead x", "takes a number 1 to 143; found 'x'"},
    {"handrail: order", "takes the order of the bytes, such as RGB"},
    {"handrail: chip", "takes the chip that is there, such as SK6812"},
    {"handrail: noise", "such as 30 %; found 'nothing'"},
    {"handrail: noise 1", "such as 30 %; found '1'"},
    {"pier: sag", "takes the resistance of the wires"},
    {"pier: sag 0 ohm", "takes the resistance of the wires"},
    {"pier: sag 1 volt", "takes the resistance of the wires"},
    {"handrail: stuck 1A high",
     "'handrail' cannot have the fault 'stuck', which is for a shift-register chain"},
    {"handrail: weak 80 %", "must be 0.0001 % to 50 %"},
    {"pier: sag 3", "takes the resistance of the wires, 0.01 ohm to 100 ohm"},
    {"buoys: stuck 4A high", "takes an output and a level, such as 2C high"},
    {"buoys: swapped 1 4", "takes a number 1 to 3; found '4'"},
    {"buoys: stuck", "takes an output and a level, such as 2C high"},
    {"buoys: stuck 1A on", "takes an output and a level, such as 2C high"},
    {"buoys: deaf 4", "takes a number 1 to 3; found '4'"},
    {"buoys: swapped 1", "takes a number 1 to 3; found 'nothing'"},
    {"buoys: swapped 2 2", "takes two chips, such as 1 2"},
    {"board: turned 45", "takes 90, 180 or 270; found '45'"},
    {"board: turned 100", "takes 90, 180 or 270; found '100'"},
    {"tide: crossed a z", "takes two segments, such as b f"},
    {"tide: crossed b", "takes two segments, such as b f"},
    {"keeper: oscillator 1 kHz", "must be 40 kHz to 500 kHz; found '1 kHz'"},
    {"keeper: address 0x27", "'keeper' has no expander with an address"},
    {"keeper: contrast 9 V", "must be 0 V to 5 V; found '9 V'"},
    {"keeper: reversed", "has no digits or modules to be reversed"},
    {"board: polarity", "fault 'polarity' is for a shift-register chain or digits from pins or "
                        "lamps on pins; 'board' is none"},
    {"buoys: polarity", "'buoys' has no digits with a common"},
    {"buoys: reversed", "'buoys' has no digits or modules to be reversed"},
    {"buoys: crossed b f", "'buoys: crossed' is for digits in turns, and takes two segments"},
    {"keeper: four-lines", "has no d0 to d3 that could be missing"},
};

static void faults_that_make_no_sense_are_refused(void **state)
{
    (void)state;
    for (size_t i = 0; i < sizeof no_faults / sizeof no_faults[0]; i++) {
        assert_int_equal(dia_rig_load(&rig, DEMO, &wrong), DIA_OK);
        dia_desk_init(&desk, &rig);
        assert_int_equal(dia_desk_fault(&desk, no_faults[i].fault, &wrong), DIA_BAD_VALUE);
        if (!strstr(wrong.text, no_faults[i].said))
            print_error("expected %s\nfound    %s\n", no_faults[i].said, wrong.text);
        assert_non_null(strstr(wrong.text, no_faults[i].said));
    }
}

static int remove_copy(void **state)
{
    (void)state;
    remove(COPY);
    return 0;
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(every_fault_is_found_and_mended),
        cmocka_unit_test(one_may_stop_at_any_question),
        cmocka_unit_test(faults_of_other_wirings_are_found),
        cmocka_unit_test(faults_of_digits_in_turns_are_found),
        cmocka_unit_test(less_current_keeps_white_white),
        cmocka_unit_test(a_missing_level_shifter_is_told_from_noise),
        cmocka_unit_test(a_written_file_keeps_its_comments_and_layout),
        cmocka_unit_test(any_answers_lead_to_an_end),
        cmocka_unit_test(lamps_on_pins_may_fail_alone),
        cmocka_unit_test(answers_come_from_a_pipe),
        cmocka_unit_test(faults_that_make_no_sense_are_refused),
    };
    return cmocka_run_group_tests(tests, NULL, remove_copy);
}
