/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <string.h>

#include <diachrome/bench.h>
#include <diachrome/diachrome.h>
#include <diachrome/sim.h>

#define DATA  11
#define CLOCK 13
#define MOST  1100

static struct dia_sim sim;
static struct dia_rgb pixels[MOST];
static uint8_t developed[4 * MOST], bytes[4 * MOST];

static struct dia_bench *bench_with(const struct dia_pixel_part *part, uint32_t count,
                                    uint64_t supply_ua)
{
    struct dia_bench *bench = dia_bench_new();
    int supply = supply_ua ? dia_bench_supply(bench, "s", supply_ua, 0) : 0;
    struct dia_chain_setup setup = {.name = "wall",
                                    .part = part->name,
                                    .pin = DATA,
                                    .clock_pin = CLOCK,
                                    .count = count,
                                    .supply = supply};
    assert_int_equal(dia_bench_chain(bench, &setup), 0);
    dia_sim_init(&sim, 0);
    dia_sim_listen(&sim, dia_bench_take, bench);
    assert_int_equal(dia_sim_spi_pins(&sim, 0, CLOCK, DATA), DIA_OK);
    return bench;
}

static void send(struct dia_clocked *line, const uint8_t *frame, uint32_t count)
{
    enum dia_status status;
    do {
        status = dia_clocked_start(line, frame, count);
    } while (status == DIA_BUSY);
    assert_int_equal(status, DIA_OK);
    do {
        status = dia_clocked_poll(line);
    } while (status == DIA_BUSY);
    assert_int_equal(status, DIA_OK);
}

/* The same frame with its bytes as they go out. */
static struct dia_develop for_wire(const struct dia_develop *develop,
                                   const struct dia_pixel_part *part)
{
    struct dia_develop on_wire = *develop;
    dia_develop_order(&on_wire, part->order);
    on_wire.mark = dia_clocked_mark(part);
    return on_wire;
}

/* Random frames, each length: what the bench decodes is what develop produced, byte for byte. */
static void frames_come_through(void **state)
{
    (void)state;
    uint32_t seed = 3;
    for (const struct dia_pixel_part *const *part = dia_clocked_parts; *part; part++) {
        uint8_t channels = (*part)->channels->count;
        for (uint32_t count = 1; count <= MOST; count += count < 140 ? 1 : 137) {
            struct dia_bench *bench = bench_with(*part, count, 0);
            struct dia_clocked line;
            struct dia_develop develop;
            dia_develop_init(&develop, (*part)->channels);
            develop.master = (dia_share)random_below(&seed, DIA_SHARE_ONE + 1);
            assert_int_equal(dia_clocked_init(&line, &sim.port, 0, *part, (*part)->clock.max_hz),
                             DIA_OK);
            for (uint32_t frame = 0; frame < 2; frame++) {
                struct dia_carry carry;
                for (uint32_t i = 0; i < 3 * count; i++)
                    (&pixels[0].r)[i] = (uint8_t)random_below(&seed, 256);
                dia_develop_begin(&develop, frame);
                dia_carry_begin(&carry, &develop);
                dia_develop_run(&develop, &carry, pixels, (uint16_t)count, developed);
                struct dia_develop on_wire = for_wire(&develop, *part);
                dia_carry_begin(&carry, &on_wire);
                dia_develop_run(&on_wire, &carry, pixels, (uint16_t)count, bytes);
                send(&line, bytes, count);
                dia_bench_settle(bench, sim.now_ns);
                const struct dia_shown *shown = dia_bench_shown(bench, 0);
                assert_int_equal(shown->frames, frame + 1);
                for (uint32_t i = 0; i < count; i++)
                    assert_memory_equal(shown->drive[i], &developed[i * channels], channels);
            }
            assert_int_equal(dia_bench_findings(bench)->count, 0);
            dia_bench_free(bench);
        }
    }
}

static const struct dia_finding *finding(const struct dia_bench *bench, const char *code)
{
    return dia_findings_find(dia_bench_findings(bench), code, "wall");
}

/* Sends raw bytes at a clock rate, and lets the chain rest. */
static void send_raw(const uint8_t *raw, uint32_t n, uint32_t clock_hz, struct dia_bench *bench,
                     uint32_t rest_us)
{
    const struct dia_port_ops *ops = sim.port.ops;
    assert_int_equal(ops->spi_start(&sim.port, 0, clock_hz, raw, n), DIA_OK);
    while (ops->spi_poll(&sim.port, 0) == DIA_BUSY)
        ;
    dia_sim_advance_us(&sim, rest_us);
    if (rest_us != 0)
        dia_bench_settle(bench, sim.now_ns);
}

/*
 * 40 pixels. Pixel 39 of an APA102 has its word (39 + 1) / 2 = 20 clocks late: 16 clocks after the
 * frame are too few for it, while the pixels before it have the clocks of the words behind them.
 * The SK9822 shows when 32 zero bits have come through: 24 bits never do; 48 are 16 more than 32
 * and come through to pixel 32, (32 + 1) / 2 = 16; 56 reach all.
 */
static void parts_with_a_level_want_clocks_after_the_frame(void **state)
{
    (void)state;
    static uint8_t raw[4 + 160 + 8];
    memset(raw + 4, 0xff, 160);
    struct {
        const struct dia_pixel_part *part;
        uint32_t zeros, shows;
    } cases[] = {{&dia_apa102, 2, 39},
                 {&dia_apa102, 3, 40},
                 {&dia_sk9822, 3, 0},
                 {&dia_sk9822, 6, 33},
                 {&dia_sk9822, 7, 40}};
    for (int i = 0; i < 5; i++) {
        struct dia_bench *bench = bench_with(cases[i].part, 40, 0);
        send_raw(raw, 164 + cases[i].zeros, 1000000, bench, 10);
        const struct dia_shown *shown = dia_bench_shown(bench, 0);
        uint32_t lit = 0;
        while (lit < 40 && shown->drive[lit][0] == 255)
            lit++;
        assert_int_equal(lit, cases[i].shows);
        assert_int_equal(finding(bench, "clocks-short") != NULL, lit < 40);
        dia_bench_free(bench);
    }
    /* a frame that came through does not help the next */
    struct dia_bench *bench = bench_with(&dia_sk9822, 40, 0);
    send_raw(raw, 164 + 7, 1000000, bench, 10);
    assert_null(finding(bench, "clocks-short"));
    send_raw(raw, 164 + 3, 1000000, bench, 10);
    assert_non_null(finding(bench, "clocks-short"));
    dia_bench_free(bench);
}

/* Two frames without a rest between them: the first is there when the second begins; one before a
 * rest was there when the clock stopped. 4 MHz: a byte takes 2 us. */
static void a_frame_is_there_when_the_clock_has_passed(void **state)
{
    (void)state;
    static const uint8_t one[] = {0, 0, 0, 0, 0xff, 1, 2, 3, 0};
    static const uint8_t two[] = {0, 0, 0, 0, 0xff, 4, 5, 6, 0, 0, 0, 0, 0xff, 7, 8, 9, 0};
    struct dia_bench *bench = bench_with(&dia_apa102, 1, 0);
    const struct dia_shown *shown = dia_bench_shown(bench, 0);
    dia_sim_advance_us(&sim, 1000);
    const struct dia_port_ops *ops = sim.port.ops;
    uint64_t began_ns = sim.now_ns;
    assert_int_equal(ops->spi_start(&sim.port, 0, 4000000, one, sizeof one), DIA_OK);
    dia_sim_advance_us(&sim, 1000);
    assert_int_equal(ops->spi_poll(&sim.port, 0), DIA_OK);
    uint64_t then_ns = sim.now_ns;
    assert_int_equal(ops->spi_start(&sim.port, 0, 4000000, two, sizeof two), DIA_OK);
    dia_sim_advance_us(&sim, 20); /* not yet the second frame of them */
    assert_int_equal(shown->frames, 1);
    assert_int_equal(shown->drive[0][2], 1);
    assert_in_range(shown->latched_ns, began_ns + 17000, began_ns + 20000);
    dia_sim_advance_us(&sim, 200);
    assert_int_equal(ops->spi_poll(&sim.port, 0), DIA_OK);
    assert_int_equal(shown->frames, 2);
    assert_int_equal(shown->drive[0][2], 4);
    assert_in_range(shown->latched_ns, then_ns + 23000, then_ns + 27000);
    dia_bench_free(bench);
}

static void the_bench_complains_about_what_is_wrong(void **state)
{
    (void)state;
    static const uint8_t frame[] = {0, 0, 0, 0, 0xff, 1, 2, 3, 0};
    struct dia_bench *bench = bench_with(&dia_apa102, 1, 0);
    send_raw(frame, sizeof frame, 15000000, bench, 10);
    assert_int_equal(dia_bench_findings(bench)->count, 0);
    send_raw(frame, sizeof frame, 15600000, bench, 10); /* 64 ns; 66 is the least */
    assert_non_null(finding(bench, "clock-fast"));
    dia_bench_free(bench);

    static const uint8_t unmarked[] = {0, 0, 0, 0, 0x9f, 1, 2, 3, 0};
    bench = bench_with(&dia_apa102, 1, 0);
    send_raw(unmarked, sizeof unmarked, 1000000, bench, 10);
    assert_non_null(strstr(finding(bench, "word-mark")->text, "9f"));
    dia_bench_free(bench);

    static const uint8_t early[] = {0, 0, 0, 1, 0xff, 1, 2, 3, 0}; /* 31 zero bits and a one */
    bench = bench_with(&dia_apa102, 1, 0);
    send_raw(early, sizeof early, 1000000, bench, 10);
    assert_non_null(strstr(finding(bench, "start-short")->text, "31 zero bits"));
    assert_int_equal(dia_bench_findings(bench)->count, 1);
    dia_bench_free(bench);

    /* SK9822: ones behind the pixels are clocks, but not the zero bits that show the frame */
    static const uint8_t ones[] = {0, 0, 0, 0, 0xff, 1, 2, 3, 0xff, 0xff, 0xff, 0xff, 0xff, 0xff};
    bench = bench_with(&dia_sk9822, 1, 0);
    send_raw(ones, sizeof ones, 1000000, bench, 10);
    assert_non_null(finding(bench, "clocks-short"));
    assert_int_equal(dia_bench_shown(bench, 0)->drive[0][0], 0);
    dia_bench_free(bench);

    static const uint8_t clear[] = {0x81, 0x02, 0x83, 0}; /* LPD8806: the second has no mark */
    bench = bench_with(&dia_lpd8806, 1, 0);
    send_raw(clear, sizeof clear, 1000000, bench, 10);
    assert_non_null(strstr(finding(bench, "word-mark")->text, "byte 1 is 02"));
    dia_bench_free(bench);

    static const uint8_t six[6] = {1, 2, 3, 4, 5, 6}; /* WS2801: two pixels, but one or three */
    bench = bench_with(&dia_ws2801, 3, 0);
    send_raw(six, 6, 1000000, bench, 600);
    assert_non_null(finding(bench, "frame-short"));
    dia_bench_free(bench);
    bench = bench_with(&dia_ws2801, 2, 0);
    send_raw(six, 6, 1000000, bench, 0);
    dia_sim_advance_us(&sim, 450); /* too short a rest: it goes on with the same frame */
    send_raw(six, 6, 1000000, bench, 600);
    assert_non_null(finding(bench, "bits-left"));
    assert_int_equal(dia_bench_shown(bench, 0)->frames, 1);
    dia_bench_free(bench);

    static uint8_t seven[33 * 3 + 1];
    memset(seven, 0xff, 33 * 3); /* LPD8806: 33 pixels want two zero bytes, not one */
    bench = bench_with(&dia_lpd8806, 33, 0);
    send_raw(seven, sizeof seven, 1000000, bench, 10);
    assert_non_null(finding(bench, "clocks-short"));
    assert_int_equal(dia_bench_shown(bench, 0)->drive[31][0], 127);
    assert_int_equal(dia_bench_shown(bench, 0)->drive[32][0], 0);
    dia_bench_free(bench);
}

/* A dim grey keeps more steps than 8 bits give: codes 1 to 40 are 40 different lights. */
static void the_level_is_used_for_depth(void **state)
{
    (void)state;
    struct dia_bench *bench = bench_with(&dia_apa102, 1, 0);
    struct dia_clocked line;
    struct dia_develop develop;
    uint16_t light[4], last = 0;
    int more = 0;
    assert_int_equal(dia_clocked_init(&line, &sim.port, 0, &dia_apa102, 1000000), DIA_OK);
    dia_develop_init(&develop, &dia_channels_level);
    develop.time_from = 0;
    for (uint8_t code = 0; code <= 40; code++) {
        struct dia_carry carry;
        pixels[0] = (struct dia_rgb){code, code, code};
        dia_develop_begin(&develop, 0);
        dia_carry_begin(&carry, &develop);
        struct dia_develop on_wire = for_wire(&develop, &dia_apa102);
        dia_develop_run(&on_wire, &carry, pixels, 1, bytes);
        send(&line, bytes, 1);
        dia_bench_settle(bench, sim.now_ns);
        dia_drive_light(dia_bench_shown(bench, 0)->drive[0], DIA_SCALE_LEVEL, light);
        more += light[0] > last;
        last = light[0];
        /* within one small step (65535 / 7905) of the light meant */
        assert_in_range(light[0] + 9, dia_light_of(code), dia_light_of(code) + 18);
    }
    assert_int_equal(more, 40); /* an 8-bit drive has 6 steps up to code 40: light 1377 of 65535 */
    dia_bench_free(bench);
}

/* Random frames and budgets, as for one-wire parts. */
static void the_budget_is_kept_and_used(void **state)
{
    (void)state;
    uint32_t seed = 5, limited = 0;
    for (uint32_t frame = 0; frame < 2000; frame++) {
        const struct dia_pixel_part *part = dia_clocked_parts[frame % 4];
        uint32_t count = 24 + random_below(&seed, 200), idle_ua = count * 1000;
        uint32_t supply_ua = idle_ua + 5000 + random_below(&seed, count * 25000);
        struct dia_bench *bench = bench_with(part, count, supply_ua);
        struct dia_clocked line;
        struct dia_develop develop;
        struct dia_budget budget;
        struct dia_carry carry;
        uint32_t below = 1 + random_below(&seed, 256), floor = random_below(&seed, 2) * 100;
        for (uint32_t i = 0; i < 3 * count; i++)
            (&pixels[0].r)[i] = (uint8_t)(floor + random_below(&seed, below) * (255 - floor) / 255);
        dia_develop_init(&develop, part->channels);
        dia_develop_begin(&develop, frame);
        dia_budget_init(&budget, supply_ua, 0);
        dia_budget_add(&budget, &develop, &part->power, pixels, (uint16_t)count);
        dia_share share = dia_budget_share(&budget);
        dia_develop_limit(&develop, share);
        dia_carry_begin(&carry, &develop);
        struct dia_develop on_wire = for_wire(&develop, part);
        dia_develop_run(&on_wire, &carry, pixels, (uint16_t)count, bytes);
        assert_int_equal(dia_clocked_init(&line, &sim.port, 0, part, 8000000), DIA_OK);
        send(&line, bytes, count);
        dia_bench_settle(bench, sim.now_ns);
        uint64_t gives = dia_bench_gives_ua(bench, 1);
        assert_true(gives <= supply_ua);
        if (share != DIA_SHARE_ONE) {
            limited++;
            assert_true(gives * 100 >= (uint64_t)supply_ua * 99);
        }
        assert_int_equal(dia_bench_findings(bench)->count, 0);
        dia_bench_free(bench);
    }
    assert_in_range(limited, 300, 1900);
}

/* A chain that took in a stray byte while the controller started is right from the first frame. */
static void seven_bits_start_from_zero(void **state)
{
    (void)state;
    static const uint8_t stray = 0xd5;
    struct dia_bench *bench = bench_with(&dia_lpd8806, 2, 0);
    struct dia_clocked line;
    /* g r b, g r b, each with its mark */
    uint8_t frame[6] = {0x80 | 10, 0x80 | 20, 0x80 | 30, 0x80 | 40, 0x80 | 50, 0x80 | 60};
    send_raw(&stray, 1, 1000000, bench, 0);
    assert_int_equal(dia_clocked_init(&line, &sim.port, 0, &dia_lpd8806, 1000000), DIA_OK);
    send(&line, frame, 2);
    dia_bench_settle(bench, sim.now_ns);
    const struct dia_shown *shown = dia_bench_shown(bench, 0);
    assert_memory_equal(shown->drive[0], ((uint8_t[]){20, 10, 30}), 3);
    assert_memory_equal(shown->drive[1], ((uint8_t[]){50, 40, 60}), 3);
    dia_bench_free(bench);
}

static void wrong_clocks_are_refused(void **state)
{
    (void)state;
    struct dia_clocked line;
    struct dia_bench *bench = bench_with(&dia_apa102, 1, 0);
    assert_int_equal(dia_clocked_init(&line, &sim.port, 0, &dia_apa102, 0), DIA_BAD_VALUE);
    assert_int_equal(dia_clocked_init(&line, &sim.port, 0, &dia_apa102, 15000001), DIA_BAD_VALUE);
    assert_int_equal(dia_clocked_init(&line, &sim.port, 0, &dia_ws2812b, 100000), DIA_UNSUPPORTED);
    assert_int_equal(dia_clocked_init(&line, &sim.port, 0, &dia_apa102, 100000), DIA_OK);
    assert_int_equal(dia_clocked_start(&line, bytes, 0), DIA_BAD_VALUE);
    /* 40 pixels: 4 bytes before, 160, and 40 / 2 = 20 clocks in 3 bytes */
    assert_int_equal(dia_clocked_bytes(&dia_apa102, 40), 4 + 160 + 3);
    assert_int_equal(dia_clocked_bytes(&dia_sk9822, 40), 4 + 160 + 4 + 3);
    assert_int_equal(dia_clocked_bytes(&dia_ws2801, 40), 120);
    assert_int_equal(dia_clocked_bytes(&dia_lpd8806, 40), 2 + 120 + 2);
    dia_bench_free(bench);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(frames_come_through),
        cmocka_unit_test(parts_with_a_level_want_clocks_after_the_frame),
        cmocka_unit_test(a_frame_is_there_when_the_clock_has_passed),
        cmocka_unit_test(the_bench_complains_about_what_is_wrong),
        cmocka_unit_test(the_level_is_used_for_depth),
        cmocka_unit_test(the_budget_is_kept_and_used),
        cmocka_unit_test(seven_bits_start_from_zero),
        cmocka_unit_test(wrong_clocks_are_refused),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
