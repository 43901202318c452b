/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <diachrome/bench.h>
#include <diachrome/diachrome.h>
#include <diachrome/sim.h>

#define FIRST   16
#define LONGEST 300 /* pixels */

static struct dia_sim sim;
static uint8_t bytes[16][3 * LONGEST], planes[DIA_PLANES_BYTES(16, 3 * LONGEST)];

/* Lanes of random lengths, contents and orders, at once: each chain shows its own, byte for byte,
 * and no pulse is out of tolerance on a controller of 16 MHz. */
static void send_group(const struct dia_pixel_part *part, uint8_t width, uint32_t *seed)
{
    static const char *const orders[] = {"RGB", "GRB", "BGR"};
    struct dia_bench *bench = dia_bench_new();
    struct dia_parallel group;
    const uint8_t *lanes[16];
    uint32_t lengths[16], longest = 0;
    dia_sim_init(&sim, 16000000);
    dia_sim_listen(&sim, dia_bench_take, bench);
    for (uint8_t k = 0; k < width; k++) {
        uint32_t count = 1 + random_below(seed, LONGEST);
        struct dia_chain_setup setup = {.name = "lane",
                                        .part = part->name,
                                        .order = orders[k % 3],
                                        .pin = (uint8_t)(FIRST + k),
                                        .count = count};
        assert_int_equal(dia_bench_chain(bench, &setup), k);
        lengths[k] = 3 * count;
        longest = lengths[k] > longest ? lengths[k] : longest;
        lanes[k] = bytes[k];
        for (uint32_t i = 0; i < lengths[k]; i++)
            bytes[k][i] = (uint8_t)random_below(seed, 256);
    }
    assert_int_equal(dia_parallel_init(&group, &sim.port, FIRST, width, part), DIA_OK);
    dia_planes_make(planes, width, lanes, lengths);
    while (dia_parallel_start(&group, planes, lengths) == DIA_BUSY)
        ;
    uint64_t start_ns = sim.now_ns;
    while (dia_parallel_poll(&group) == DIA_BUSY)
        ;
    /* the time of the longest lane, a cycle a bit for rounding, the latch gap, and 30 us of asking
     */
    assert_true(sim.now_ns - start_ns <= dia_onewire_wire_ns(part, longest) + longest * 8u * 63u +
                                             (part->timing.latch_us + 30u) * 1000u);
    dia_bench_settle(bench, sim.now_ns);
    for (uint8_t k = 0; k < width; k++) {
        const struct dia_shown *shown = dia_bench_shown(bench, k);
        assert_int_equal(shown->frames, 1);
        for (uint32_t i = 0; i < lengths[k]; i++) {
            char letter = orders[k % 3][i % 3];
            int channel = letter == 'R' ? 0 : letter == 'G' ? 1 : 2;
            assert_int_equal(shown->drive[i / 3][channel], bytes[k][i]);
        }
    }
    assert_int_equal(dia_bench_findings(bench)->count, 0);
    dia_bench_free(bench);
}

static void lanes_come_through_together(void **state)
{
    (void)state;
    uint32_t seed = 9;
    for (const struct dia_pixel_part *const *part = dia_onewire_parts; *part; part++) {
        for (uint8_t width = 1; width <= 16 && (*part)->channels->count == 3; width++)
            send_group(*part, width, &seed);
    }
}

/* By hand: lane 0 is 10000000, lane 1 00000011, lane 9 01000000; bit k of a plane is lane k. */
static void planes_have_a_bit_a_lane(void **state)
{
    (void)state;
    const uint8_t zero = 0x80, one = 0x03, nine = 0x40;
    const uint8_t *lanes[10] = {&zero, &one};
    uint32_t lengths[10] = {1, 1};
    dia_planes_make(planes, 8, lanes, lengths);
    assert_memory_equal(planes, ((uint8_t[]){1, 0, 0, 0, 0, 0, 2, 2}), 8);
    lanes[9] = &nine;
    lengths[9] = 1;
    dia_planes_make(planes, 10, lanes, lengths);
    assert_memory_equal(planes, ((uint8_t[]){1, 0, 0, 2, 0, 0, 0, 0, 0, 0, 0, 0, 2, 0, 2, 0}), 16);
}

static void wrong_groups_are_refused(void **state)
{
    (void)state;
    struct dia_parallel group;
    uint32_t none[16] = {0};
    dia_sim_init(&sim, 0);
    struct dia_port *port = &sim.port;
    assert_int_equal(dia_parallel_init(&group, port, FIRST, 0, &dia_ws2812b), DIA_BAD_VALUE);
    assert_int_equal(dia_parallel_init(&group, port, FIRST, 17, &dia_ws2812b), DIA_BAD_VALUE);
    assert_int_equal(dia_parallel_init(&group, port, 60, 8, &dia_ws2812b), DIA_BAD_VALUE);
    assert_int_equal(dia_parallel_init(&group, port, FIRST, 8, &dia_apa102), DIA_UNSUPPORTED);
    assert_int_equal(dia_parallel_init(&group, port, FIRST, 8, &dia_ws2812b), DIA_OK);
    dia_sim_advance_us(&sim, 100);
    assert_int_equal(dia_parallel_start(&group, planes, none), DIA_BAD_VALUE);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(lanes_come_through_together),
        cmocka_unit_test(planes_have_a_bit_a_lane),
        cmocka_unit_test(wrong_groups_are_refused),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
