/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <diachrome/bench.h>
#include <diachrome/check.h>
#include <diachrome/diachrome.h>

#include "simulator.h"

/* Pulses, lanes sent at once, the smallest program and ticks: see the programs of those names. */
/* Gives a bench the edges of the next frame: those up to a pause of 40 us. Returns the next. */
static uint32_t frame_to(struct dia_bench *bench, uint32_t from)
{
    uint32_t to = from + 1;
    while (to < edge_count && edges[to].t_ns - edges[to - 1].t_ns < 40000)
        to++;
    dia_bench_take(bench, &edges[from], to - from);
    dia_bench_settle(bench, to < edge_count ? edges[to].t_ns : edges[to - 1].t_ns + 1000000);
    return to;
}

/* At each clock; at 8 MHz there is no room for the pulses of one part. */
static void pulses_of_every_part_keep_its_sheet(void **state)
{
    (void)state;
    static const uint32_t clocks[] = {8, 16, 20};
    for (int k = 0; k < 3; k++) {
        char name[32];
        snprintf(name, sizeof name, "pulses_%u.elf", (unsigned)clocks[k]);
        avr_t *avr = run(name, clocks[k]);
        uint32_t at = 0;
        while (at < edge_count && !edges[at].level)
            at++;
        for (const struct dia_pixel_part *const *part = dia_onewire_parts; *part; part++) {
            if (clocks[k] == 8 && *part == &dia_ws2811_fast)
                continue;
            uint8_t channels = (*part)->channels->count;
            struct dia_chain_setup setup = {.name = (*part)->name,
                                            .part = (*part)->name,
                                            .order = channels == 4 ? "RGBW" : "RGB",
                                            .pin = PIN,
                                            .count = 24u / channels};
            struct dia_bench *bench = dia_bench_new();
            assert_int_equal(dia_bench_chain(bench, &setup), 0);
            assert_true(at < edge_count);
            at = frame_to(bench, at);
            const struct dia_shown *shown = dia_bench_shown(bench, 0);
            assert_int_equal(shown->frames, 1);
            for (uint8_t i = 0; i < 24; i++)
                assert_int_equal(shown->drive[i / channels][i % channels], (uint8_t)(i * 37u + 5u));
            assert_int_equal(dia_bench_findings(bench)->count, 0);
            dia_bench_free(bench);
        }
        assert_int_equal(at, edge_count);
        avr_terminate(avr);
    }
}

/* Edge k of the pins heard, of one of them; edge_count when there is none any more. */
static uint32_t next_of(uint8_t pin, uint32_t from)
{
    while (from < edge_count && edges[from].pin != pin)
        from++;
    return from;
}

static uint32_t rises_of(uint8_t pin)
{
    uint32_t rises = 0;
    for (uint32_t k = next_of(pin, 0); k < edge_count; k = next_of(pin, k + 1))
        rises += edges[k].level;
    return rises;
}

/* A frame of one pin, from a rise up to a pause of 40 us, on a bench of its own: the bytes and no
 * finding, where it is whole pixels. Returns the next rise. */
static uint32_t lane_frame(uint8_t pin, uint32_t at, const struct dia_pixel_part *part,
                           uint8_t lane, uint8_t count)
{
    uint8_t channels = part->channels->count, whole = (uint8_t)(count / channels * channels);
    struct dia_chain_setup setup = {.name = part->name,
                                    .part = part->name,
                                    .order = channels == 4 ? "RGBW" : "RGB",
                                    .pin = pin,
                                    .count = (count + channels - 1u) / channels};
    struct dia_bench *bench = dia_bench_new();
    uint64_t last_ns = edges[at].t_ns;
    assert_int_equal(dia_bench_chain(bench, &setup), 0);
    for (; at < edge_count && edges[at].t_ns - last_ns < 40000; at = next_of(pin, at + 1)) {
        dia_bench_take(bench, &edges[at], 1);
        last_ns = edges[at].t_ns;
    }
    dia_bench_settle(bench, last_ns + 1000000);
    assert_int_equal(dia_bench_shown(bench, 0)->frames, 1);
    for (uint8_t i = 0; i < whole; i++)
        assert_int_equal(dia_bench_shown(bench, 0)->drive[i / channels][i % channels],
                         (uint8_t)(i * 37u + lane * 101u + 5u));
    if (whole == count)
        assert_int_equal(dia_bench_findings(bench)->count, 0);
    dia_bench_free(bench);
    return at;
}

/* Lanes of 3, 27, 12, 0 and 27 bytes on PD2 to PD6 (planes_avr.c), every part: a lane that is over
 * rests, and pins beside the group do not move. */
static void lanes_of_a_group_keep_their_sheets(void **state)
{
    (void)state;
    static const uint8_t counts[] = {3, 27, 12, 0, 27};
    heard_pins = 0xfe0000u;
    for (int p = 0; p < 2; p++) {
        avr_t *avr = p == 0 ? run("planes.elf", 16) : run("planes_20.elf", 20);
        assert_int_equal(rises_of(17), 0);
        assert_int_equal(rises_of(18 + 3), 0);
        assert_int_equal(rises_of(23), 1);
        for (uint8_t lane = 0; lane < 5; lane++) {
            uint8_t pin = (uint8_t)(18 + lane);
            if (counts[lane] == 0)
                continue;
            uint32_t at = next_of(pin, 0);
            while (!edges[at].level) /* when it became an output */
                at = next_of(pin, at + 1);
            for (const struct dia_pixel_part *const *part = dia_onewire_parts; *part; part++)
                at = lane_frame(pin, at, *part, lane, counts[lane]);
            assert_int_equal(at, edge_count);
        }
        avr_terminate(avr);
    }
    heard_pins = 1u << PIN;
}

/* The smallest program shows what the library shows here, and says how much RAM it took. */
static void the_smallest_program_lights_its_strip(void **state)
{
    (void)state;
    avr_t *avr = run("smallest.elf", 16);
    struct dia_bench *bench = dia_bench_new();
    int supply = dia_bench_supply(bench, "usb", 1000000, 100000);
    struct dia_chain_setup setup = {
        .name = "strip", .part = "WS2812B", .pin = PIN, .count = 60, .supply = supply};
    assert_int_equal(dia_bench_chain(bench, &setup), 0);
    uint32_t at = 0;
    while (at < edge_count && !edges[at].level)
        at++;
    for (int frame = 0; frame < 3; frame++)
        at = frame_to(bench, at);
    assert_int_equal(at, edge_count);
    assert_int_equal(dia_bench_shown(bench, 0)->frames, 3);
    assert_int_equal(dia_bench_findings(bench)->count, 0);
    /* 60 * 61 mA at full white: the limiter is at work, and uses 900 mA to within 1 % */
    assert_in_range(dia_bench_gives_ua(bench, supply), 990000, 1000000);

    uint32_t top = 0x8ff, stack = 0;
    while (avr->data[top - stack] != 0xa5 || avr->data[top - stack - 1] != 0xa5)
        stack++;
    print_message("smallest program: stack at its deepest %u bytes\n", (unsigned)stack);
    assert_true(stack < 256); /* what `diachrome check` allows for */
    dia_bench_free(bench);
    avr_terminate(avr);
}

/* Longest tick in cycles of the next ticks, and their mean; each is a high of the pin. */
static uint32_t ticks(uint32_t *at, uint32_t n, uint32_t *mean)
{
    uint64_t most = 0, sum = 0;
    while (*at < edge_count && !edges[*at].level)
        (*at)++;
    for (uint32_t k = 0; k < n; k++, *at += 2) {
        assert_true(*at + 1 < edge_count && edges[*at].level && !edges[*at + 1].level);
        uint64_t cycles = (edges[*at + 1].t_ns - edges[*at].t_ns) * 2 / 125;
        most = cycles > most ? cycles : most;
        sum += cycles;
    }
    *mean = (uint32_t)(sum / n);
    return (uint32_t)most;
}

/*
 * Cycles counted by the simulator from one write of the marking pin to the next (2 of them are the
 * write itself), without what entering the interrupt takes. `diachrome check` reckons with these:
 * DIA_CHECK_ in check.h are the longest, rounded up.
 */
static void ticks_take_what_check_reckons(void **state)
{
    (void)state;
    static const struct {
        const char *what;
        uint32_t most; /* as check has it */
    } rows[] = {
        {"8 chips by SPI, 8 bits", DIA_TICK_SPI + 8 * DIA_TICK_SPI_CHIP},
        {"1 chip by SPI, 8 bits", DIA_TICK_SPI + DIA_TICK_SPI_CHIP},
        {"8 chips by pins, 8 bits", DIA_TICK_PINS + 8 * DIA_TICK_PINS_CHIP},
        {"1 chip by pins, 8 bits", DIA_TICK_PINS + DIA_TICK_PINS_CHIP},
        {"4 digits from pins", DIA_TICK_DIGITS},
        {"4 digits on 2 chips", DIA_TICK_SPI + 2 * DIA_TICK_SPI_CHIP + DIA_TICK_BLANK},
        {"12 lamps on pins", DIA_TICK_LAMPS + 12 * DIA_TICK_LAMPS_LAMP},
        {"1 lamp on a pin", DIA_TICK_LAMPS + DIA_TICK_LAMPS_LAMP},
        {"16 columns, neighbours", DIA_TICK_RGB + 16 * DIA_TICK_RGB_COLUMN},
        {"8 columns, neighbours", DIA_TICK_RGB + 8 * DIA_TICK_RGB_COLUMN},
        {"16 columns by pins", DIA_TICK_RGB + 16 * DIA_TICK_RGB_COLUMN_PINS},
        {"8 columns by pins", DIA_TICK_RGB + 8 * DIA_TICK_RGB_COLUMN_PINS},
    };
    avr_t *avr = run("ticks.elf", 16);
    uint32_t at = 0, mean;
    for (size_t k = 0; k < sizeof rows / sizeof rows[0]; k++) {
        uint32_t most = ticks(&at, 16, &mean);
        print_message("tick, %-24s at most %5u cycles, %5u in the mean\n", rows[k].what,
                      (unsigned)most, (unsigned)mean);
        assert_in_range(most, rows[k].most * 8 / 10, rows[k].most);
        /* 8 bits at 120 Hz are 960 ticks a second: 15 % of 16 MHz is 2500 cycles a tick */
        if (k == 0)
            assert_true(mean * 960 < 16000000 / 100 * 15);
    }
    avr_terminate(avr);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(pulses_of_every_part_keep_its_sheet),
        cmocka_unit_test(lanes_of_a_group_keep_their_sheets),
        cmocka_unit_test(the_smallest_program_lights_its_strip),
        cmocka_unit_test(ticks_take_what_check_reckons),
    };
    heard_pins = 1u << PIN;
    return cmocka_run_group_tests(tests, NULL, NULL);
}
