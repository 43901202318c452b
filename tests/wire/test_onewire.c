/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <stdio.h>
#include <string.h>

#include <diachrome/bench.h>
#include <diachrome/diachrome.h>
#include <diachrome/sim.h>

#define PIN  6
#define MOST 2000

static struct dia_sim sim;
static uint8_t memory[4 * MOST], developed[4 * MOST];
static struct dia_rgb pixels[MOST], kept[MOST];

/* order number k (of 6 or 24) of the channels, as data for the encoder and as a word for the bench
 */
static struct dia_order order_number(uint8_t channels, uint32_t k, char word[5])
{
    struct dia_order order = {{0, 1, 2, 3}};
    for (uint8_t i = 0; i + 1 < channels; i++) {
        uint8_t left = (uint8_t)(channels - i), pick = (uint8_t)(i + k % left);
        uint8_t swap = order.channel[i];
        order.channel[i] = order.channel[pick];
        order.channel[pick] = swap;
        k /= left;
    }
    for (uint8_t i = 0; i < channels; i++)
        word[i] = "RGBW"[order.channel[i]];
    word[channels] = 0;
    return order;
}

/* Shows a look on a strip in the given order and compares what the bench decoded with what
 * develop made, byte for byte. */
static void sent_is_decoded(const struct dia_pixel_part *part, uint32_t order_k, uint32_t count,
                            const struct dia_look *look, uint32_t clock_hz)
{
    char word[5];
    struct dia_order order = order_number(part->channels->count, order_k, word);
    struct dia_chain_setup setup = {
        .name = "strip", .part = part->name, .order = word, .pin = PIN, .count = count};
    struct dia_bench *bench = dia_bench_new();
    assert_int_equal(dia_bench_chain(bench, &setup), 0);
    dia_sim_init(&sim, clock_hz);
    dia_sim_listen(&sim, dia_bench_take, bench);

    struct dia_strip strip;
    struct dia_surface line;
    union dia_look_values values;
    look->defaults(&values);
    assert_int_equal(dia_surface_line(&line, count, 0, 10000), DIA_OK);
    assert_int_equal(dia_strip_init(&strip, &sim.port, PIN, part, pixels, memory, (uint16_t)count),
                     DIA_OK);
    dia_develop_order(&strip.develop, order);
    for (uint32_t frame = 0; frame < 2; frame++) {
        look->render(&values, &line, 700 * frame, 0, count, pixels);
        memcpy(kept, pixels, count * sizeof pixels[0]);
        struct dia_develop plain = strip.develop; /* as r g b (w) */
        struct dia_carry carry;
        dia_develop_order(&plain, (struct dia_order){{0, 1, 2, 3}});
        dia_develop_begin(&plain, strip.slot);
        dia_carry_begin(&carry, &plain);
        dia_develop_run(&plain, &carry, pixels, (uint16_t)count, developed);
        assert_int_equal(dia_driver_show_and_wait(&strip.driver), DIA_OK);
        assert_memory_equal(pixels, kept, count * sizeof pixels[0]);
        dia_bench_settle(bench, sim.now_ns);
        const struct dia_shown *shown = dia_bench_shown(bench, 0);
        assert_int_equal(shown->frames, frame + 1);
        for (uint32_t i = 0; i < count; i++)
            assert_memory_equal(shown->drive[i], &developed[i * part->channels->count],
                                part->channels->count);
    }
    assert_int_equal(dia_driver_dark(&strip.driver), DIA_OK);
    dia_bench_settle(bench, sim.now_ns);
    for (uint32_t i = 0; i < count; i++)
        assert_memory_equal(dia_bench_shown(bench, 0)->drive[i], ((uint8_t[4]){0}), 4);
    assert_int_equal(dia_bench_findings(bench)->count, 0);
    dia_bench_free(bench);
}

static void every_part_and_order_comes_through(void **state)
{
    (void)state;
    for (const struct dia_pixel_part *const *part = dia_onewire_parts; *part; part++) {
        uint32_t orders = (*part)->channels->count == 4 ? 24 : 6;
        for (uint32_t k = 0; k < orders; k++) {
            for (uint32_t n = 0; dia_looks[n]; n++) {
                sent_is_decoded(*part, k, 1, dia_looks[n], 0);
                sent_is_decoded(*part, k, 61, dia_looks[n], 16000000);
                if (n % orders == k) /* each look in one of the orders */
                    sent_is_decoded(*part, k, 2000, dia_looks[n], 64000000);
            }
        }
    }
}

static void every_length_comes_through(void **state)
{
    (void)state;
    for (uint32_t count = 1; count <= MOST; count += count < 300 ? 1 : 31)
        sent_is_decoded(dia_onewire_parts[count % 9], count, count, dia_looks[count / 9 % 3],
                        16000000);
}

/* In place the same bytes go out, and the frame is used up. */
static void in_place_sends_the_same(void **state)
{
    (void)state;
    for (const struct dia_pixel_part *const *part = dia_onewire_parts; *part; part++) {
        struct dia_chain_setup setup = {
            .name = "strip", .part = (*part)->name, .pin = PIN, .count = 100};
        struct dia_bench *bench = dia_bench_new();
        struct dia_inplace_strip strip;
        struct dia_develop develop;
        struct dia_carry carry;
        assert_int_equal(dia_bench_chain(bench, &setup), 0);
        dia_sim_init(&sim, 0);
        dia_sim_listen(&sim, dia_bench_take, bench);
        assert_int_equal(dia_inplace_strip_init(&strip, &sim.port, PIN, *part, memory, 100),
                         DIA_OK);
        for (uint8_t i = 0; i < 100; i++)
            pixels[i] = (struct dia_rgb){i, (uint8_t)(2 * i), 200};
        dia_develop_init(&develop, (*part)->channels);
        dia_develop_begin(&develop, 0);
        dia_carry_begin(&carry, &develop);
        dia_develop_run(&develop, &carry, pixels, 100, developed);
        memcpy(strip.frame.pixels, pixels, 100 * sizeof pixels[0]);
        assert_int_equal(dia_inplace_strip_show(&strip), DIA_OK); /* the first, right after init */
        assert_int_equal(dia_inplace_strip_wait(&strip), DIA_OK);
        dia_bench_settle(bench, sim.now_ns);
        const struct dia_shown *shown = dia_bench_shown(bench, 0);
        uint8_t channels = (*part)->channels->count;
        for (uint32_t i = 0; i < 100; i++)
            assert_memory_equal(shown->drive[i], &developed[i * channels], channels);
        assert_int_equal(dia_inplace_strip_dark(&strip), DIA_OK);
        dia_bench_settle(bench, sim.now_ns);
        for (uint32_t i = 0; i < 100; i++)
            assert_memory_equal(shown->drive[i], ((uint8_t[4]){0}), 4);
        assert_int_equal(dia_bench_findings(bench)->count, 0);
        dia_bench_free(bench);
    }
}

static void a_frame_does_not_block_and_keeps_its_gap(void **state)
{
    (void)state;
    struct dia_onewire line;
    uint8_t bytes[3] = {1, 2, 3};
    dia_sim_init(&sim, 0);
    assert_int_equal(dia_onewire_init(&line, &sim.port, PIN, &dia_ws2812b_v5), DIA_OK);
    assert_int_equal(dia_onewire_start(&line, bytes, 3), DIA_BUSY); /* the line just went low */
    dia_sim_advance_us(&sim, 300);
    uint64_t before = sim.now_ns;
    assert_int_equal(dia_onewire_start(&line, bytes, 3), DIA_OK);
    assert_true(sim.now_ns - before < 5000); /* 24 us on the wire: start did not wait for it */
    assert_int_equal(dia_onewire_poll(&line), DIA_BUSY);
    dia_sim_advance_us(&sim, 24);
    assert_int_equal(dia_onewire_poll(&line), DIA_BUSY); /* sent; 280 us of gap to go */
    dia_sim_advance_us(&sim, 270);
    assert_int_equal(dia_onewire_poll(&line), DIA_BUSY);
    dia_sim_advance_us(&sim, 25);
    assert_int_equal(dia_onewire_poll(&line), DIA_OK);
}

static enum dia_status breaks_off(struct dia_port *port, uint8_t pin)
{
    (void)port;
    (void)pin;
    return DIA_PORT_FAILED;
}

static void errors_of_the_port_come_back(void **state)
{
    (void)state;
    struct dia_onewire line;
    uint8_t bytes[3] = {1, 2, 3};
    dia_sim_init(&sim, 0);
    assert_int_equal(dia_onewire_init(&line, &sim.port, DIA_SIM_PINS, &dia_ws2812b), DIA_BAD_VALUE);
    struct dia_port_ops ops = *sim.port.ops;
    sim.port.ops = &ops;
    assert_int_equal(dia_onewire_init(&line, &sim.port, PIN, &dia_ws2812b), DIA_OK);
    dia_sim_advance_us(&sim, 100);
    assert_int_equal(dia_onewire_start(&line, bytes, 0), DIA_BAD_VALUE);
    assert_int_equal(dia_onewire_start(&line, bytes, 3), DIA_OK);
    ops.pulse_poll = breaks_off;
    assert_int_equal(dia_onewire_poll(&line), DIA_PORT_FAILED);
    ops.pulse_start = NULL;
    assert_int_equal(dia_onewire_init(&line, &sim.port, PIN, &dia_ws2812b), DIA_UNSUPPORTED);
    struct dia_strip strip;
    dia_sim_init(&sim, 0);
    assert_int_equal(dia_strip_init(&strip, &sim.port, PIN, &dia_apa102, pixels, memory, 5),
                     DIA_UNSUPPORTED); /* it has a clock line */
    assert_int_equal(dia_strip_init(&strip, &sim.port, PIN, &dia_ws2812b, pixels, memory, 0),
                     DIA_BAD_VALUE);
}

/* Each nominal lies inside what the same descriptor allows, and the wire time is by hand. */
static void descriptors_are_sound(void **state)
{
    (void)state;
    for (const struct dia_pixel_part *const *part = dia_onewire_parts; *part; part++) {
        const struct dia_pulse_range *ranges = (*part)->timing.range;
        for (int i = 0; i < 4; i++)
            assert_true(ranges[i].min_ns < ranges[i].nominal_ns &&
                        ranges[i].nominal_ns < ranges[i].max_ns);
        assert_true((*part)->timing.range[DIA_T0H].max_ns <= (*part)->timing.range[DIA_T1H].min_ns);
        assert_true((*part)->source[0] != 0 && (*part)->supply_min_mv < (*part)->supply_max_mv);
    }
    assert_int_equal(dia_onewire_wire_ns(&dia_ws2812b, 360), 360 * 8 * 1250); /* 3.6 ms */
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(every_part_and_order_comes_through),
        cmocka_unit_test(every_length_comes_through),
        cmocka_unit_test(in_place_sends_the_same),
        cmocka_unit_test(a_frame_does_not_block_and_keeps_its_gap),
        cmocka_unit_test(errors_of_the_port_come_back),
        cmocka_unit_test(descriptors_are_sound),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
