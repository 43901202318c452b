/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include <simavr/avr_ioport.h>
#include <simavr/sim_avr.h>
#include <simavr/sim_elf.h>

#include <diachrome/bench.h>
#include <diachrome/check.h>
#include <diachrome/diachrome.h>

/*
 * The port of the ATmega328P, run in an instruction-level simulator: what comes out of its pin
 * goes to the bench, edge by edge. Programs: pulses_avr.c and smallest_avr.c, built by cross.sh.
 */
#define PIN                  22
#define EDGES                16384
#define CYCLES_TO_NS(cycles) ((cycles)*125u / 2u) /* 16 MHz */

static struct dia_edge edges[EDGES];
static uint32_t edge_count;

static void hear(struct avr_irq_t *irq, uint32_t value, void *param)
{
    avr_t *avr = param;
    (void)irq;
    assert_true(edge_count < EDGES);
    edges[edge_count].t_ns = CYCLES_TO_NS(avr->cycle);
    edges[edge_count].pin = PIN;
    edges[edge_count++].level = value != 0;
}

/* Runs a program to its end with all of its RAM set to a pattern. Returns the simulated chip. */
static avr_t *run(const char *name)
{
    const char *folder = getenv("DIACHROME_CROSS");
    char path[512];
    elf_firmware_t firmware;
    memset(&firmware, 0, sizeof firmware);
    assert_non_null(folder);
    snprintf(path, sizeof path, "%s/avr/%s", folder, name);
    assert_int_equal(elf_read_firmware(path, &firmware), 0);
    avr_t *avr = avr_make_mcu_by_name("atmega328p");
    assert_non_null(avr);
    avr_init(avr);
    firmware.frequency = 16000000;
    avr_load_firmware(avr, &firmware);
    memset(avr->data + 0x100, 0xa5, 0x800);
    edge_count = 0;
    avr_irq_register_notify(avr_io_getirq(avr, AVR_IOCTL_IOPORT_GETIRQ('D'), 6), hear, avr);
    int state = cpu_Running;
    for (uint32_t i = 0; i < 40000000u && state != cpu_Done && state != cpu_Crashed; i++)
        state = avr_run(avr);
    assert_int_equal(state, cpu_Done);
    return avr;
}

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

static void pulses_of_every_part_keep_its_sheet(void **state)
{
    (void)state;
    avr_t *avr = run("pulses.elf");
    uint32_t at = 0;
    while (at < edge_count && !edges[at].level)
        at++;
    for (const struct dia_pixel_part *const *part = dia_onewire_parts; *part; part++) {
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

/* The smallest program shows what the library shows here, and says how much RAM it took. */
static void the_smallest_program_lights_its_strip(void **state)
{
    (void)state;
    avr_t *avr = run("smallest.elf");
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
    };
    avr_t *avr = run("ticks.elf");
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
        cmocka_unit_test(the_smallest_program_lights_its_strip),
        cmocka_unit_test(ticks_take_what_check_reckons),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
