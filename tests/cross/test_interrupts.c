/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <diachrome/bench.h>
#include <diachrome/diachrome.h>

#include "simulator.h"

/* The number behind some words on the serial port. */
static long number_said(const char *words)
{
    const char *at = strstr(said, words);
    if (!at)
        fail_msg("not said: %s; said: %s", words, said);
    return atol(at + strlen(words));
}

/*
 * interrupts_avr.c at each clock. An interrupt between reading a register and writing it back loses
 * a write (183 of 4000 when the guard is taken out): here none is lost, in either direction. The
 * digits are at rest for as long as the strip is sent, 24 pixels of 30 us, so they are even to 0.72
 * of 5 ms.
 */
static void interrupts_lose_nothing(void **state)
{
    (void)state;
    static const uint32_t clocks[] = {8, 16, 20};
    static const uint8_t rates[] = {32, 72, 92}; /* sheet: F / (16 + 2 RATE) is 100 kHz */
    for (int k = 0; k < 3; k++) {
        char name[32];
        snprintf(name, sizeof name, "interrupts_%u.elf", (unsigned)clocks[k]);
        heard_pins = 0xc30f1fu | 1u << PIN;
        avr_t *avr = run(name, clocks[k]);
        assert_int_equal(number_said("lost by the main loop "), 0);
        assert_int_equal(number_said("lost by the interrupt "), 0);
        assert_true(number_said("interrupts ") > 1000);
        assert_in_range(number_said("clock steps "), 0, 100);
        assert_in_range(number_said("and steps "), 0, 100);

        assert_int_equal(number_said("\nthere "), DIA_OK);
        assert_int_equal(number_said("\nnot there "), DIA_PORT_FAILED);
        assert_int_equal(number_said("\nthere again "), DIA_OK);
        assert_int_equal(avr->data[0xb8], rates[k]);
        static const uint8_t bytes[] = {0x5a, 0x00, 0xff, 0x00};
        assert_int_equal(taken_count, sizeof bytes);
        assert_memory_equal(taken, bytes, sizeof bytes);

        assert_null(strstr(said, "init "));
        assert_null(strstr(said, "show "));
        uint64_t ran_us = avr->cycle / clocks[k]; /* the serial port's last line comes after it */
        assert_in_range(number_said("now "), ran_us - 4000, ran_us);

        struct dia_bench *bench = dia_bench_new();
        struct dia_chain_setup strip = {
            .name = "strip", .part = "WS2812B", .order = "GRB", .pin = PIN, .count = 24};
        static const uint8_t pins[16] = {0, 1, 2, 3, 4, 8, 9, 10, 11, 16, 17, 23};
        struct dia_device_setup digits = {
            .name = "digits", .part = "digits", .pins = pins, .count = 4, .lamp_ua = 5000};
        assert_int_equal(dia_bench_chain(bench, &strip), 0);
        int device = dia_bench_digits(bench, &digits);
        uint32_t from = 0;
        while (edges[from].pin != PIN || !edges[from].level)
            from++; /* the pins part is over */
        uint32_t looks = from;
        while (looks < edge_count && edges[looks].t_ns < edges[from].t_ns + 10000000)
            looks++;
        dia_bench_take(bench, edges, looks);
        dia_bench_expose(bench, device, edges[looks].t_ns);
        dia_bench_take(bench, edges + looks, edge_count - looks);
        dia_bench_see(bench, device, edges[edge_count - 1].t_ns);
        dia_bench_settle(bench, edges[edge_count - 1].t_ns + 1000000);
        assert_int_equal(dia_bench_findings(bench)->count, 0);
        assert_int_equal(dia_bench_shown(bench, 0)->frames, 30);
        for (uint32_t i = 0; i < 24; i++) {
            uint8_t at = (uint8_t)(i < 6 ? i + 24 : i),
                    expected[] = {at, (uint8_t)(at * 7u), 255, 0};
            assert_memory_equal(dia_bench_shown(bench, 0)->drive[i], expected, 4);
        }
        const struct dia_lamps_shown *lamps = dia_bench_lamps(bench, device);
        for (uint32_t lamp = 0; lamp < 32; lamp++) {
            uint8_t lit = (uint8_t)(0x11u << lamp / 8) >> lamp % 8 & 1u;
            if (lit)
                assert_in_range(lamps->level[lamp], 65535 / 4 * 6 / 10, 65535 / 4 * 13 / 10);
            else
                assert_int_equal(lamps->level[lamp], 0);
        }
        dia_bench_free(bench);
        avr_terminate(avr);
    }
}

/*
 * moments_avr.c: ticks at random moments for 10 million cycles. A shift register of our own reads
 * the pins: what is latched is always one whole drawing, never one before the last, and at the end
 * the last. The strip beside it is right for the bench.
 */
static void ticks_may_come_at_any_moment(void **state)
{
    (void)state;
    uint32_t bits = 0, latched = 0, torn = 0, changes = 0;
    uint8_t data = 0, last = 0, clock = 0, latch = 0;
    int first = 1;
    heard_pins = 1u << 8 | 1u << 9 | 1u << 10 | 1u << PIN;
    avr_t *avr = run("moments_16.elf", 16);
    assert_true(avr->cycle > 10000000);
    assert_int_equal(said[0], '+');
    uint8_t drawn = (uint8_t)((said[1] - 'A') * 16 + said[2] - 'A');
    for (uint32_t k = 0; k < edge_count; k++) {
        const struct dia_edge *edge = &edges[k];
        if (edge->pin == 8)
            data = edge->level;
        if (edge->pin == 9 && edge->level && !clock)
            bits = bits << 1 | data;
        if (edge->pin == 10 && edge->level && !latch) {
            uint8_t k0 = (uint8_t)bits, b1 = (uint8_t)(bits >> 8), b2 = (uint8_t)(bits >> 16),
                    b3 = (uint8_t)(bits >> 24);
            int dark = bits == 0;
            latched++;
            torn += !dark && ((b1 ^ k0) != 0xff || b2 != (uint8_t)(k0 * 7u) || b3 != (k0 ^ 0x5au));
            if (!dark && !first)
                assert_in_range((uint8_t)(k0 - last), 0, 1);
            changes += !dark && !first && k0 != last;
            first = first && dark;
            last = dark ? last : k0;
        }
        clock = edge->pin == 9 ? edge->level : clock;
        latch = edge->pin == 10 ? edge->level : latch;
    }
    assert_int_equal(torn, 0);
    assert_int_equal(last, drawn);
    assert_true(latched > 500 && changes > 30);
    struct dia_bench *bench = dia_bench_new();
    struct dia_chain_setup strip = {.name = "strip", .part = "WS2812B", .pin = PIN, .count = 5};
    assert_int_equal(dia_bench_chain(bench, &strip), 0);
    dia_bench_take(bench, edges, edge_count);
    dia_bench_settle(bench, edges[edge_count - 1].t_ns + 1000000);
    assert_int_equal(dia_bench_findings(bench)->count, 0);
    assert_true(dia_bench_shown(bench, 0)->frames > 30);
    dia_bench_free(bench);
    avr_terminate(avr);
}

/* examples/atmega328p for 2.1 s: the digits say 2, the strip is lit, and nothing is wrong. */
static void the_example_project_works(void **state)
{
    (void)state;
    static const uint8_t pins[16] = {0, 1, 2, 3, 4, 5, 8, 9, 10, 11, 12, 13};
    struct dia_chain_setup strip = {.name = "strip", .part = "WS2812B", .pin = 21, .count = 72};
    struct dia_device_setup digits = {
        .name = "digits", .part = "digits", .pins = pins, .count = 4, .lamp_ua = 5000};
    heard_pins = 0x203f3fu;
    avr_t *avr = run_for("shelf.elf", 16, 2100);
    struct dia_bench *bench = dia_bench_new();
    strip.supply = digits.supply = dia_bench_supply(bench, "plug", 2000000, 150000);
    assert_int_equal(dia_bench_chain(bench, &strip), 0);
    int device = dia_bench_digits(bench, &digits);
    uint32_t looks = edge_count;
    while (edges[looks - 1].t_ns > 2000000000u + 50000000u)
        looks--;
    dia_bench_take(bench, edges, looks);
    dia_bench_expose(bench, device, edges[looks].t_ns);
    dia_bench_take(bench, edges + looks, edge_count - looks);
    dia_bench_see(bench, device, edges[edge_count - 1].t_ns);
    assert_int_equal(dia_bench_findings(bench)->count, 0);
    assert_true(dia_bench_shown(bench, 0)->frames > 50);
    assert_true(dia_bench_shown(bench, 0)->drive[0][0] != 0);
    uint8_t lit = 0;
    for (uint32_t lamp = 0; lamp < 8; lamp++)
        lit |= (uint8_t)((dia_bench_lamps(bench, device)->level[lamp] != 0) << lamp);
    assert_int_equal(lit, 0x5b); /* a b d e g: 2 */
    dia_bench_free(bench);
    avr_terminate(avr);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(interrupts_lose_nothing),
        cmocka_unit_test(ticks_may_come_at_any_moment),
        cmocka_unit_test(the_example_project_works),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
