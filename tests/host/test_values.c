/* SPDX-License-Identifier: MIT */
#include "../run.h"

#include <diachrome/show.h>

static struct dia_rig rig;
static struct dia_show show;
static struct dia_diagnostic wrong;
static struct dia_rig_layer now[DIA_RIG_LAYERS];

static void begin(const char *const *lines)
{
    dia_show_free(&show);
    dia_show_init(&show);
    for (; *lines; lines++) {
        if (dia_show_line(&show, &rig, *lines, &wrong) != DIA_OK)
            fail_msg("%s: %s", *lines, wrong.text);
    }
    assert_int_equal(dia_show_check(&show, &wrong), DIA_OK);
}

/* What the first layer says at a time. */
static const char *said(uint32_t ms)
{
    assert_int_equal(dia_show_at(&show, ms, now), DIA_OK);
    return now[0].says;
}

#define LINES(...) begin((const char *const[]){__VA_ARGS__, NULL})

static int set_up(void **state)
{
    (void)state;
    return dia_rig_load(&rig, "demo/quay.rig.yaml", &wrong) == DIA_OK ? 0 : -1;
}

/* A counter and a clock are exact over a day: no second comes early, late or twice. */
static void counters_and_clocks_are_exact_for_a_day(void **state)
{
    (void)state;
    LINES("value c counter rate=1/s", "value m counter start=5 rate=-1/min",
          "value t clock at=23:59", "value ms time decimals=3",
          "layer text says=\"{c} {m} {t:hms} {ms}\"");
    for (uint32_t s = 0; s < 86400; s += s < 200 ? 1 : 97) {
        for (int edge = 0; edge < 2; edge++) {
            char expected[80];
            uint32_t ms = s * 1000 + (edge ? 999 : 0), day = (s + 86340) % 86400;
            int minute = 5 - (int)((ms + 59999) / 60000); /* below 0 it rounds down too */
            snprintf(expected, sizeof expected, "%u %d %u:%02u:%02u %u.%03u", s, minute, day / 3600,
                     day / 60 % 60, day % 60, ms / 1000, ms % 1000);
            assert_string_equal(said(ms), expected);
        }
    }
    LINES("value t clock", "layer text says={t:hm}");
    show.clock_s = 3600; /* by the caller */
    assert_string_equal(said(60000), "1:01");
}

/* 1.2 at 0 s, 2.4 at 10 s, 0.6 at 20 s: in steps, and in straight lines. */
static void a_file_is_followed(void **state)
{
    (void)state;
    static const char csv[] = "time,name,value\r\n0,tide,1.2\r\n0,\"wind, sea\",4\r\n"
                              "\r\n10,\"tide\",2.40\n20,tide,0.6";
    write_file("tides.csv", csv, sizeof csv - 1);
    LINES("value tide csv file=tides.csv decimals=2", "layer text says={tide}");
    assert_string_equal(said(0), "1.20");
    assert_string_equal(said(9999), "1.20");
    assert_string_equal(said(10000), "2.40");
    assert_string_equal(said(99000), "0.60");
    LINES("value tide csv file=tides.csv steps=no decimals=2 min=1", "layer text says={tide}");
    assert_string_equal(said(5000), "1.80");
    assert_string_equal(said(15000), "1.50");
    assert_string_equal(said(20000), "1.00"); /* it stays within its range */
    static const struct {
        const char *text, *says;
    } damaged[] = {
        {"", "d.csv:1: the first line must be 'time,name,value'"},
        {"time,value\n", "d.csv:1: the first line must be 'time,name,value'"},
        {"time,name,value\n1,x,2\n", "d.csv: there is no row for 'tide'"},
        {"time,name,value\n1,tide\n", "d.csv:2: a row is time,name,value, as in '12.5,tide,2.37'"},
        {"time,name,value\n\n1,tide,2,3\n",
         "d.csv:3: a row is time,name,value, as in '12.5,tide,2.37'"},
        {"time,name,value\n-1,tide,2\n", "d.csv:2: the time is seconds, from 0 on; found '-1'"},
        {"time,name,value\n\"1\n\",x,0\n5,tide,two\n",
         "d.csv:4: the value is a number of at most 32 bits, such as 2.37; found 'two'"},
        {"time,name,value\n5,tide,1\n4,tide,1\n",
         "d.csv:3: the times of a value rise; 4 s comes behind a later one"},
    };
    dia_show_free(&show);
    for (size_t k = 0; k < sizeof damaged / sizeof damaged[0]; k++) {
        write_file("d.csv", damaged[k].text, strlen(damaged[k].text));
        dia_show_init(&show);
        assert_int_equal(dia_show_line(&show, &rig, "value tide csv file=d.csv", &wrong),
                         DIA_BAD_VALUE);
        assert_string_equal(wrong.text, damaged[k].says);
        assert_int_equal(show.value_count, 0);
    }
}

static void what_comes_in_shows_until_it_is_stale(void **state)
{
    (void)state;
    LINES("value depth input stale=5s before=\"wait\" gone=\"??\" decimals=1", "value other input",
          "layer text says=\"{depth:5}\"");
    assert_string_equal(said(0), " wait");
    assert_int_equal(dia_show_feed(&show, "depth 3.14", 1000, &wrong), DIA_OK);
    assert_int_equal(dia_show_feed(&show, "  depth\t-2.75 ", 3000, &wrong), DIA_OK);
    assert_int_equal(dia_show_feed(&show, "", 3000, &wrong), DIA_OK);
    assert_string_equal(said(500), " wait"); /* any moment, also one that is past */
    assert_string_equal(said(1000), "  3.1");
    assert_string_equal(said(3000), " -2.8"); /* halves away from 0 */
    assert_string_equal(said(8000), " -2.8");
    assert_string_equal(said(8001), "   ??");
    static const char *const bad[][2] = {
        {"dept 3", "there is no value 'dept' that comes in"},
        {"3", "a line is 'NAME NUMBER'; found '3'"},
        {"depth 3 4", "'4' has no meaning here; a line is 'NAME NUMBER'"},
        {"depth x", "a value is a number of at most 32 bits, such as 2.37; found 'x'"},
        {"depth 1e300", "a value is a number of at most 32 bits, such as 2.37; found '1e300'"}};
    for (size_t k = 0; k < sizeof bad / sizeof bad[0]; k++) {
        assert_int_equal(dia_show_feed(&show, bad[k][0], 9000, &wrong), DIA_BAD_VALUE);
        assert_string_equal(wrong.text, bad[k][1]);
    }
    assert_string_equal(said(10000), "   ??"); /* none of them counted */
}

/* Once at 2.9 it says so until it is below 2.85: noise of 0.04 does not show. */
static void a_choice_does_not_flicker(void **state)
{
    (void)state;
    LINES("value volts input decimals=2",
          "choice state of volts \"low\" 2.9 ok 4 \"full\" within 0.05", "layer text says={state}");
    static const struct {
        uint32_t ms;
        const char *line, *says;
    } steps[] = {{1000, "volts 2.86", "low"},  {2000, "volts 2.89", "low"},
                 {3000, "volts 2.90", "ok"},   {4000, "volts 2.86", "ok"},
                 {5000, "volts 2.85", "ok"},   {6000, "volts 2.84", "low"},
                 {7000, "volts 2.86", "low"},  {8000, "volts 4.2", "full"},
                 {9000, "volts 3.95", "full"}, {10000, "volts 3.94", "ok"}};
    assert_string_equal(said(0), "--");
    for (size_t k = 0; k < sizeof steps / sizeof steps[0]; k++)
        assert_int_equal(dia_show_feed(&show, steps[k].line, steps[k].ms, &wrong), DIA_OK);
    for (size_t k = 0; k < sizeof steps / sizeof steps[0]; k++)
        assert_string_equal(said(steps[k].ms + 500), steps[k].says);
    /* however long it stays in the band: at 4.2 V, then 3.96 V for a day, with a reading or without
     */
    assert_int_equal(dia_show_feed(&show, "volts 4.2", 20000, &wrong), DIA_OK);
    assert_int_equal(dia_show_feed(&show, "volts 3.96", 30000, &wrong), DIA_OK);
    assert_string_equal(said(80000000), "full");
    assert_int_equal(dia_show_feed(&show, "volts 3.97", 40000000, &wrong), DIA_OK);
    assert_string_equal(said(80000000), "full");
    /* of a key too: up to 4, then down to 3 */
    LINES("value n keys up=1 down=2", "choice state of n low 4 high within 2",
          "layer text says={state}", "press 1s 1", "press 2s 1", "press 3s 1", "press 4s 1",
          "press 5s 2");
    assert_string_equal(said(3500), "low");
    assert_string_equal(said(9000000), "high");
    /* and of a counter that falls by one an hour: above 10 until an hour ago */
    LINES("value n counter start=11 rate=-1/h", "choice state of n low 10 high within 5",
          "layer text says={state}");
    assert_string_equal(said(4 * 3600000), "high");
    assert_string_equal(said(7 * 3600000), "low");
}

/* A step from 0 to 64 over 1 s of smoothing: half of it after half a second. Held, it changes with
 * the full seconds. */
static void values_are_smoothed_and_held(void **state)
{
    (void)state;
    LINES("value a input decimals=0 smooth=1s every=250ms", "layer text says={a}");
    assert_int_equal(dia_show_feed(&show, "0", 0, &wrong), DIA_OK);
    assert_int_equal(dia_show_feed(&show, "64", 5000, &wrong), DIA_OK);
    assert_string_equal(said(4999), "0");
    assert_string_equal(said(5500), "33"); /* 33 of 64 samples, at 5500, 5484 ... 5000 ms */
    assert_string_equal(said(5740), "33");
    assert_string_equal(said(6000), "64");
}

static void keys_step_a_value_within_its_range(void **state)
{
    (void)state;
    LINES("value n keys up=operator.1 down=operator.2 start=9 by=2 min=0 max=12",
          "layer text says={n}", "press 3s operator.2", "press 1s operator.1",
          "press 2s operator.1", "press 4s operator.3");
    assert_string_equal(said(999), "9");
    assert_string_equal(said(1000), "11");
    assert_string_equal(said(2000), "12"); /* not 13 */
    assert_string_equal(said(3000), "10");
    assert_string_equal(said(9000), "10");
}

/* From 0 to 20 m/s of wind: 50 to 800 mm/s; beyond, no more. */
static void a_value_drives_a_parameter(void **state)
{
    (void)state;
    LINES("value wind input", "layer sea: water on waves",
          "drive sea.speed by wind from 0 to 20 gives 5cm/s to 80cm/s");
    static const struct {
        const char *line;
        int32_t speed;
    } winds[] = {{"0", 50000}, {"10", 425000}, {"20", 800000}, {"35", 800000}, {"-3", 50000}};
    for (uint32_t k = 0; k < 5; k++)
        assert_int_equal(dia_show_feed(&show, winds[k].line, 1000 + k * 1000, &wrong), DIA_OK);
    for (uint32_t k = 0; k < 5; k++) {
        assert_int_equal(dia_show_at(&show, 1500 + k * 1000, now), DIA_OK);
        assert_int_equal(now[0].values.water.speed_um_s, winds[k].speed);
    }
    assert_int_equal(dia_show_at(&show, 0, now), DIA_OK); /* nothing has come in */
    assert_int_equal(now[0].values.water.speed_um_s, 50000);
}

/* What came in is written down, and played again it gives the same texts at all times. */
static void what_is_recorded_plays_the_same(void **state)
{
    (void)state;
    char before[60][16];
    LINES("value a input decimals=2", "value b input", "layer text says=\"{a} {b:.3}\"");
    uint32_t seed = 1;
    for (uint32_t k = 0; k < 50; k++) {
        char line[40];
        snprintf(line, sizeof line, "%c %d.%03u", k % 3 ? 'a' : 'b',
                 (int)random_below(&seed, 90) - 40, random_below(&seed, 1000));
        assert_int_equal(dia_show_feed(&show, line, k * 137, &wrong), DIA_OK);
    }
    for (uint32_t k = 0; k < 60; k++)
        snprintf(before[k], sizeof before[k], "%.15s", said(k * 119));
    assert_int_equal(dia_show_record(&show, "again.csv", &wrong), DIA_OK);
    LINES("value a csv file=again.csv decimals=2", "value b csv file=again.csv",
          "layer text says=\"{a} {b:.3}\"");
    for (uint32_t k = 0; k < 60; k++)
        assert_string_equal(said(k * 119), before[k]);
}

/* What the cells of the keeper's row 1 look like, by the ROM and the glyphs that the model holds.
 */
static const char *keeper_row(struct dia_player *player, uint32_t ms)
{
    static char row[100];
    char sign[8];
    uint32_t device = 0;
    while (strcmp(rig.devices[device].name, "keeper") != 0)
        device++;
    assert_int_equal(dia_show_play(&show, player, ms, 0, NULL), DIA_OK);
    row[0] = 0;
    for (uint8_t k = 0; k < 20; k++)
        strcat(row, dia_utf8_of(dia_player_cell(player, device, 0, k), sign));
    return row;
}

/* Signs that the ROM lacks are drawn into the eight glyphs, in any order of frames; a ninth at once
 * is told. */
static void cells_show_signs_that_their_rom_lacks(void **state)
{
    (void)state;
    LINES("value volts input decimals=2", "choice mark of volts \342\234\227 2.9 \342\234\223",
          "layer text says=\"{volts:5} V {mark:2}\" on keeper[0-19]",
          "layer text says=\"\304\205\304\231\304\207\305\202\305\204\305\233\" on keeper[12-19] "
          "from 60s for 20s",
          "layer text says=\"\305\272\" on keeper[19] from 90s for 10s",
          "layer text says=\"\305\272\305\276\304\215\" on keeper[9-11] from 70s for 10s");
    struct dia_player *player = dia_player_new(&rig, &wrong);
    assert_non_null(player);
    assert_int_equal(dia_show_feed(&show, "volts 2.5", 1000, &wrong), DIA_OK);
    assert_int_equal(dia_show_feed(&show, "volts 3.25", 2000, &wrong), DIA_OK);
    static const char low[] = " 2.50 V  \342\234\227          ",
                      high[] = " 3.25 V  \342\234\223          ";
    for (int round = 0; round < 12; round++) {
        assert_string_equal(keeper_row(player, round % 2 ? 1500 : 2500), round % 2 ? low : high);
    }
    assert_string_equal(
        keeper_row(player, 61000),
        " 3.25 V  \342\234\223  \304\205\304\231\304\207\305\202\305\204\305\233  ");
    assert_string_equal(keeper_row(player, 91000), " 3.25 V  \342\234\223         \305\272");
    assert_int_equal(dia_player_findings(player)->count, 0);
    /* nine at once, and the mark is covered: the last of the row has no place */
    assert_string_equal(
        keeper_row(player, 71000),
        " 3.25 V  \305\272\305\276\304\215\304\205\304\231\304\207\305\202\305\204\342\226\210  ");
    assert_int_equal(dia_player_findings(player)->count, 1);
    assert_string_equal(dia_player_findings(player)->items[0].code, "glyphs-full");
    /* the same by a look alone: its own text, on what has none in the rig */
    struct dia_lettering look;
    dia_lettering_defaults(&look);
    look.text.says = "I";
    look.text.face = &dia_face_small;
    assert_int_equal(dia_player_show(player, &dia_look_text, &look, 0, 0, NULL), DIA_OK);
    for (uint32_t k = 0; k < 384; k++) /* 48 columns: the first of five rows */
        assert_int_equal(dia_player_lamp(player, 0, k) != 0, k % 48 == 0 && k / 48 < 5);
    dia_player_free(player);
}

/* A00 has a block at 0xff, where A02 has a letter, by the tables of the sheet. */
static void a_sign_nobody_has_is_told_and_shown_as_what_the_rom_has(void **state)
{
    (void)state;
    static const char *const roms[] = {"A00", "A02"};
    static const char *const word[] = {"a block", "a question mark"};
    static const char *const cells[] = {"255\n120\n", "63\n120\n"};
    for (int k = 0; k < 2; k++) {
        char text[300];
        int n = snprintf(text, sizeof text,
                         "controller: RP2040\nsupplies: { usb: { current: 2 A } }\ndevices:\n"
                         "  notes: { chip: HD44780, rom: %s, pins: { scl: 8, sda: 9 } }\n",
                         roms[k]);
        write_file("rom.yaml", text, (size_t)n);
        assert_int_equal(run("$D render rom.yaml --layer 'text says=\346\274\242x on notes' "
                             "--from 1s --frames 1 --out rom.csv"),
                         1);
        snprintf(text, sizeof text, "notes: shows %s for '\346\274\242': its ROM lacks it",
                 word[k]);
        says(text);
        assert_int_equal(run("tr -d '\\r' <rom.csv | grep -E '1000000,notes,[01],' | cut -d, -f10"),
                         0);
        assert_string_equal(output, cells[k]);
    }
}

/* On cells a drawing is a glyph, on dots it stands on the line of the letters; in texts of choices
 * too. The dots of the board are worked out by hand from the drawing and the face. */
static void drawings_stand_in_texts_by_their_names(void **state)
{
    (void)state;
    static const char signs[] = "drawing tick\n...#\n#.#.\n.#..\n\n"
                                "drawing tall\n#\n#\n#\n#\n#\n#\n#\n#\n#\n\n"
                                "drawing blink 100ms\n#.\n\nframe\n.#\n";
    static const uint8_t tick[8] = {2, 20, 8};
    static const char *const board[] = {".....#.....", ".....#.....", "...#.#....#", "#.#....#.#.",
                                        ".#...#..#.."};
    struct dia_player *player = dia_player_new(&rig, &wrong);
    assert_non_null(player);
    write_file("tick.drawings", signs, sizeof signs - 1);
    LINES("drawings tick.drawings", "value v time", "choice ok of v no 2 \"{tick}!\"",
          "layer text says=\"{tick:3}{ok}{blink}\" on keeper[0-7]",
          "layer text face=small says={ok}{tick} on board");
    for (uint32_t ms = 1900; ms <= 2000; ms += 100) {
        assert_int_equal(dia_show_play(&show, player, ms, 0, NULL), DIA_OK);
        const struct dia_cells_shown *cells = dia_player_cells(player, 4);
        const uint8_t *codes = cells->code[0];
        assert_true(codes[0] == ' ' && codes[1] == ' ' && codes[2] < 16);
        assert_memory_equal(cells->glyph[codes[2] & 7], tick, 8);
        assert_int_equal(codes[3], ms < 2000 ? 'n' : codes[2]); /* one glyph for both */
        assert_int_equal(codes[4], ms < 2000 ? 'o' : '!');
        assert_int_equal(cells->glyph[codes[5] & 7][0], ms < 2000 ? 8 : 16);
    }
    for (uint32_t k = 0; k < 384; k++) {
        int lit = k / 48 < 5 && k % 48 < 11 && board[k / 48][k % 48] == '#';
        assert_int_equal(dia_player_lamp(player, 0, k) != 0, lit);
    }
    assert_int_equal(dia_player_findings(player)->count, 0);
    LINES("drawings tick.drawings", "layer text says={tall} on keeper[0]",
          "layer text says={tall} on board", "layer text says={tick} on tide",
          "layer text says={tick} on keeper[1-19]");
    static const char *const notes[] = {"",
                                        ("the drawing 'tall' is 9 dots high, and the face of "
                                         "\"{tall}\" is 8: it shows nothing; the "
                                         "look draw shows it"),
                                        "the drawing 'tick' does not show on digits", ""};
    for (uint32_t k = 0; k < 4; k++) {
        wrong.text[0] = 0;
        assert_int_equal(dia_show_lacks(&show, &rig, k, &wrong), notes[k][0] != 0);
        assert_string_equal(wrong.text, notes[k]);
    }
    assert_int_equal(dia_show_play(&show, player, 0, 0, NULL), DIA_OK);
    assert_string_equal(dia_player_findings(player)->items[0].text,
                        "shows a block for the drawing 'tall': a cell has 5 by 8 dots, and it has "
                        "more");
    for (uint32_t k = 0; k < 32; k++) /* no sign of it on the digits, and no point */
        assert_int_equal(dia_player_lamp(player, 2, k), 0);
    dia_player_free(player);
}

static void check_names_signs_that_cannot_show(void **state)
{
    (void)state;
    static const char lines[] = "layer a: text says=\"F\303\244hre \346\274\242\" on board\n"
                                "layer text says=\"\303\244 \342\234\223\" on keeper[0-19]\n";
    static const char wrong_sign[] = "layer text says=\346\274\242 on keeper\n";
    write_file("signs.show", lines, sizeof lines - 1);
    assert_int_equal(run("$D check demo/quay.rig.yaml --show signs.show | tr -s ' \n' ' '"), 0);
    says("warning signs.show, layer a: the face of \"F\303\244hre \346\274\242\" has no "
         "'\346\274\242' (byte 8); it shows as a box");
    says("every limit is kept; 1 warning");
    write_file("signs.show", wrong_sign, sizeof wrong_sign - 1);
    assert_int_equal(run("$D check demo/quay.rig.yaml --show signs.show"), 1);
    says("error     signs.show, layer 1: a display cannot show '\346\274\242' of");
    assert_int_equal(run("$D check demo/quay.rig.yaml --show signs.show --json"), 1);
    says("\"code\":\t\"no-glyph\"");
    assert_int_equal(run("$D check demo/quay.rig.yaml --show demo/evening.show"), 0);
    assert_int_equal(run("$D check demo/quay.rig.yaml --show none.show"), 2);
    says("none.show: cannot be read");
}

/* Values of the rig's file are there before a show begins; what is wrong is told with its line. */
static void values_of_the_rig_are_there(void **state)
{
    (void)state;
    static const char rig_text[] =
        "controller: RP2040\nsupplies: { usb: { current: 2 A } }\nvalues:\n  depth: constant "
        "is=2.37 decimals=2\n  now: clock at=18:47\ndevices:\n"
        "  notes: { chip: HD44780, pins: { scl: 8, sda: 9 } }\n";
    write_file("valued.yaml", rig_text, sizeof rig_text - 1);
    assert_int_equal(
        run("$D preview valued.yaml --layer 'text says=\"{depth} m {now:hm}\" on notes' "
            "--frames 1"),
        0);
    says("  2.37 m 18:47\n");
    assert_int_equal(
        run("$D preview valued.yaml --value 'now time' --layer 'text says={now} on notes' "
            "--frames 1"),
        2);
    says("there is a value 'now' already; each name is there once");
    assert_int_equal(run("sed -i 's/is=2.37/is=deep/' valued.yaml; $D preview valued.yaml --layer "
                         "'text says={now:hm} on notes' --frames 1"),
                     2);
    says("valued.yaml:4: 'is' is a number of at most 32 bits, such as 2.37; found 'deep'");
}

/* Two rows of modules are one board of 16 rows, however the chain goes through them; by hand: 'T'
 * of the bold face has its bar in rows 0 and 1, 10 dots wide, and its stem in columns 4 and 5. */
static void a_bold_text_takes_two_rows_of_modules(void **state)
{
    (void)state;
    static const char *const wirings[] = {"", ", serpentine: yes", ", first: right, turn: 180",
                                          ", serpentine: yes, mirrored: yes, turn: 90"};
    for (size_t k = 0; k < 4; k++) {
        char text[400];
        struct dia_rig two;
        int n = snprintf(text, sizeof text,
                         "controller: RP2040\nsupplies: { usb: { current: 2 A } }\ndevices:\n"
                         "  board: { chip: MAX7219, chips: 6, rows: 2%s, pins: { din: 1, clk: 2, "
                         "cs: 3 } }\n",
                         wirings[k]);
        write_file("two.yaml", text, (size_t)n);
        assert_int_equal(dia_rig_load(&two, "two.yaml", &wrong), DIA_OK);
        struct dia_player *player = dia_player_new(&two, &wrong);
        assert_non_null(player);
        dia_show_free(&show);
        dia_show_init(&show);
        assert_int_equal(dia_show_line(&show, &two, "layer text says=T face=bold on board", &wrong),
                         DIA_OK);
        assert_int_equal(dia_show_play(&show, player, 0, 0, NULL), DIA_OK);
        for (uint32_t i = 0; i < 384; i++) {
            uint32_t x = i % 24, y = i / 24;
            int lit = y < 2 ? x < 10 : y < 14 && (x == 4 || x == 5);
            if (y == 2) /* the corners beside the stem are filled */
                lit = x >= 3 && x <= 6;
            assert_int_equal(dia_player_lamp(player, 0, i) != 0, lit);
        }
        assert_int_equal(dia_player_findings(player)->count, 0);
        dia_player_free(player);
    }
}

/* Where all that a rig has are displays with a text of their own, a layer without `on` is on them.
 */
static void a_text_is_never_nowhere(void **state)
{
    (void)state;
    static const char one[] =
        "controller: RP2040\nsupplies: { usb: { current: 2 A } }\ndevices:\n"
        "  notes: { chip: HD44780, pins: { scl: 8, sda: 9 }, text: [ quay ] }\n";
    write_file("one.yaml", one, sizeof one - 1);
    assert_int_equal(run("$D preview one.yaml --layer 'text says=Skua' --frames 1"), 0);
    says("  Skua\n");
    assert_int_equal(run("$D preview demo/quay.rig.yaml --layer 'text says=Skua' --frames 1"), 0);
    says("Ferry 14:05 to Skua");
}

/* A number from another program onto digits is one command; the dots are those of the model. */
static void a_number_comes_through_a_pipe(void **state)
{
    (void)state;
    static const char yaml[] =
        "controller: ATmega328P\nsupplies:\n  usb: { current: 1 A }\ndevices:\n"
        "  tide: { chip: TM1637, pins: { clk: 2, dio: 3 }, supply: usb, "
        "digits: 4 }\n";
    write_file("tide.yaml", yaml, sizeof yaml - 1);
    assert_int_equal(
        run("echo 'depth 3.14159' | LC_ALL=C $D preview tide.yaml --value depth --layer "
            "'text says=\"{depth:4.3}\" on tide' --frames 1"),
        0);
    says("   _           _\n   _|   | |_|  _|\n   _|.  |   | |_\n"); /* 3.142 */
    assert_int_equal(
        run("printf '1\\nx\\n2\\ny y\\n' | $D preview tide.yaml --value n --record r.csv "
            "--layer 'text says={n} on tide' --frames 1"),
        2);
    says("standard input, line 2: a value is a number of at most 32 bits, such as 2.37; found 'x'; "
         "others are wrong too\n");
    assert_int_equal(run("cat r.csv"), 0);
    assert_string_equal(output, "time,name,value\r\n0.000,n,1.000\r\n0.000,n,2.000\r\n");
}

/* Live, in a terminal of its own (script): lines come in while it runs, at their times. */
static void lines_come_in_while_it_runs(void **state)
{
    (void)state;
    static const char live[] =
        "(for i in 1 2 3; do echo $i; sleep 0.2; done) | $D preview tide.yaml --value n --layer "
        "'text says={n} on tide' --for 900ms --record live.csv\n";
    write_file("live.sh", live, sizeof live - 1);
    assert_int_equal(run("export D; TERM=xterm script -qec 'sh live.sh' live.txt >/dev/null"), 0);
    char *csv = read_file("live.csv", NULL);
    double t[3];
    assert_int_equal(
        sscanf(csv, "time,name,value %lf,n,1.000 %lf,n,2.000 %lf,n,3.000", t, t + 1, t + 2), 3);
    assert_true(t[0] < t[1] && t[1] < t[2] && t[2] - t[0] > 0.3);
    free(csv);
    assert_int_equal(run("grep -ac 'is dark' live.txt"), 0); /* it left the terminal as it was */
}

/* Each value from its own pipe; a number alone where only one value comes from there. */
static void lines_come_from_named_pipes(void **state)
{
    (void)state;
    assert_int_equal(
        run("rm -f a.pipe b.pipe; mkfifo a.pipe b.pipe; (echo 12.25 >a.pipe; printf 'b 7\\nc 8\\n' "
            ">b.pipe) & $D preview demo/quay.rig.yaml --value 'a input file=a.pipe' --value 'b "
            "input "
            "file=b.pipe' --value 'c input file=b.pipe' --layer 'text says=\"{a:6.2}|{b}|{c}|\" on "
            "keeper[0-19]' --frames 1"),
        0);
    says(" 12.25|7|8|");
    assert_int_equal(run("(echo x >a.pipe) & $D preview demo/quay.rig.yaml --value 'a input "
                         "file=a.pipe' --layer 'text says={a} on keeper' --frames 1"),
                     2);
    says("a.pipe, line 1: a value is a number of at most 32 bits, such as 2.37; found 'x'\n");
    assert_int_equal(run("rm a.pipe b.pipe; $D preview demo/quay.rig.yaml --value 'a input "
                         "file=a.pipe' --layer 'text says={a} on keeper' --frames 1"),
                     2);
    says("preview: a.pipe: cannot be read: No such file or directory\n");
}

/* Each mistake in a choice or in what a value drives is told, and nothing of the line counts. */
static void what_is_wrong_with_choices_and_drives_is_told(void **state)
{
    (void)state;
    static const struct {
        const char *line, *says;
    } wrongs[] = {
        {"choice", "write a choice like this"},
        {"choice c", "write a choice like this"},
        {"choice c from n a 1 b", "write a choice like this"},
        {"choice c of", "write a choice like this"},
        {"choice n of n a 1 b", "'n'"}, /* a value has that name */
        {"choice c of m a 1 b", "'m'"},
        {"choice c of n a", "write a choice like this"},
        {"choice c of n a 1", "a text is missing behind the limit '1'"},
        {"choice c of n a x b", "a limit of a choice"},
        {"choice c of n a 2 b 2 c", "the limits of a choice rise; found '2'"},
        {"choice c of n a 1 b within", "'within' needs a number behind it"},
        {"choice c of n a 1 b within x", "'within'"},
        {"choice c of n a 1 b within -1", "'within' is 0 or more, and comes last"},
        {"choice c of n a 1 b within 1 2", "'within' is 0 or more, and comes last"},
        {"choice c of n t1 1 t2 2 t3 3 t4 4 t5 5 t6 6 t7 7 t8 8", "a choice has at most 8 texts"},
        {"drive", "write it like this"},
        {"drive l.speed by n from 0 to 1 gives 1cm/s", "write it like this"},
        {"drive l.speed by n since 0 to 1 gives 1cm/s to 2cm/s", "write it like this"},
        {"drive l.speed by n from 0 to 1 gives 1cm/s to 2cm/s now", "write it like this"},
        {"drive speed by n from 0 to 1 gives 1cm/s to 2cm/s", "write it like this"},
        {"drive k.speed by n from 0 to 1 gives 1cm/s to 2cm/s", "'k'"},
        {"drive l.speed by m from 0 to 1 gives 1cm/s to 2cm/s", "'m'"},
        {"drive l.speed by n from x to 1 gives 1cm/s to 2cm/s", "'from'"},
        {"drive l.speed by n from 0 to x gives 1cm/s to 2cm/s", "'to'"},
        {"drive l.speed by n from 1 to 1 gives 1cm/s to 2cm/s",
         "'to' is above 'from'; found 1 to 1"},
        {"drive l.sped by n from 0 to 1 gives 1cm/s to 2cm/s", "speed"},
        {"drive l.speed by n from 0 to 1 gives 1cm/s to fast", "speed"},
        {"drive p.colour by n from 0 to 1 gives red to blue",
         "'colour' is no number; values drive numbers"},
    };
    LINES("value n input", "layer l: chase", "layer p: steady");
    for (size_t k = 0; k < sizeof wrongs / sizeof wrongs[0]; k++) {
        wrong.text[0] = 0;
        if (dia_show_line(&show, &rig, wrongs[k].line, &wrong) != DIA_BAD_VALUE)
            fail_msg("%s: is taken", wrongs[k].line);
        if (!strstr(wrong.text, wrongs[k].says))
            fail_msg("%s: %s", wrongs[k].line, wrong.text);
        assert_int_equal(show.choice_count + show.drive_count, 0);
    }
    char line[100];
    for (int k = 0; k <= DIA_SHOW_CHOICES; k++) {
        snprintf(line, sizeof line, "choice c%d of n a 1 b", k);
        assert_int_equal(dia_show_line(&show, &rig, line, &wrong),
                         k < DIA_SHOW_CHOICES ? DIA_OK : DIA_BAD_VALUE);
    }
    assert_string_equal(wrong.text, "a show has at most 16 choices");
    for (int k = 0; k <= DIA_SHOW_DRIVES; k++) {
        snprintf(line, sizeof line, "drive l.speed by n from %d to 99 gives 1cm/s to 2cm/s", k);
        assert_int_equal(dia_show_line(&show, &rig, line, &wrong),
                         k < DIA_SHOW_DRIVES ? DIA_OK : DIA_BAD_VALUE);
    }
    assert_string_equal(wrong.text, "a show has at most 32 lines 'drive'");
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(counters_and_clocks_are_exact_for_a_day),
        cmocka_unit_test(a_file_is_followed),
        cmocka_unit_test(what_comes_in_shows_until_it_is_stale),
        cmocka_unit_test(a_choice_does_not_flicker),
        cmocka_unit_test(what_is_wrong_with_choices_and_drives_is_told),
        cmocka_unit_test(values_are_smoothed_and_held),
        cmocka_unit_test(keys_step_a_value_within_its_range),
        cmocka_unit_test(a_value_drives_a_parameter),
        cmocka_unit_test(what_is_recorded_plays_the_same),
        cmocka_unit_test(cells_show_signs_that_their_rom_lacks),
        cmocka_unit_test(a_sign_nobody_has_is_told_and_shown_as_what_the_rom_has),
        cmocka_unit_test(a_number_comes_through_a_pipe),
        cmocka_unit_test(lines_come_in_while_it_runs),
        cmocka_unit_test(lines_come_from_named_pipes),
        cmocka_unit_test(drawings_stand_in_texts_by_their_names),
        cmocka_unit_test(a_text_is_never_nowhere),
        cmocka_unit_test(check_names_signs_that_cannot_show),
        cmocka_unit_test(values_of_the_rig_are_there),
        cmocka_unit_test(a_bold_text_takes_two_rows_of_modules),
    };
    int failed = cmocka_run_group_tests(tests, set_up, NULL);
    dia_show_free(&show);
    return failed;
}
