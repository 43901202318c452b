/* SPDX-License-Identifier: MIT */
#include "../desk.h"

#include <string.h>

enum { DIN = 10, CLK = 11, CS = 12 };
static const uint8_t pins[DIA_MATRIX_PINS] = {DIN, CLK, CS};

static struct dia_matrix matrix;
static uint8_t rows[DIA_MATRIX_ROWS(64)], memory[DIA_MATRIX_BYTES(64)];

static int connect(const struct dia_matrix_part *part, uint32_t clock_hz, uint16_t chips)
{
    const struct dia_device_setup setup = {
        .name = "board", .part = part->name, .pins = pins, .count = chips, .lamp_ua = 37000};
    desk_set_up(48000000);
    assert_int_equal(dia_sim_spi_pins(&sim, 0, CLK, DIN), DIA_OK);
    int device = dia_bench_matrix(bench, &setup);
    assert_true(device >= 0);
    assert_int_equal(
        dia_matrix_init(&matrix, &sim.port, part, 0, CS, clock_hz, rows, memory, chips), DIA_OK);
    return device;
}

static void show(void)
{
    assert_int_equal(dia_driver_show_and_wait(&matrix.driver), DIA_OK);
    desk_settle();
}

static void random_frames_come_out_of_chains_of_any_length(void **state)
{
    (void)state;
    uint32_t seed = 3;
    for (uint16_t chips = 1; chips <= 64; chips++) {
        const struct dia_matrix_part *part = dia_matrix_parts[chips % 2];
        int device = connect(part, part->max_hz, chips);
        const struct dia_lamps_shown *shown = dia_bench_lamps(bench, device);
        for (int frame = 0; frame < 4; frame++) {
            for (int k = 0; k < 100; k++)
                dia_matrix_set(&matrix, random_below(&seed, chips * 64u),
                               (uint8_t)random_below(&seed, 2));
            show();
            for (uint32_t i = 0; i < chips * 64u; i++)
                assert_int_equal(shown->level[i] != 0, rows[i / 8] >> (i % 8) & 1);
            desk_draws(shown, chips * 64u, 37000, 8);
        }
        desk_finds(NULL);
        desk_clear();
    }
}

/* 5 words of set-up, 8 rows, light: 14 transmissions of 3 words of 16 bits; then one. */
static void a_changed_row_costs_its_own_words(void **state)
{
    (void)state;
    int device = connect(&dia_max7219, 1000000, 3);
    struct dia_about about;
    dia_driver_about(&matrix.driver, &about);
    assert_int_equal(about.worst_us, 14 * (3 * 16 + 50)); /* 50 us between two of them */
    show();
    assert_int_equal(edges_heard[CLK], 14 * 3 * 16);
    show();
    assert_int_equal(edges_heard[CLK], 14 * 3 * 16); /* nothing has changed */
    dia_matrix_set(&matrix, 64 + 2 * 8 + 5, 1);
    show();
    assert_int_equal(edges_heard[CLK], 15 * 3 * 16);
    assert_int_equal(dia_bench_lamps(bench, device)->level[64 + 2 * 8 + 5], 31 * 65535 / 32);
    dia_driver_refresh(&matrix.driver);
    show();
    assert_int_equal(edges_heard[CLK], (15 + 13) * 3 * 16);
    assert_int_equal(dia_bench_lamps(bench, device)->level[64 + 2 * 8 + 5], 31 * 65535 / 32);
    desk_clear();
}

/* What the chips hold after power-up is garbage: at no moment may any of it be lit. */
static void nothing_shows_that_was_not_sent(void **state)
{
    (void)state;
    int device = connect(&dia_max7221, 1000000, 4);
    dia_matrix_set(&matrix, 70, 1);
    assert_int_equal(dia_driver_show(&matrix.driver), DIA_OK);
    while (dia_driver_poll(&matrix.driver, NULL) == DIA_BUSY) {
        desk_settle();
        for (uint32_t i = 0; i < 256; i++)
            assert_true(dia_bench_lamps(bench, device)->level[i] == 0 || i == 70);
    }
    desk_clear();
}

/* Duty from the sheets: (2n + 1) / 32 and (n + 1) / 16, at most 15 / 16. */
static void the_master_sets_the_intensity(void **state)
{
    (void)state;
    static const struct {
        uint8_t percent;
        uint32_t of_32[2]; /* MAX7219, MAX7221 */
    } by_hand[] = {{100, {31, 30}}, {50, {15, 16}}, {10, {3, 4}}, {3, {1, 2}}, {0, {0, 0}}};
    for (int which = 0; which < 2; which++) {
        int device = connect(dia_matrix_parts[which], 1000000, 2);
        dia_matrix_set(&matrix, 9, 1);
        for (size_t k = 0; k < 5; k++) {
            dia_driver_master(&matrix.driver, dia_share_percent(by_hand[k].percent));
            show();
            assert_int_equal(dia_bench_lamps(bench, device)->level[9],
                             by_hand[k].of_32[which] * 65535 / 32);
            assert_int_equal(dia_bench_lamps(bench, device)->level[8], 0);
        }
        desk_finds(NULL);
        desk_clear();
    }
}

/* Two modules; a dot at column 1, row 0 from the top left, in the words of the sheet: digit and
 * segment. Turned clockwise by a quarter, what was the left column (DP) is the top row. */
static void dots_lie_where_the_wiring_says(void **state)
{
    (void)state;
    static const struct {
        struct dia_matrix_wiring wiring;
        uint32_t output;
    } by_hand[] = {
        {{0, 0, 0}, 0 * 64 + 0 * 8 + 6}, /* digit 0, next to the left: segment A */
        {{1, 0, 0}, 0 * 64 + 6 * 8 + 7}, /* digit 6 of 0..7, left column of the module */
        {{2, 0, 0}, 0 * 64 + 7 * 8 + 1}, /* bottom row, next to its right end */
        {{3, 0, 0}, 0 * 64 + 1 * 8 + 0}, /* digit 1, its right column */
        {{0, 1, 0}, 0 * 64 + 0 * 8 + 1}, {{0, 0, 1}, 1 * 64 + 0 * 8 + 6},
    };
    for (size_t k = 0; k < sizeof by_hand / sizeof by_hand[0]; k++)
        assert_int_equal(dia_matrix_dot(&by_hand[k].wiring, 2, 1, 0), by_hand[k].output);
    /* all columns at once are the same dots */
    uint32_t seed = 5;
    uint8_t columns[16], one_by_one[16];
    for (uint8_t k = 0; k < 16; k++) {
        struct dia_matrix_wiring mounted = {k & 3, k >> 2 & 1, k >> 3};
        connect(&dia_max7219, 1000000, 2);
        for (int c = 0; c < 16; c++) {
            columns[c] = (uint8_t)random_below(&seed, 256);
            for (uint8_t row = 0; row < 8; row++)
                dia_matrix_set(&matrix, dia_matrix_dot(&mounted, 2, (uint16_t)c, row),
                               columns[c] >> row & 1);
        }
        memcpy(one_by_one, rows, 16);
        memset(rows, 0x55, 16);
        dia_matrix_columns(&matrix, &mounted, columns);
        assert_memory_equal(rows, one_by_one, 16);
        desk_clear();
    }
    struct dia_matrix_wiring wiring = {0, 0, 0};
    assert_int_equal(dia_matrix_segment(&wiring, 2, 4, 5, 0), 64 + 8 + 6); /* a of digit 5 */
    assert_int_equal(dia_matrix_segment(&wiring, 2, 4, 5, 7), 64 + 8 + 7);
    wiring.from_right = 1;
    assert_int_equal(dia_matrix_segment(&wiring, 2, 4, 7, 6), 0); /* g of the last digit */
}

/* One word for one chip, with the times given; what the bench says of them. */
static const struct {
    uint32_t low, high, set_up, before_clock, select;
    const char *code;
} timings[] = {
    {50, 50, 25, 25, 50, NULL},           {49, 51, 25, 25, 50, "pulse-short"},
    {51, 49, 25, 25, 50, "pulse-short"},  {50, 50, 24, 25, 50, "set-up-short"},
    {50, 50, 25, 24, 50, "select-short"}, {50, 50, 25, 25, 49, "select-short"},
};

static void the_model_minds_every_time_of_the_sheet(void **state)
{
    (void)state;
    for (size_t k = 0; k < sizeof timings / sizeof timings[0]; k++) {
        connect(&dia_max7221, 1000000, 1);
        by_hand_ns = 1000;
        after(0, CS, 0);
        after(100, CS, 1);
        after(timings[k].select, CS, 0);
        after(timings[k].before_clock, CLK, 1);
        for (int bit = 1; bit < 16; bit++) {
            after(timings[k].high, CLK, 0);
            after(timings[k].low - timings[k].set_up, DIN, (uint8_t)(bit & 1));
            after(timings[k].set_up, CLK, 1);
        }
        after(timings[k].high, CLK, 0);
        after(50, CS, 1);
        desk_finds(timings[k].code);
        desk_clear();
    }
    connect(&dia_max7219, 1000000, 1);
    by_hand_ns = 1000;
    after(100, CS, 0);
    for (int bit = 0; bit < 15; bit++) {
        after(50, CLK, 1);
        after(50, CLK, 0);
    }
    after(50, CS, 1);
    desk_finds("word-part");
    desk_clear();
}

static void what_cannot_be_is_refused(void **state)
{
    (void)state;
    struct dia_matrix other;
    connect(&dia_max7219, 1000000, 1);
    memset(rows, 7, sizeof rows);
    struct dia_port *port = &sim.port;
    const struct dia_matrix_part *part = &dia_max7219;
    assert_int_equal(dia_matrix_init(&other, port, part, 0, CS, 1000000, rows, memory, 0),
                     DIA_BAD_VALUE);
    assert_int_equal(dia_matrix_init(&other, port, part, 0, CS, 1000000, rows, memory, 10000),
                     DIA_BAD_VALUE);
    assert_int_equal(dia_matrix_init(&other, port, part, 0, CS, 10000001, rows, memory, 1),
                     DIA_BAD_VALUE);
    assert_int_equal(dia_matrix_init(&other, port, part, 0, 64, 1000000, rows, memory, 1),
                     DIA_BAD_VALUE);
    assert_int_equal(rows[0], 7);
    assert_int_equal(dia_matrix_init(&other, port, part, 0, CS, 10000000, rows, memory, 1), DIA_OK);
    dia_matrix_set(&other, 64, 1); /* beyond the chain */
    assert_int_equal(rows[8], 7);
    desk_clear();
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(random_frames_come_out_of_chains_of_any_length),
        cmocka_unit_test(a_changed_row_costs_its_own_words),
        cmocka_unit_test(nothing_shows_that_was_not_sent),
        cmocka_unit_test(the_master_sets_the_intensity),
        cmocka_unit_test(dots_lie_where_the_wiring_says),
        cmocka_unit_test(the_model_minds_every_time_of_the_sheet),
        cmocka_unit_test(what_cannot_be_is_refused),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
