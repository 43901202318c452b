/* SPDX-License-Identifier: MIT */
#include "../run.h"

#include <diachrome/characters.h>
#include <diachrome/show.h>

/* What shows do with a character display beside texts: all is read back from its model. */

static struct dia_rig rig;
static struct dia_player *player;
static struct dia_show show;
static struct dia_diagnostic wrong;

static int set_up(void **state)
{
    (void)state;
    static const char text[] =
        "controller: RP2040\nsupplies: { usb: { current: 2 A } }\ndevices:\n"
        "  notes: { chip: HD44780, columns: 20, rows: 4, pins: { scl: 8, sda: 9 },\n"
        "           text: [ PETREL QUAY ] }\n"
        "  bell: { chip: HD44780, columns: 16, rows: 1, pins: { scl: 8, sda: 9 }, address: 0x3f "
        "}\n";
    write_file("cells.yaml", text, sizeof text - 1);
    assert_int_equal(dia_rig_load(&rig, "cells.yaml", &wrong), DIA_OK);
    player = dia_player_new(&rig, &wrong);
    return player ? 0 : -1;
}

static int tear_down(void **state)
{
    (void)state;
    dia_show_free(&show);
    dia_player_free(player);
    return 0;
}

static void begin(const char *const *lines)
{
    dia_show_free(&show);
    dia_show_init(&show);
    for (; *lines; lines++) {
        if (dia_show_line(&show, &rig, *lines, &wrong) != DIA_OK)
            fail_msg("%s: %s", *lines, wrong.text);
    }
}
#define LINES(...) begin((const char *const[]){__VA_ARGS__, NULL})

static const struct dia_cells_shown *cells_at(uint32_t ms)
{
    assert_int_equal(dia_show_play(&show, player, ms, 0, NULL), DIA_OK);
    dia_player_rest_until(player, dia_player_now_ns(player) + 500000000);
    return dia_player_cells(player, 0);
}

/* A row as dia_player_cell has it, in ASCII: F full, T at the top, B below, = both, o a point. */
static const char *row_of(uint32_t row)
{
    static char text[21];
    for (uint8_t k = 0; k < 20; k++) {
        uint16_t sign = dia_player_cell(player, 0, (uint8_t)row, k);
        text[k] = (char)(sign == 0x2588   ? 'F'
                         : sign == 0x2580 ? 'T'
                         : sign == 0x2584 ? 'B'
                         : sign == 0x2022 ? 'o'
                                          : sign);
    }
    return text;
}

static void rows_are(const char *const *rows)
{
    for (uint32_t row = 0; row < 4; row++)
        assert_string_equal(row_of(row), rows[row]);
}

/* Digits are three cells wide with one between; in the middle of 20, 13 cells begin at the fourth.
 */
static void numbers_are_two_rows_high(void **state)
{
    (void)state;
    LINES("value t clock at=18:47",
          "layer a: text says={t:hm} size=2 align=centre on notes[40-59] for 60s",
          "layer b: text says=-7.5 size=2 align=right place=bottom on notes from 60s for 60s",
          "layer c: text says=123456 size=2 on notes[20-32] from 120s for 60s",
          "layer d: text says=1 size=2 on notes[60-79] from 180s for 60s",
          "layer e: text says=1 size=2 blink=1s on notes[0-2] from 240s for 60s");
    cells_at(0);
    rows_are((const char *const[]){"PETREL QUAY         ", "                    ",
                                   " TF  F=F o FBF TTF  ", " BFB FBF o   F   F  "});
    cells_at(60000);
    rows_are((const char *const[]){"PETREL QUAY         ", "                    ",
                                   "       BBB TTF   F==", "             F o BBF"});
    assert_int_equal(dia_player_findings(player)->count, 0);
    cells_at(120000); /* 23 cells in 13: dashes, never a wrong number */
    rows_are((const char *const[]){"PETREL QUAY         ", "BBB BBB BBB         ",
                                   "                    ", "                    "});
    assert_string_equal(dia_player_findings(player)->items[0].text,
                        "a number is too wide: at size 2 it takes 23 cells and has 13, so dashes "
                        "show");
    cells_at(180000); /* there is no row below the last */
    rows_are((const char *const[]){"PETREL QUAY         ", "                    ",
                                   "                    ", "                    "});
    assert_string_equal(dia_player_findings(player)->items[1].text,
                        "a text of size 2 takes two rows, and there is none below it; take size=1");
    cells_at(240400);
    rows_are((const char *const[]){"TF REL QUAY         ", "BFB                 ",
                                   "                    ", "                    "});
    cells_at(240500); /* it blinks */
    rows_are((const char *const[]){"   REL QUAY         ", "                    ",
                                   "                    ", "                    "});
    LINES("layer text says=\"x: 1\" size=2 on notes", "layer text says=1:2 size=2 on notes");
    assert_int_equal(dia_show_lacks(&show, &rig, 0, &wrong), 1);
    assert_string_equal(wrong.text, "at size 2 a display shows 'x' of \"x: 1\" as a space; it has "
                                    "digits and - : .");
    assert_int_equal(dia_show_lacks(&show, &rig, 1, &wrong), 0);
}

static void the_cursor_is(uint32_t ms, int underline, int block, int column, int row)
{
    const struct dia_cells_shown *cells = cells_at(ms);
    assert_int_equal(cells->underline != 0, underline);
    assert_int_equal(cells->block != 0, block);
    if (underline || block)
        assert_true(cells->cursor_column == column && cells->cursor_row == row);
}

/* Behind the last letter, wherever that is; the uppermost layer has it. */
static void the_cursor_follows_a_text(void **state)
{
    (void)state;
    LINES("value n counter rate=1/s",
          "layer a: text says=\"Pin {n}\" on notes[20-29] cursor underline for 1000s",
          "layer b: text says=\"\" on notes[65] cursor block from 20s for 10s",
          "layer c: text says=\"ab cd\" wrap=yes on notes cursor underline from 40s for 10s",
          "layer d: text says=0123456789 on notes[10-19] cursor block from 60s for 10s",
          "layer e: text says=1 blink=1s on notes[10-19] cursor underline from 70s for 10s",
          "layer f: text says=A on notes[0] cursor none from 80s for 10s",
          "layer g: text says=\"Pin:  \" on notes[60-69] cursor block from 90s for 10s");
    the_cursor_is(0, 1, 0, 5, 1);     /* Pin 0 */
    the_cursor_is(12000, 1, 0, 6, 1); /* Pin 12 */
    the_cursor_is(20000, 0, 1, 5, 3); /* a place without a text: 65 is 3 * 20 + 5 */
    the_cursor_is(40000, 1, 0, 5, 0);
    the_cursor_is(60000, 0, 1, 19, 0); /* the field is full: on its last letter */
    the_cursor_is(70700, 1, 0, 11, 0); /* while the letter is out */
    the_cursor_is(80000, 1, 0, 6, 1);  /* 'none' asks for none of its own */
    the_cursor_is(90000, 0, 1, 6, 3);  /* spaces count */
    the_cursor_is(1000000, 0, 0, 0, 0);
    assert_int_equal(dia_player_findings(player)->count, 2); /* those of before */
    assert_int_equal(dia_show_line(&show, &rig, "layer waves on notes", &wrong), DIA_BAD_VALUE);
    assert_string_equal(wrong.text, "'notes' shows its text, and no look but 'text', and 'steady', "
                                    "which switches it off where it is black");
    assert_int_equal(dia_show_line(&show, &rig, "layer steady on bell cursor block", &wrong),
                     DIA_BAD_VALUE);
    assert_string_equal(wrong.text, "'cursor' is for the look text; this is steady");
}

/* Off, it keeps its text; a key of the rig's desk does it too, and the uppermost layer decides. */
static void a_display_is_off_and_on_by_layers_and_keys(void **state)
{
    (void)state;
    LINES("layer night: steady colour=black on notes from 10s for 10s",
          "layer off: steady colour=black on notes",
          "layer lit: steady colour=white on notes from 15s for 1s", "key 1 short: toggle off",
          "press 25s 1 for 100ms", "press 30s 1 for 100ms", "layer text says=Skua on notes[0-9]");
    static const struct {
        uint32_t ms;
        int on;
    } moments[] = {{0, 1}, {10000, 0}, {15000, 1}, {16000, 0}, {20000, 1}, {26000, 0}, {31000, 1}};
    for (size_t k = 0; k < sizeof moments / sizeof moments[0]; k++) {
        const struct dia_cells_shown *cells = cells_at(moments[k].ms);
        assert_int_equal(cells->on, moments[k].on);
        assert_memory_equal(cells->code[0], "Skua      Y", 11);
        assert_int_equal(dia_player_cells(player, 1)->on, 1); /* the other one */
    }
    assert_int_equal(dia_show_line(&show, &rig, "layer steady on notes[3]", &wrong), DIA_BAD_VALUE);
    assert_string_equal(wrong.text, "'notes' is on or off as a whole; write 'on notes'");
}

/* Letters on 14 and on 16 segments, each on an output of its own; the point is the last. */
static void digits_of_more_segments_show_letters(void **state)
{
    (void)state;
    for (uint32_t per = 15; per <= 17; per += 2) {
        char text[300];
        struct dia_rig wide;
        int n = snprintf(text, sizeof text,
                         "controller: RP2040\nsupplies: { usb: { current: 2 A } }\ndevices:\n"
                         "  name: { chip: 74HC595, chips: 9, digits: 4, segments: %u, lamps: 2, "
                         "pins: { ser: 4, srclk: 5, rclk: 6 } }\n",
                         (unsigned)per - 1);
        write_file("wide.yaml", text, (size_t)n);
        assert_int_equal(dia_rig_load(&wide, "wide.yaml", &wrong), DIA_OK);
        struct dia_player *on = dia_player_new(&wide, &wrong);
        assert_non_null(on);
        dia_show_free(&show);
        dia_show_init(&show);
        assert_int_equal(dia_show_line(&show, &wide, "layer text says=\"K4.z%\" on name", &wrong),
                         DIA_OK);
        assert_int_equal(dia_show_play(&show, on, 0, 0, NULL), DIA_OK);
        for (uint32_t k = 0; k < 4 * per + 2; k++) {
            char is = "K4z%"[k / per % 4];
            uint32_t bits = per == 15 ? dia_segments14_of(is) : dia_segments16_of(is);
            int lit = (bits >> (k % per) & 1) || k == 2 * per - 1; /* the point of the 4 */
            assert_int_equal(dia_player_lamp(on, 0, k) != 0, k < 4 * per && lit);
        }
        assert_int_equal(dia_player_findings(on)->count, 0);
        dia_player_free(on);
    }
}

/* A lamp has its name in the rig, and layers find it: of a panel, of a chain, on a pin. */
static void lamps_are_found_by_their_names(void **state)
{
    (void)state;
    static const char text[] =
        "controller: RP2040\nsupplies: { usb: { current: 2 A } }\ndevices:\n"
        "  hut: { chip: TM1638, pins: { stb: 1, clk: 2, dio: 3 }, names: [mail, tide] }\n"
        "  row: { chip: 74HC595, pins: { ser: 4, srclk: 5, rclk: 6 }, names: [a, b, c] }\n"
        "  beacon: { chip: lamps, pins: { lamp1: 7, lamp2: 8 }, names: [red, green] }\n";
    struct dia_rig named;
    write_file("named.yaml", text, sizeof text - 1);
    assert_int_equal(dia_rig_load(&named, "named.yaml", &wrong), DIA_OK);
    struct dia_player *on = dia_player_new(&named, &wrong);
    assert_non_null(on);
    dia_show_free(&show);
    dia_show_init(&show);
    assert_int_equal(
        dia_show_line(&show, &named, "layer steady on hut.tide,row.c,beacon.green", &wrong),
        DIA_OK);
    assert_int_equal(dia_show_play(&show, on, 0, 0, NULL), DIA_OK);
    for (uint32_t k = 0; k < 72; k++) /* the lamps of the panel are behind its digits */
        assert_int_equal(dia_player_lamp(on, 0, k) != 0, k == 65);
    for (uint32_t k = 0; k < 8; k++)
        assert_int_equal(dia_player_lamp(on, 1, k) != 0, k == 2);
    for (uint32_t k = 0; k < 2; k++)
        assert_int_equal(dia_player_lamp(on, 2, k) != 0, k == 1);
    dia_player_free(on);
    static const struct {
        const char *where, *says;
    } none[] = {{"hut.tied", "'hut' has no lamp 'tied'; did you mean 'tide'"},
                {"row.xyz", "'row' has no lamp 'xyz'; the first one is 'a'"},
                {"hit.tide", "there is no 'hit.tide' that shows looks on this rig"}};
    for (size_t k = 0; k < 3; k++) {
        char line[80];
        snprintf(line, sizeof line, "layer steady on %s", none[k].where);
        assert_int_equal(dia_show_line(&show, &named, line, &wrong), DIA_BAD_VALUE);
        assert_string_equal(wrong.text, none[k].says);
    }
    uint32_t number, element;
    uint8_t is_device;
    assert_int_equal(
        dia_rig_element_read(&named, "hut.mail", &is_device, &number, &element, &wrong), DIA_OK);
    assert_true(is_device && number == 0 && element == 64);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(numbers_are_two_rows_high),
        cmocka_unit_test(the_cursor_follows_a_text),
        cmocka_unit_test(a_display_is_off_and_on_by_layers_and_keys),
        cmocka_unit_test(digits_of_more_segments_show_letters),
        cmocka_unit_test(lamps_are_found_by_their_names),
    };
    return cmocka_run_group_tests(tests, set_up, tear_down);
}
