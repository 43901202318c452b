/* SPDX-License-Identifier: MIT */
/*
 * The pulse engine, instruction by instruction, by the RP2040 data sheet (PIO, instruction set):
 * bits 15..13 say which, 12..8 the pins beside it and the delay, 7..0 what it works on.
 */
#include <diachrome/pulse_engine.h>

#include "../support.h"

enum { JMP = 0, OUT = 3, PULL = 4, MOV = 5, SET = 7 };
enum { PINS, X, Y, NOTHING, ALL = 7 };
#define WORD(which, beside, a, b) (uint16_t)((which) << 13 | (beside) << 8 | (a) << 5 | (b))
#define MOVES(to, op, from)       WORD(MOV, 0, to, (op) << 3 | (from))

static struct dia_engine engine;
static struct {
    uint64_t ns;
    uint8_t pin, level;
} edges[40];
static uint32_t edge_count;

static void keep(void *self, const struct dia_edge *edge, uint32_t n)
{
    (void)self;
    for (uint32_t k = 0; k < n && edge_count < 40; k++) {
        edges[edge_count].ns = edge[k].t_ns;
        edges[edge_count].pin = edge[k].pin;
        edges[edge_count++].level = edge[k].level;
    }
}

/* Five pins from 3 on for OUT and SET; a cycle is 1 us. Runs so many instructions without delay. */
static enum dia_engine_state run(const uint16_t *words, uint8_t count, uint32_t steps,
                                 const uint32_t *data, uint32_t data_count, uint8_t pull_bits)
{
    const struct dia_engine_setup setup = {.words = words,
                                           .count = count,
                                           .set_count = 5,
                                           .set_pin = 3,
                                           .out_count = 5,
                                           .out_pin = 3,
                                           .pull_bits = pull_bits,
                                           .clock_hz = 1000000,
                                           .divider = 256,
                                           .data = data,
                                           .data_count = data_count};
    edge_count = 0;
    dia_engine_init(&engine, &setup);
    return dia_engine_run(&engine, steps * 1000ull, keep, NULL);
}

static void each_condition_jumps_when_it_should(void **state)
{
    (void)state;
    static const struct {
        uint8_t condition, x, y, jumps;
        uint32_t x_then, y_then;
    } cases[] = {
        {0, 0, 0, 1, 0, 0}, {0, 3, 4, 1, 3, 4},          {1, 0, 3, 1, 0, 3},
        {1, 3, 0, 0, 3, 0}, {2, 3, 0, 1, 2, 0},          {2, 0, 3, 0, UINT32_MAX, 3},
        {2, 1, 7, 1, 0, 7}, {3, 3, 0, 1, 3, 0},          {3, 0, 3, 0, 0, 3},
        {4, 0, 3, 1, 0, 2}, {4, 3, 0, 0, 3, UINT32_MAX}, {5, 3, 4, 1, 3, 4},
        {5, 4, 4, 0, 4, 4}, {6, 1, 1, 0, 1, 1}, /* an input pin: low */
    };
    for (size_t k = 0; k < sizeof cases / sizeof cases[0]; k++) {
        const uint16_t words[8] = {WORD(SET, 0, X, cases[k].x), WORD(SET, 0, Y, cases[k].y),
                                   WORD(JMP, 0, cases[k].condition, 6)};
        assert_int_equal(run(words, 8, 3, NULL, 0, 0), DIA_ENGINE_RUNS);
        assert_int_equal(engine.at, cases[k].jumps ? 6 : 3);
        assert_int_equal(engine.x, cases[k].x_then);
        assert_int_equal(engine.y, cases[k].y_then);
    }
    /* data that has not all gone: 32 bits of each word, or those after which one is fetched */
    static const uint32_t data[] = {0xa5000000, 7};
    static const struct {
        uint8_t pull_bits, first, jumps;
    } gone[] = {{0, 31, 1}, {0, 0, 0}, {8, 7, 1}, {8, 8, 0}, {31, 30, 1}};
    for (size_t k = 0; k < sizeof gone / sizeof gone[0]; k++) {
        const uint16_t words[8] = {gone[k].pull_bits ? WORD(SET, 0, X, 0) : WORD(PULL, 0, 5, 0),
                                   WORD(OUT, 0, Y, gone[k].first), WORD(JMP, 0, 7, 6)};
        assert_int_equal(run(words, 8, 3, data, 2, gone[k].pull_bits), DIA_ENGINE_RUNS);
        assert_int_equal(engine.at, gone[k].jumps ? 6 : 3);
    }
}

static void moves_copy_and_invert(void **state)
{
    (void)state;
    static const uint32_t data[] = {0x12345678};
    static const struct {
        uint8_t to, op, from, known;
        uint32_t pins, x, y;
    } cases[] = {
        {PINS, 0, X, 1, 21, 21, 10},       {PINS, 1, X, 1, 10, 21, 10},
        {PINS, 0, Y, 1, 10, 21, 10},       {X, 0, Y, 1, 0, 10, 10},
        {Y, 0, X, 1, 0, 21, 21},           {Y, 1, X, 1, 0, 21, ~21u},
        {X, 0, NOTHING, 1, 0, 0, 10},      {X, 1, NOTHING, 1, 0, UINT32_MAX, 10},
        {X, 0, ALL, 1, 0, 0x12345678, 10}, {PINS, 0, ALL, 1, 24, 21, 10},
        {X, 2, Y, 0, 0, 21, 10},           {X, 0, 5, 0, 0, 21, 10},
        {X, 0, PINS, 0, 0, 21, 10},        {3, 0, X, 0, 0, 21, 10},
        {5, 0, X, 0, 0, 21, 10},           {6, 0, X, 0, 0, 21, 10},
    };
    for (size_t k = 0; k < sizeof cases / sizeof cases[0]; k++) {
        const uint16_t words[5] = {WORD(PULL, 0, 5, 0), WORD(SET, 0, X, 21), WORD(SET, 0, Y, 10),
                                   MOVES(cases[k].to, cases[k].op, cases[k].from),
                                   WORD(SET, 0, X, 1)};
        assert_int_equal(run(words, 5, 4, data, 1, 0),
                         cases[k].known ? DIA_ENGINE_RUNS : DIA_ENGINE_UNKNOWN);
        assert_int_equal(engine.levels, (uint64_t)cases[k].pins << 3);
        assert_int_equal(engine.x, cases[k].x);
        assert_int_equal(engine.y, cases[k].y);
        assert_int_equal(engine.at, cases[k].known ? 4 : 3);
    }
    const uint16_t back[4] = {WORD(SET, 0, X, 21), MOVES(ALL, 0, X), WORD(OUT, 0, Y, 28),
                              WORD(OUT, 0, PINS, 4)};
    run(back, 4, 4, NULL, 0, 0);
    assert_int_equal(engine.y, 1); /* 21 = 0x15 */
    assert_int_equal(engine.levels, 5u << 3);
}

/* The most significant bits go first; 0 stands for 32 of them; a new word comes when it must. */
static void data_goes_out_from_the_top(void **state)
{
    (void)state;
    static const uint32_t data[] = {0xf1234567, 0x80000001};
    const uint16_t words[] = {WORD(OUT, 0, PINS, 4),     WORD(OUT, 0, X, 12), WORD(OUT, 0, Y, 16),
                              WORD(OUT, 0, NOTHING, 31), WORD(OUT, 0, X, 1),  WORD(OUT, 0, Y, 8)};
    assert_int_equal(run(words, 6, 3, data, 2, 32), DIA_ENGINE_RUNS);
    assert_int_equal(engine.levels, 15u << 3);
    assert_int_equal(engine.x, 0x123);
    assert_int_equal(engine.y, 0x4567);
    assert_int_equal(engine.taken, 1);
    assert_int_equal(run(words, 6, 5, data, 2, 32), DIA_ENGINE_RUNS);
    assert_int_equal(engine.x, 1);
    assert_int_equal(engine.taken, 2);
    assert_int_equal(run(words, 6, 6, data, 2, 32), DIA_ENGINE_WAITS); /* there is no more */
    assert_int_equal(engine.at, 5);
    assert_int_equal(dia_engine_now_ns(&engine), 5000);
    const uint16_t whole[] = {WORD(OUT, 0, X, 0), WORD(OUT, 0, Y, 3), WORD(OUT, 0, 4, 1)};
    assert_int_equal(run(whole, 3, 2, data, 2, 32), DIA_ENGINE_RUNS);
    assert_int_equal(engine.x, 0xf1234567);
    assert_int_equal(engine.y, 4);
    assert_int_equal(run(whole, 3, 3, data, 2, 32), DIA_ENGINE_UNKNOWN);
    /* by PULL alone: what has gone is 0 until it comes, and it waits when there is none */
    const uint16_t pulls[] = {WORD(OUT, 0, X, 8), WORD(PULL, 0, 5, 0), WORD(OUT, 0, Y, 8)};
    assert_int_equal(run(pulls, 3, 3, data, 2, 0), DIA_ENGINE_RUNS);
    assert_int_equal(engine.x, 0);
    assert_int_equal(engine.y, 0xf1);
    assert_int_equal(run(pulls, 3, 9, data, 1, 0), DIA_ENGINE_WAITS);
    assert_int_equal(engine.at, 1);
}

static void others_are_not_known(void **state)
{
    (void)state;
    static const uint16_t words[] = {WORD(1, 0, 0, 0),   WORD(2, 0, 0, 0),    WORD(6, 0, 0, 0),
                                     WORD(4, 0, 0, 0),   WORD(PULL, 0, 4, 0), WORD(PULL, 0, 1, 0),
                                     WORD(SET, 0, 3, 0), WORD(SET, 0, 4, 1)};
    static const uint32_t data[] = {1};
    for (size_t k = 0; k < sizeof words / sizeof words[0]; k++)
        assert_int_equal(run(&words[k], 1, 1, data, 1, 0), DIA_ENGINE_UNKNOWN);
    const uint16_t past[] = {WORD(JMP, 0, 0, 9)}; /* behind the last word there is nothing */
    assert_int_equal(run(past, 1, 3, NULL, 0, 0), DIA_ENGINE_UNKNOWN);
}

/*
 * A divider of 2.5 at 10 MHz: cycles begin with clock 0, 2, 5, 7, 10, 12. Two pins beside leave
 * three bits of delay; they are set while it waits too, and win over those of the instruction.
 */
static void each_instruction_has_its_time(void **state)
{
    (void)state;
    const uint16_t words[] = {WORD(SET, 0x08 | 1, PINS, 1), /* beside: 01, one cycle more */
                              WORD(SET, 0x10, PINS, 0),     /* 10 */
                              WORD(SET, 0x00 | 7, PINS, 3)};
    const struct dia_engine_setup setup = {.words = words,
                                           .count = 3,
                                           .wrap = 1,
                                           .side_count = 2,
                                           .side_pin = 20,
                                           .set_count = 2,
                                           .set_pin = 62,
                                           .clock_hz = 10000000,
                                           .divider = 640};
    static const struct {
        uint64_t ns;
        uint8_t pin, level;
    } expected[] = {{0, 62, 1},    {0, 20, 1},    {500, 62, 0}, {500, 20, 0}, {500, 21, 1},
                    {700, 62, 1},  {700, 63, 1},  {700, 21, 0}, /* eight cycles, 20 clocks */
                    {2700, 62, 0}, {2700, 63, 0}, {2700, 21, 1}};
    edge_count = 0;
    dia_engine_init(&engine, &setup);
    assert_int_equal(dia_engine_run(&engine, 2701, keep, NULL), DIA_ENGINE_RUNS);
    assert_int_equal(edge_count, sizeof expected / sizeof expected[0]);
    for (uint32_t k = 0; k < edge_count; k++) {
        assert_int_equal(edges[k].ns, expected[k].ns);
        assert_int_equal(edges[k].pin, expected[k].pin);
        assert_int_equal(edges[k].level, expected[k].level);
    }
    assert_int_equal(dia_engine_run(&engine, 2701, NULL, NULL), DIA_ENGINE_RUNS); /* it is there */
    assert_int_equal(dia_engine_now_ns(&engine), 3000);
    /* five pins beside leave no delay; pins after 63 are 0 and on */
    struct dia_engine_setup five = setup;
    const uint16_t all[] = {WORD(SET, 31, X, 0)};
    five.words = all;
    five.count = 1;
    five.wrap = 0;
    five.side_count = 5;
    five.side_pin = 61;
    dia_engine_init(&engine, &five);
    dia_engine_run(&engine, 1, keep, NULL);
    assert_int_equal(engine.cycle, 1);
    assert_int_equal(engine.levels, (uint64_t)7 << 61 | 3);
    /* a second has as many clocks as it says: 133 MHz, 399 000 001 cycles */
    five.clock_hz = 133000000;
    five.divider = 256;
    dia_engine_init(&engine, &five);
    engine.cycle = 399000001;
    assert_int_equal(dia_engine_now_ns(&engine), 3000000007); /* 3 s and 7.5 ns */
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(each_condition_jumps_when_it_should),
        cmocka_unit_test(moves_copy_and_invert),
        cmocka_unit_test(data_goes_out_from_the_top),
        cmocka_unit_test(others_are_not_known),
        cmocka_unit_test(each_instruction_has_its_time),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
