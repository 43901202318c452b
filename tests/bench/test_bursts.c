/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <string.h>

#include <diachrome/bench.h>
#include <diachrome/diachrome.h>
#include <diachrome/sim.h>

/*
 * A desk that takes bursts and one that takes edges hear the same program, sound and broken, and
 * must show, draw and find the same.
 */
#define PIXELS 9
#define PULSES 3 /* the pins */
#define DATA   4
#define CLOCK  5
#define DIN    6
#define CLK    7
#define CS     8
#define RCLK   9

struct desk {
    struct dia_sim sim;
    struct dia_bench *bench;
    int supply, pulses, clocked, matrix, shift;
};

static struct desk desks[2];
static uint32_t taken, offered;
static uint32_t seed;

static uint32_t draw_below(uint32_t n)
{
    seed ^= seed << 13;
    seed ^= seed >> 17;
    seed ^= seed << 5;
    return seed % n;
}

static int take_and_count(void *self, const struct dia_burst *burst)
{
    int takes = dia_bench_take_burst(self, burst);
    offered++;
    taken += takes != 0;
    return takes;
}

static void lay(struct desk *desk, const char *pulses, const char *clocked, uint32_t clock_hz)
{
    dia_sim_init(&desk->sim, clock_hz);
    desk->bench = dia_bench_new();
    assert_int_equal(dia_sim_bursts(&desk->sim, dia_bench_take_burst), DIA_UNSUPPORTED);
    assert_int_equal(dia_sim_listen(&desk->sim, dia_bench_take, desk->bench), DIA_OK);
    if (desk == &desks[0])
        assert_int_equal(dia_sim_bursts(&desk->sim, take_and_count), DIA_OK);
    assert_int_equal(dia_sim_spi_pins(&desk->sim, 0, CLOCK, DATA), DIA_OK);
    assert_int_equal(dia_sim_spi_pins(&desk->sim, 1, CLK, DIN), DIA_OK);
    desk->supply = dia_bench_supply(desk->bench, "pier", 200000, 0);
    desk->pulses = dia_bench_chain(
        desk->bench, &(struct dia_chain_setup){
                         .name = "p", .part = pulses, .pin = PULSES, .count = PIXELS, .supply = 1});
    desk->clocked = dia_bench_chain(desk->bench, &(struct dia_chain_setup){.name = "c",
                                                                           .part = clocked,
                                                                           .pin = DATA,
                                                                           .clock_pin = CLOCK,
                                                                           .count = PIXELS,
                                                                           .supply = 1});
    desk->matrix = dia_bench_matrix(
        desk->bench,
        &(struct dia_device_setup){"m", "MAX7221", (uint8_t[]){DIN, CLK, CS}, 2, 1, 5, 0, NULL});
    desk->shift = dia_bench_shift(
        desk->bench,
        &(struct dia_device_setup){"s", "74HC595", (uint8_t[]){DIN, CLK, RCLK, DIA_NO_PIN}, 3, 1, 5,
                                   0, NULL});
    assert_true(desk->pulses >= 0 && desk->clocked >= 0 && desk->matrix >= 0 && desk->shift >= 0);
}

static void same_findings(void)
{
    const struct dia_findings *a = dia_bench_findings(desks[0].bench);
    const struct dia_findings *b = dia_bench_findings(desks[1].bench);
    assert_int_equal(a->count, b->count);
    for (uint32_t i = 0; i < a->count; i++) {
        const struct dia_finding *other = dia_findings_find(b, a->items[i].code, a->items[i].place);
        assert_non_null(other);
        assert_string_equal(a->items[i].text, other->text);
        assert_int_equal(a->items[i].times, other->times);
        assert_true(a->items[i].t_ns == other->t_ns);
    }
}

static void same_chains(int chain)
{
    const struct dia_shown *a = dia_bench_shown(desks[0].bench, chain);
    const struct dia_shown *b = dia_bench_shown(desks[1].bench, chain);
    assert_memory_equal(a->drive, b->drive, PIXELS * sizeof a->drive[0]);
    assert_int_equal(a->frames, b->frames);
    assert_true(a->latched_ns == b->latched_ns);
    assert_true(a->draws_ua == b->draws_ua);
}

static void same_devices(int device)
{
    const struct dia_lamps_shown *a = dia_bench_lamps(desks[0].bench, device);
    const struct dia_lamps_shown *b = dia_bench_lamps(desks[1].bench, device);
    assert_int_equal(a->count, b->count);
    assert_memory_equal(a->level, b->level, a->count * sizeof a->level[0]);
    assert_int_equal(a->frames, b->frames);
    assert_true(a->latched_ns == b->latched_ns);
}

static void all_the_same(void)
{
    for (int i = 0; i < 2; i++)
        dia_bench_settle(desks[i].bench, desks[i].sim.now_ns);
    same_chains(desks[0].pulses);
    same_chains(desks[0].clocked);
    same_devices(desks[0].matrix);
    same_devices(desks[0].shift);
    assert_true(dia_bench_most_ua(desks[0].bench, 1) == dia_bench_most_ua(desks[1].bench, 1));
    same_findings();
}

/* A frame of some part or of nothing in particular, now and then one that is too short, too long,
 * misshapen or too early. */
static void one_step(const struct dia_pulse_timing *timing, uint32_t clock_hz)
{
    static uint8_t bytes[4 * PIXELS + 24]; /* in use until the frame is out */
    struct dia_pulse_timing shape = *timing;
    uint32_t what = draw_below(12), n = 1 + draw_below(sizeof bytes);
    uint32_t rest_us = 20 + draw_below(20) * draw_below(100);
    uint32_t hz = draw_below(8) ? clock_hz : 2 * clock_hz;
    uint8_t pin = (uint8_t)(CS + draw_below(2)), level = draw_below(2) != 0;
    if (draw_below(6) == 0)
        shape.range[draw_below(4)].nominal_ns = (uint16_t)(100 + draw_below(1500));
    for (uint32_t i = 0; i < n; i++)
        bytes[i] = (uint8_t)draw_below(256);
    for (uint32_t i = 0; i < 4 && i < n && draw_below(8); i++)
        bytes[i] = 0;
    for (uint32_t i = 4; i < n && what == 5; i += 4)
        bytes[i] |= 0xe0;
    for (int i = 0; i < 2; i++) {
        struct dia_port *port = &desks[i].sim.port;
        if (what < 4)
            port->ops->pulse_start(port, PULSES, bytes, what ? 3 * PIXELS : n, &shape);
        else if (what < 7)
            port->ops->spi_start(port, 0, hz, bytes, n);
        else if (what < 10)
            port->ops->spi_start(port, 1, hz, bytes, n);
        else
            port->ops->pin_write(port, pin, level);
        dia_sim_advance_us(&desks[i].sim, rest_us);
        while (port->ops->pulse_poll(port, PULSES) == DIA_BUSY ||
               port->ops->spi_poll(port, 0) == DIA_BUSY || port->ops->spi_poll(port, 1) == DIA_BUSY)
            ;
    }
}

static void plays_the_same(const struct dia_pixel_part *pulses, const char *clocked,
                           uint32_t clock_hz, const struct dia_chain_fault *fault,
                           uint32_t noise_ppm)
{
    for (int i = 0; i < 2; i++) {
        lay(&desks[i], pulses->name, clocked, 48000000);
        dia_bench_chain_fault(desks[i].bench, desks[i].pulses, fault);
        dia_bench_chain_fault(desks[i].bench, desks[i].clocked, fault);
        dia_bench_noise(desks[i].bench, CLOCK, noise_ppm, 7);
    }
    for (int step = 0; step < 200; step++) {
        one_step(&pulses->timing, clock_hz);
        if (step % 3 == 2) /* what nobody looks at in between counts too */
            all_the_same();
    }
    for (int i = 0; i < 2; i++)
        dia_bench_free(desks[i].bench);
}

static const struct dia_chain_fault sound = {0};

/* Every kind of wire, with the clock at its limit. */
static void bursts_and_edges_are_the_same_for_every_part(void **state)
{
    (void)state;
    static const char *const clocked[] = {"APA102", "SK9822", "WS2801", "LPD8806"};
    const struct dia_pixel_part *pulses[] = {&dia_ws2812b, &dia_sk6812_rgbw, &dia_ws2811_slow};
    seed = 1;
    taken = offered = 0;
    for (int i = 0; i < 4; i++)
        plays_the_same(pulses[i % 3], clocked[i], i == 2 ? 25000000 : 15000000, &sound, 0);
    assert_true(taken > 1000); /* most are well inside the limits */
    assert_true(offered - taken > 50);
}

static void so_they_are_where_something_is_broken(void **state)
{
    (void)state;
    seed = 2;
    plays_the_same(&dia_ws2812b, "APA102", 4000000,
                   &(struct dia_chain_fault){.wrong_ppm = 20000, .seed = 3}, 0);
    plays_the_same(&dia_ws2812b, "SK9822", 4000000, &(struct dia_chain_fault){.dead = 4}, 0);
    plays_the_same(&dia_ws2812b, "LPD8806", 4000000, &(struct dia_chain_fault){.wrong_end = 1}, 0);
    plays_the_same(&dia_ws2812b, "WS2801", 1000000, &sound, 30000);
}

static uint32_t edges_heard;

static void hear(void *self, const struct dia_edge *edges, uint32_t n)
{
    (void)self;
    (void)edges;
    edges_heard += n;
}

/* Eight bits of pulses are 16 edges, of a clock 16 and the changes of the data: 1, 0 again. */
static void who_listens_besides_hears_every_edge(void **state)
{
    (void)state;
    static const uint8_t byte = 0x80;
    lay(&desks[0], "WS2812B", "APA102", 0);
    struct dia_port *port = &desks[0].sim.port;
    offered = 0;
    assert_int_equal(dia_sim_listen(&desks[0].sim, hear, NULL), DIA_OK);
    port->ops->pulse_start(port, PULSES, &byte, 1, &dia_ws2812b.timing);
    port->ops->spi_start(port, 0, 1000000, &byte, 1);
    dia_sim_advance_us(&desks[0].sim, 100);
    assert_int_equal(edges_heard, 16 + 16 + 2);
    assert_int_equal(offered, 0);
    dia_bench_free(desks[0].bench);
}

static void send(struct desk *desk, const uint8_t *bytes, uint32_t n)
{
    struct dia_port *port = &desk->sim.port;
    assert_int_equal(port->ops->spi_start(port, 0, 1000000, bytes, n), DIA_OK);
    while (port->ops->spi_poll(port, 0) == DIA_BUSY)
        ;
}

/* An LPD8806 shows a frame when the next one begins. One that nobody looked at meanwhile counts in
 * the most that was drawn, as one that was looked at. */
static void each_frame_counts_in_the_most_that_was_drawn(void **state)
{
    (void)state;
    uint8_t white[3 * PIXELS + 1] = {0}, black[3 * PIXELS + 1] = {0};
    memset(white, 0xff, 3 * PIXELS);
    memset(black, 0x80, 3 * PIXELS);
    uint64_t most[3];
    for (int how = 0; how < 3; how++) { /* looked at, edge by edge, in bursts */
        struct desk *desk = &desks[how == 2 ? 0 : 1];
        lay(desk, "WS2812B", "LPD8806", 0);
        send(desk, white, sizeof white);
        if (how == 0)
            dia_bench_settle(desk->bench, desk->sim.now_ns);
        send(desk, black, sizeof black);
        dia_bench_settle(desk->bench, desk->sim.now_ns);
        assert_int_equal(dia_bench_shown(desk->bench, desk->clocked)->drive[0][0], 0);
        most[how] = dia_bench_most_ua(desk->bench, 1);
        dia_bench_free(desk->bench);
    }
    assert_true(most[0] > 9 * 3 * 10000); /* 20 mA a colour, of which a look sees most */
    for (int how = 1; how < 3; how++)     /* the displays beside it may be looked at too */
        assert_in_range(most[how], most[0] - 100, most[0]);
}

/* Whoever begins to listen in the middle of a frame: words are known by the zeros before them, so
 * an APA102 shows its first whole frame; bytes by a rest, so a WS2801 shows what comes after it. */
static void who_joins_late_waits_for_a_beginning(void **state)
{
    (void)state;
    uint8_t words[4 + 4 * PIXELS + 4] = {0}, bytes[3 * PIXELS];
    for (uint32_t k = 1; k <= PIXELS; k++)
        memcpy(words + 4 * k, (uint8_t[]){0xff, 1, 2, 3}, 4);
    memset(bytes, 7, sizeof bytes);
    lay(&desks[1], "WS2812B", "APA102", 0);
    dia_sim_advance_us(&desks[1].sim, 5);
    dia_bench_join(desks[1].bench, desks[1].sim.now_ns);
    send(&desks[1], words, sizeof words);
    send(&desks[1], words, sizeof words);
    dia_bench_settle(desks[1].bench, desks[1].sim.now_ns);
    assert_int_equal(dia_bench_shown(desks[1].bench, desks[1].clocked)->frames, 2);
    assert_int_equal(
        dia_findings_find(dia_bench_findings(desks[1].bench), "word-start", "c") != NULL, 0);
    dia_bench_free(desks[1].bench);

    lay(&desks[1], "WS2812B", "WS2801", 0);
    dia_sim_advance_us(&desks[1].sim, 5);
    dia_bench_join(desks[1].bench, desks[1].sim.now_ns);
    send(&desks[1], bytes, 5);
    dia_sim_advance_us(&desks[1].sim, 600);
    for (uint32_t k = 0; k < 2; k++) {
        send(&desks[1], bytes, sizeof bytes);
        dia_sim_advance_us(&desks[1].sim, 600);
        dia_bench_settle(desks[1].bench, desks[1].sim.now_ns);
        const struct dia_shown *shown = dia_bench_shown(desks[1].bench, desks[1].clocked);
        assert_int_equal(shown->frames, k + 1);
        assert_int_equal(shown->drive[PIXELS - 1][2], 7);
    }
    assert_int_equal(dia_bench_findings(desks[1].bench)->count, 0);
    dia_bench_free(desks[1].bench);
}

/* Registers with wires of their own: bits go to the one whose data and clock they are on. What is
 * on other wires goes by its edges, and shifts what is clocked. */
static void only_the_data_and_the_clock_of_one_device_make_bits(void **state)
{
    (void)state;
    enum { SER = 10, SRCLK, LATCH, OTHER_SER, OTHER_SRCLK, OTHER_LATCH };
    static const struct {
        uint8_t data, clock, takes;
    } wires[] = {{SER, SRCLK, 1},        {OTHER_SER, OTHER_SRCLK, 1}, {SER, LATCH, 0},
                 {LATCH, SRCLK, 0},      {SER, OTHER_SRCLK, 0},       {OTHER_SER, SRCLK, 0},
                 {SRCLK, OTHER_SRCLK, 0}};
    static const uint8_t bytes[] = {0xa5, 0x3c};
    for (size_t k = 0; k < sizeof wires / sizeof wires[0]; k++) {
        int one = 0, other = 0;
        for (int i = 0; i < 2; i++) {
            lay(&desks[i], "WS2812B", "APA102", 48000000);
            one = dia_bench_shift(
                desks[i].bench,
                &(struct dia_device_setup){
                    "t", "74HC595", (uint8_t[]){SER, SRCLK, LATCH, DIA_NO_PIN}, 2, 1, 5, 0, NULL});
            other = dia_bench_shift(desks[i].bench,
                                    &(struct dia_device_setup){"u", "74HC595",
                                                               (uint8_t[]){OTHER_SER, OTHER_SRCLK,
                                                                           OTHER_LATCH, DIA_NO_PIN},
                                                               2, 1, 5, 0, NULL});
            taken = 0;
            struct dia_port *port = &desks[i].sim.port;
            assert_int_equal(dia_sim_spi_pins(&desks[i].sim, 1, wires[k].clock, wires[k].data),
                             DIA_OK);
            port->ops->spi_start(port, 1, 1000000, bytes, sizeof bytes);
            dia_sim_advance_us(&desks[i].sim, 100);
            assert_int_equal(taken, i == 0 ? wires[k].takes : 0);
            port->ops->pin_write(port, LATCH, 1);
            port->ops->pin_write(port, OTHER_LATCH, 1);
            dia_bench_expose(desks[i].bench, one, desks[i].sim.now_ns);
            dia_sim_advance_us(&desks[i].sim, 1);
        }
        all_the_same();
        same_devices(one);
        same_devices(other);
        if (k == 0) { /* the byte that came first has gone on to the chip behind */
            const struct dia_lamps_shown *shown = dia_bench_lamps(desks[0].bench, one);
            for (uint32_t lamp = 0; lamp < 16; lamp++)
                assert_int_equal(shown->level[lamp] != 0, bytes[lamp < 8 ? 1 : 0] >> lamp % 8 & 1);
        }
        for (int i = 0; i < 2; i++)
            dia_bench_free(desks[i].bench);
    }
}

/* Edges soon before a burst and soon after it: a rise of SRCLK 40 ns before the first of the burst,
 * and RCLK 10 ns after the last, which is at 1000 + 15 * 60 + 30. */
static void what_is_around_a_burst_is_judged_with_it(void **state)
{
    (void)state;
    static const uint8_t bytes[] = {0x80, 0x01};
    static const uint64_t half = 30 << 10;
    const struct dia_device_setup setup = {
        "s", "74HC595", (uint8_t[]){DIN, CLK, RCLK, DIA_NO_PIN}, 2, 0, 5, 0, NULL};
    const struct dia_burst burst = {.bytes = bytes,
                                    .n = 2,
                                    .pin = DIN,
                                    .clock_pin = CLK,
                                    .at = 1000 << 10,
                                    .end = 1960 << 10,
                                    .high = {half, half},
                                    .low = {half, half}};
    static const struct dia_edge before[] = {{960, CLK, 0, 0}, {990, CLK, 1, 0}, {1000, CLK, 0, 0}};
    static const struct dia_edge after[] = {{1940, RCLK, 1, 0}};
    struct dia_bench *bench = dia_bench_new();
    int device = dia_bench_shift(bench, &setup);
    dia_bench_take(bench, before, 3);
    assert_int_equal(dia_bench_take_burst(bench, &burst), 1);
    dia_bench_take(bench, after, 1);
    const struct dia_findings *found = dia_bench_findings(bench);
    const struct dia_finding *fast = dia_findings_find(found, "clock-fast", "s"),
                             *late = dia_findings_find(found, "set-up-short", "s");
    assert_non_null(fast);
    assert_string_equal(fast->text, "a clock period lasts 40 ns; it must be 41 ns or longer");
    assert_non_null(late);
    assert_string_equal(late->text,
                        "SRCLK before the rising RCLK lasts 10 ns; it must be 25 ns or longer");
    assert_true(dia_bench_lamps(bench, device)->latched_ns == 1940);
    dia_bench_free(bench);
}

/* A byte for a chain of two registers is half of what they hold: it is said, but not where others
 * are on the bus, whichever was there first; they may have had the rest. */
static void half_a_word_is_said_where_nobody_else_is_on_the_bus(void **state)
{
    (void)state;
    static const uint8_t byte = 0x80;
    const struct dia_device_setup matrix = {"m", "MAX7221", (uint8_t[]){DIN, CLK, CS}, 1, 0, 5,
                                            0,   NULL};
    const struct dia_device_setup shift = {
        "s", "74HC595", (uint8_t[]){DIN, CLK, RCLK, DIA_NO_PIN}, 2, 0, 5, 0, NULL};
    for (int others = 0; others < 3; others++) {
        struct dia_sim sim;
        struct dia_bench *bench = dia_bench_new();
        dia_sim_init(&sim, 0);
        assert_int_equal(dia_sim_listen(&sim, dia_bench_take, bench), DIA_OK);
        assert_int_equal(dia_sim_spi_pins(&sim, 0, CLK, DIN), DIA_OK);
        if (others == 1)
            assert_true(dia_bench_matrix(bench, &matrix) >= 0);
        assert_true(dia_bench_shift(bench, &shift) >= 0);
        if (others == 2)
            assert_true(dia_bench_matrix(bench, &matrix) >= 0);
        sim.port.ops->pin_write(&sim.port, CS, 1);
        sim.port.ops->spi_start(&sim.port, 0, 1000000, &byte, 1);
        dia_sim_advance_us(&sim, 100);
        sim.port.ops->pin_write(&sim.port, RCLK, 1);
        dia_sim_advance_us(&sim, 1);
        const struct dia_findings *found = dia_bench_findings(bench);
        assert_int_equal(dia_findings_find(found, "word-part", "s") != NULL, others == 0);
        dia_bench_free(bench);
    }
}

/* The sheet's code B: digits, a dash, E, H, L, P and nothing, as segments A to G from bit 6 on. A
 * digit that is decoded lights what one that is not lights with these. */
static void a_max7219_decodes_code_b(void **state)
{
    (void)state;
    static const uint8_t segments[16] = {0x7e, 0x30, 0x6d, 0x79, 0x33, 0x5b, 0x5f, 0x70,
                                         0x7f, 0x7b, 0x01, 0x4f, 0x37, 0x0e, 0x67, 0x00};
    struct dia_sim sim;
    struct dia_bench *bench = dia_bench_new();
    dia_sim_init(&sim, 0);
    assert_int_equal(dia_sim_listen(&sim, dia_bench_take, bench), DIA_OK);
    assert_int_equal(dia_sim_spi_pins(&sim, 0, CLK, DIN), DIA_OK);
    const struct dia_device_setup setup = {"m", "MAX7219", (uint8_t[]){DIN, CLK, CS}, 1, 0, 5,
                                           0,   NULL};
    int device = dia_bench_matrix(bench, &setup);
    /* as bright as may be, all digits scanned, no test, on; the first two decoded */
    static const uint8_t begin[][2] = {{10, 15}, {11, 7}, {15, 0}, {12, 1}, {9, 3}};
    uint8_t words[5 + 2 * 16][2];
    memcpy(words, begin, sizeof begin);
    for (uint8_t code = 0; code < 16; code++) {
        uint8_t *plain = words[5 + 2 * code], *decoded = plain + 2;
        plain[0] = 3;
        plain[1] = (uint8_t)(segments[code] | (code & 1) << 7);
        decoded[0] = 1;
        decoded[1] = (uint8_t)(code | (code & 1) << 7); /* with its point */
    }
    for (size_t k = 0; k < sizeof words / sizeof words[0]; k++) {
        sim.port.ops->pin_write(&sim.port, CS, 0);
        sim.port.ops->spi_start(&sim.port, 0, 1000000, words[k], 2);
        dia_sim_advance_us(&sim, 100);
        uint64_t before_ns = sim.now_ns;
        sim.port.ops->pin_write(&sim.port, CS, 1);
        assert_in_range(dia_bench_lamps(bench, device)->latched_ns, before_ns, sim.now_ns);
        dia_sim_advance_us(&sim, 1);
        dia_bench_expose(bench, device, sim.now_ns);
        dia_sim_advance_us(&sim, 1);
        dia_bench_settle(bench, sim.now_ns);
        const struct dia_lamps_shown *shown = dia_bench_lamps(bench, device);
        if (k >= 6 && k % 2 == 0)
            assert_memory_equal(&shown->level[0], &shown->level[2 * 8], 8 * sizeof(uint16_t));
        if (k == 6) /* 0: six segments */
            assert_true(shown->level[1] && shown->level[6] && !shown->level[0]);
    }
    dia_bench_free(bench);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(bursts_and_edges_are_the_same_for_every_part),
        cmocka_unit_test(so_they_are_where_something_is_broken),
        cmocka_unit_test(who_listens_besides_hears_every_edge),
        cmocka_unit_test(each_frame_counts_in_the_most_that_was_drawn),
        cmocka_unit_test(who_joins_late_waits_for_a_beginning),
        cmocka_unit_test(only_the_data_and_the_clock_of_one_device_make_bits),
        cmocka_unit_test(a_max7219_decodes_code_b),
        cmocka_unit_test(what_is_around_a_burst_is_judged_with_it),
        cmocka_unit_test(half_a_word_is_said_where_nobody_else_is_on_the_bus),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
