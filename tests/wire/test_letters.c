/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <stdio.h>
#include <string.h>

#include <diachrome/bench.h>
#include <diachrome/diachrome.h>
#include <diachrome/sim.h>

/* A display of 16 x 2 on four lines, read from the model: its memory and its glyph memory. */
static struct dia_sim sim;
static struct dia_bench *bench;
static int glass;
static struct dia_characters display;
static uint8_t cells[DIA_CHARACTERS_CELLS(16, 2)], memory[DIA_CHARACTERS_BYTES(16, 2)];

static const struct dia_letters western = {.rom = &dia_rom_a00, .face = &dia_face_cell};

static int begin(void **state)
{
    uint8_t pins[DIA_CHARACTERS_PINS];
    struct dia_glass like = {.columns = 16, .rows = 2};
    struct dia_device_setup desk = {.name = "d", .part = "HD44780", .pins = pins};
    struct dia_characters_setup setup = {.part = &dia_hd44780,
                                         .bus = DIA_BUS_4_LINES,
                                         .rs_pin = 1,
                                         .rw_pin = DIA_NO_PIN,
                                         .e_pin = 2,
                                         .data_pin = {4, 5, 6, 7},
                                         .columns = 16,
                                         .rows = 2};
    (void)state;
    memset(pins, DIA_NO_PIN, sizeof pins);
    pins[DIA_CHARACTERS_RS] = 1;
    pins[DIA_CHARACTERS_E] = 2;
    for (uint8_t k = 0; k < 4; k++)
        pins[DIA_CHARACTERS_D0 + 4 + k] = (uint8_t)(4 + k);
    bench = dia_bench_new();
    glass = dia_bench_characters(bench, &desk, &like);
    dia_sim_init(&sim, 16000000);
    return dia_sim_listen(&sim, dia_bench_take, bench) != DIA_OK ||
           dia_characters_init(&display, &sim.port, &setup, cells, memory) != DIA_OK;
}

static int end(void **state)
{
    (void)state;
    dia_bench_free(bench);
    return 0;
}

static const struct dia_cells_shown *shown(void)
{
    dia_bench_settle(bench, sim.now_ns);
    return dia_bench_cells(bench, glass);
}

static void show(void)
{
    assert_int_equal(dia_driver_show_and_wait(&display.driver), DIA_OK);
    assert_int_equal(dia_bench_findings(bench)->count, 0);
}

/* What a person reads in a cell: by the ROM, or by the dots of its glyph in the face. */
static uint16_t read_cell(uint8_t row, uint8_t column)
{
    const struct dia_cells_shown *on = shown();
    uint8_t code = on->code[row][column], rows[8];
    if (code > 15)
        return dia_rom_sign(&dia_rom_a00, code);
    for (uint16_t sign = 1; sign < 0x2800; sign++) {
        if (dia_letters_rows(&dia_face_cell, sign, rows) &&
            memcmp(rows, on->glyph[code & 7], 8) == 0)
            return sign;
    }
    return 0;
}

static void reads(uint8_t row, const char *expected)
{
    char text[80] = "", sign[4];
    for (uint8_t column = 0; column < 16; column++)
        strcat(text, dia_utf8_of(read_cell(row, column), sign));
    assert_string_equal(text, expected);
}

/* By the sheet's table: two places of ASCII, and letters that stand elsewhere. Each code and sign
 * of both ROMs leads back to itself, or to the first of two signs that look alike. */
static void signs_have_the_codes_of_the_rom(void **state)
{
    (void)state;
    static const struct {
        uint16_t sign;
        int16_t a00, a02;
    } known[] = {{'A', 0x41, 0x41},  {'\\', -1, 0x5c},   {'~', -1, 0x7e},     {0xa5, 0x5c, 0xa5},
                 {0xb0, 0xdf, 0xb0}, {0xe4, 0xe1, 0xe4}, {0xe9, -1, 0xe9},    {0xf7, 0xfd, 0xf7},
                 {0x2192, 0x7e, -1}, {0x2190, 0x7f, -1}, {0x2588, 0xff, -1},  {0xff71, 0xb1, -1},
                 {0xff9e, 0xde, -1}, {0x141, -1, -1},    {0x3bc, 0xe4, 0xb5}, {0x7f, -1, -1},
                 {0x3b1, 0xe0, -1},  {0x3b2, 0xe2, -1},  {0xdf, 0xe2, 0xdf},  {0x3b5, 0xe3, -1},
                 {0x3c3, 0xe5, -1},  {0x3c1, 0xe6, -1},  {0x221a, 0xe8, -1},  {0xa2, 0xec, 0xa2},
                 {0xa3, 0xed, 0xa3}, {0xf1, 0xee, 0xf1}, {0xf6, 0xef, 0xf6},  {0x3b8, 0xf2, -1},
                 {0x221e, 0xf3, -1}, {0x3a9, 0xf4, -1},  {0xfc, 0xf5, 0xfc},  {0x3a3, 0xf6, -1},
                 {0x3c0, 0xf7, -1},  {0xb5, 0xe4, 0xb5}};
    static const struct dia_rom *const roms[] = {&dia_rom_a00, &dia_rom_a02};
    for (size_t k = 0; k < sizeof known / sizeof known[0]; k++) {
        assert_int_equal(dia_rom_code(&dia_rom_a00, known[k].sign), known[k].a00);
        assert_int_equal(dia_rom_code(&dia_rom_a02, known[k].sign), known[k].a02);
    }
    /* A00 has ASCII but for the backslash, the tilde and what is behind; A02 has Latin 1 but for
     * these */
    static const uint8_t not_there[] = {0xa0, 0xa8, 0xac, 0xad, 0xaf, 0xb4, 0xb8};
    for (uint16_t sign = ' '; sign < 256; sign++) {
        int is_latin = (sign < 0x7f || sign > 0x9f) && !memchr(not_there, sign, sizeof not_there);
        assert_int_equal(dia_rom_code(&dia_rom_a02, sign), is_latin ? sign : -1);
        if (sign < 0xa0)
            assert_int_equal(dia_rom_code(&dia_rom_a00, sign),
                             sign < '~' && sign != '\\' ? sign : -1);
    }
    /* A00: 93 of ASCII, 2 of money, 9 of Latin 1 from the yen on, 10 Greek, 5 others, 62 katakana;
     * A02: 95 of ASCII, 89 of Latin 1 and the Greek mu */
    static const int signs[] = {93 + 2 + 9 + 10 + 5 + 62, 95 + 89 + 1};
    for (size_t k = 0; k < 2; k++) {
        int found = 0;
        for (uint32_t sign = 1; sign < 65536; sign++)
            found += dia_rom_code(roms[k], (uint16_t)sign) >= 0;
        assert_int_equal(found, signs[k]);
        for (uint16_t code = 0; code < 256; code++) {
            uint16_t sign = dia_rom_sign(roms[k], (uint8_t)code);
            assert_true(sign == 0 || dia_rom_code(roms[k], sign) == code);
            assert_true((sign == 0) == (code < 0x20) || code >= 0x7e);
        }
        for (uint32_t sign = 1; sign < 65536; sign++) {
            int16_t code = dia_rom_code(roms[k], (uint16_t)sign);
            if (code >= 0) /* sharp s and beta share one; no code is of no sign */
                assert_int_equal(dia_rom_code(roms[k], dia_rom_sign(roms[k], (uint8_t)code)), code);
        }
    }
}

static void a_text_fills_its_field(void **state)
{
    (void)state;
    assert_int_equal(dia_characters_write(&display, &western, 2, 0, 6, "12\302\260C"), DIA_OK);
    assert_int_equal(
        dia_characters_write(&display, &western, 0, 1, 5, "\305\201\303\263d\305\272 nad"),
        DIA_UNSUPPORTED); /* no L with a stroke in this face: a block; and cut off */
    show();
    reads(0, "  12\302\260C          ");
    reads(1, "\342\226\210\303\263d\342\226\210            ");
    assert_int_equal(dia_characters_write(&display, &western, 2, 0, 6, "\342\202\254"), DIA_OK);
    show();
    reads(0, "  \342\202\254             ");
    assert_int_equal(dia_characters_write(&display, &western, 12, 0, 5, "x"), DIA_BAD_VALUE);
    assert_int_equal(dia_characters_write(&display, &western, 0, 2, 5, "x"), DIA_BAD_VALUE);
    assert_int_equal(dia_characters_write(&display, &western, 0, 0, 0, "x"), DIA_BAD_VALUE);
    show();
    reads(0, "  \342\202\254             ");
}

/* Signs of one's own, by their numbers: the second of them is not the first. */
static void own_signs_come_before_the_face(void **state)
{
    (void)state;
    static const struct dia_cell_glyph own[] = {{0xe000, {1, 2, 4, 8, 16, 8, 4, 2}},
                                                {0xe001, {31, 0, 31, 0, 31, 0, 31, 0}}};
    const struct dia_letters letters = {&dia_rom_a00, NULL, own, 2};
    assert_int_equal(dia_characters_write(&display, &letters, 0, 0, 2, "\356\200\200\356\200\201"),
                     DIA_OK);
    show();
    for (int k = 0; k < 2; k++) {
        assert_in_range(shown()->code[0][k], 0, 15); /* twice eight */
        assert_memory_equal(shown()->glyph[shown()->code[0][k] % 8], own[k].rows, 8);
    }
}

/* Eight signs at once have room; a ninth is told, and has room when another has gone. */
static void eight_glyphs_are_handed_out(void **state)
{
    (void)state;
    static const char eight[] = "\303\251\303\250\303\252\303\253\303\240\303\241\303\242\303\243";
    assert_int_equal(dia_characters_write(&display, &western, 0, 0, 16, eight), DIA_OK);
    assert_int_equal(dia_characters_write(&display, &western, 0, 1, 2, "\303\251\303\247"),
                     DIA_UNSUPPORTED);
    show();
    reads(0, "\303\251\303\250\303\252\303\253\303\240\303\241\303\242\303\243        ");
    reads(1, "\303\251\342\226\210              ");
    assert_int_equal(dia_characters_write(&display, &western, 0, 0, 1, "e"), DIA_OK);
    assert_int_equal(dia_characters_write(&display, &western, 0, 1, 2, "\303\247"), DIA_OK);
    show();
    reads(0, "e\303\250\303\252\303\253\303\240\303\241\303\242\303\243        ");
    reads(1, "\303\247               ");
    /* the same field with other signs: its own are free */
    assert_int_equal(
        dia_characters_write(&display, &western, 0, 0, 8,
                             "\303\273\303\272\303\271\303\262\303\263\303\264\303\265"),
        DIA_OK);
    show();
    reads(0, "\303\273\303\272\303\271\303\262\303\263\303\264\303\265         ");
    reads(1, "\303\247               ");
}

/*
 * While signs come and go at random, and after every single byte that is sent, each cell shows what
 * it showed before the frame, nothing, or what it is to show: never the dots of another sign.
 */
static void no_cell_flashes_another_shape(void **state)
{
    (void)state;
    static const char *const pool[] = {"\303\251", "\303\250", "\303\252", "\303\253", "\303\240",
                                       "\303\241", "\303\242", "\303\243", "\303\247", "\303\273",
                                       "\303\272", "a",        " ",        "\303\274"};
    uint32_t seed = 3;
    uint16_t before[32], wanted[32];
    for (uint8_t k = 0; k < 32; k++)
        before[k] = ' ';
    show();
    for (int frame = 0; frame < 200; frame++) {
        for (int changes = 0; changes < 12; changes++) {
            uint8_t cell = (uint8_t)random_below(&seed, 32);
            (void)!dia_characters_write(&display, &western, cell % 16, cell / 16, 1,
                                        pool[random_below(&seed, 14)]);
        }
        uint32_t again_us = 0;
        uint8_t codes[32]; /* as they show still */
        memcpy(codes, shown()->code[0], 16);
        memcpy(codes + 16, shown()->code[1], 16);
        struct dia_characters drawn = display; /* what the drawing is to look like */
        assert_int_equal(dia_driver_show(&display.driver), DIA_OK);
        for (uint8_t k = 0; k < 32; k++) {
            uint8_t code = cells[k], rows[8];
            wanted[k] = code > 15 ? dia_rom_sign(&dia_rom_a00, code) : 0;
            for (uint16_t sign = 0xc0; code < 16 && sign < 0x100; sign++) {
                if (dia_letters_rows(&dia_face_cell, sign, rows) &&
                    memcmp(rows, drawn.glyph[code & 7], 8) == 0)
                    wanted[k] = sign;
            }
        }
        while (dia_driver_poll(&display.driver, &again_us) == DIA_BUSY) {
            dia_sim_advance_us(&sim, again_us ? again_us : 1);
            for (uint8_t k = 0; k < 32; k++) {
                uint8_t code = shown()->code[k / 16][k % 16];
                if (code < 16 && code == cells[k] && code == codes[k])
                    continue; /* the same glyph, which gets its new dots row by row */
                uint16_t seen = read_cell(k / 16, k % 16);
                if (seen != before[k] && seen != wanted[k] && seen != ' ' &&
                    !(code < 16 && seen == 0))
                    fail_msg("frame %d, cell %d: U+%04X between U+%04X and U+%04X", frame, k, seen,
                             before[k], wanted[k]);
            }
        }
        for (uint8_t k = 0; k < 32; k++)
            assert_int_equal(read_cell(k / 16, k % 16), wanted[k]);
        memcpy(before, wanted, sizeof before);
    }
    assert_int_equal(dia_bench_findings(bench)->count, 0);
}

/* Dots of a row of cells, 5 columns each, as '#' and '.'. */
static void dots(uint8_t row, uint8_t first, uint8_t n, uint8_t dot_row, char *text)
{
    for (uint8_t k = 0; k < n; k++) {
        uint8_t code = shown()->code[row][first + k], rows[8] = {0};
        if (code < 16)
            memcpy(rows, shown()->glyph[code & 7], 8);
        else if (code == 0xff)
            memset(rows, 31, 8);
        for (uint8_t x = 0; x < 5; x++)
            *text++ = rows[dot_row] >> (4 - x) & 1 ? '#' : '.';
    }
    *text = 0;
}

static void a_bar_is_as_long_as_its_share(void **state)
{
    (void)state;
    char text[41], expected[41];
    for (uint8_t lit = 0; lit <= 40; lit++) {
        assert_int_equal(
            dia_characters_bar(&display, &western, 4, 1, 8, (dia_share)(DIA_SHARE_ONE * lit / 40)),
            DIA_OK);
        show();
        for (uint8_t row = 0; row < 8; row += 7) {
            for (uint8_t k = 0; k < 40; k++)
                expected[k] = k < lit ? '#' : '.';
            expected[40] = 0;
            dots(1, 4, 8, row, text);
            assert_string_equal(text, expected);
        }
    }
    assert_int_equal(dia_characters_bar(&display, &western, 4, 1, 8, DIA_SHARE_ONE + 1),
                     DIA_BAD_VALUE);
    /* a ROM without a block draws it */
    static const struct dia_letters a02 = {.rom = &dia_rom_a02};
    assert_int_equal(dia_characters_bar(&display, &a02, 0, 0, 2, DIA_SHARE_ONE * 7 / 10), DIA_OK);
    show();
    dots(0, 0, 2, 4, text);
    assert_string_equal(text, "#######...");
}

/* 12:7 over two rows, as it looks. */
static void tall_numbers_are_two_rows_high(void **state)
{
    (void)state;
    static const char *const expected[] = {"##########..... ############### ..... ###############",
                                           "##########..... ############### ..... ###############",
                                           ".....#####..... ..........##### ..... ..........#####",
                                           ".....#####..... ..........##### .###. ..........#####",
                                           ".....#####..... ..........##### .###. ..........#####",
                                           ".....#####..... ..........##### .###. ..........#####",
                                           ".....#####..... ############### ..... ..........#####",
                                           ".....#####..... ############### ..... ..........#####",
                                           ".....#####..... #####.......... ..... ..........#####",
                                           ".....#####..... #####.......... ..... ..........#####",
                                           ".....#####..... #####.......... ..... ..........#####",
                                           ".....#####..... #####.......... .###. ..........#####",
                                           ".....#####..... #####.......... .###. ..........#####",
                                           ".....#####..... #####.......... .###. ..........#####",
                                           "############### ############### ..... ..........#####",
                                           "############### ############### ..... ..........#####"};
    assert_int_equal(dia_characters_tall(&display, &western, 0, 0, 16, "12:7 45"), DIA_OK);
    show();
    for (uint8_t row = 0; row < 16; row++) {
        char text[81], cut[60], *at = cut;
        dots(row / 8, 0, 13, row % 8, text);
        for (int k = 0; k < 13; k++) { /* the cells between are dark: a space stands for each */
            int between = k == 3 || k == 7 || k == 9;
            at += sprintf(at, "%.*s", between ? 1 : 5, between ? " " : text + 5 * k);
        }
        assert_string_equal(cut, expected[row]);
    }
    assert_int_equal(shown()->code[0][13], ' '); /* 45 has no room */
    assert_int_equal(dia_characters_tall(&display, &western, 0, 1, 16, "1"), DIA_BAD_VALUE);
    /* all signs together need no more than four glyphs */
    assert_int_equal(dia_characters_tall(&display, &western, 0, 0, 16, "8-2."), DIA_OK);
    assert_int_equal(dia_characters_tall(&display, &western, 0, 0, 16, "0:35"), DIA_OK);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(signs_have_the_codes_of_the_rom),
        cmocka_unit_test_setup_teardown(a_text_fills_its_field, begin, end),
        cmocka_unit_test_setup_teardown(own_signs_come_before_the_face, begin, end),
        cmocka_unit_test_setup_teardown(eight_glyphs_are_handed_out, begin, end),
        cmocka_unit_test_setup_teardown(no_cell_flashes_another_shape, begin, end),
        cmocka_unit_test_setup_teardown(a_bar_is_as_long_as_its_share, begin, end),
        cmocka_unit_test_setup_teardown(tall_numbers_are_two_rows_high, begin, end),
    };
    return cmocka_run_group_tests_name("letters", tests, NULL, NULL);
}
