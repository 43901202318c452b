/* SPDX-License-Identifier: MIT */
/* Programs for a pulse engine: what is planned, run instruction for instruction, is what a bench
 * finds right; one step beside it is not. */
#include <math.h>

#include <diachrome/bench.h>
#include <diachrome/part.h>
#include <diachrome/pulse_engine.h>
#include <diachrome/pulses_run.h>

#include "../run.h"

static const uint32_t clocks[] = {48000000, 120000000, 125000000, 133000000, 150000000, 200000000};
#define CLOCKS (sizeof clocks / sizeof clocks[0])

/* Rises and falls of some pins, as they came. */
#define EDGES 4096
static struct dia_edge heard[EDGES];
static uint32_t heard_count;

static void hear(void *self, const struct dia_edge *edges, uint32_t n)
{
    (void)self;
    for (uint32_t k = 0; k < n && heard_count < EDGES; k++)
        heard[heard_count++] = edges[k];
}

static enum dia_engine_state run_plan(const struct dia_pulses *plan, const uint32_t *data,
                                      uint32_t n, uint64_t until_ns)
{
    struct dia_engine engine;
    struct dia_engine_setup setup = dia_pulses_engine(plan, data, n);
    heard_count = 0;
    dia_engine_init(&engine, &setup);
    return dia_engine_run(&engine, until_ns, hear, NULL);
}

#define PIXELS 20

/* Pixels of random bytes through the engine into a chain: how much the bench finds. They must
 * arrive as they were where it finds nothing. */
static uint32_t bench_finds(const struct dia_pulses *plan, const struct dia_pixel_part *part)
{
    struct dia_bench *bench = dia_bench_new();
    int supply = dia_bench_supply(bench, "s", 60000000, 0);
    struct dia_chain_setup chain = {
        .name = "c", .part = part->name, .pin = 0, .count = PIXELS, .supply = supply};
    uint32_t data[PIXELS], seed = 5, bits = part->channels->count * 8u;
    assert_int_equal(dia_bench_chain(bench, &chain), 0);
    for (int i = 0; i < PIXELS; i++)
        data[i] = (random_below(&seed, 65536) << 16 | random_below(&seed, 65536)) << (32 - bits);
    struct dia_engine engine;
    struct dia_engine_setup setup = dia_pulses_engine(plan, data, PIXELS);
    dia_engine_init(&engine, &setup);
    assert_int_equal(dia_engine_run(&engine, 100000000, dia_bench_take, bench), DIA_ENGINE_WAITS);
    dia_bench_settle(bench, dia_engine_now_ns(&engine) + 1000000);
    uint32_t found = dia_bench_findings(bench)->count;
    const struct dia_shown *shown = dia_bench_shown(bench, 0);
    for (int i = 0; i < PIXELS && found == 0; i++) {
        for (uint32_t k = 0; k < bits / 8; k++)
            assert_int_equal(shown->drive[i][part->order.channel[k]],
                             data[i] >> (24 - 8 * k) & 255);
    }
    dia_bench_free(bench);
    return found;
}

/* Every one-wire part at every clock: inside its sheet on the engine; with the divider that is one
 * whole step beyond what is allowed, it is not. */
static void every_part_at_every_clock(void **state)
{
    (void)state;
    for (size_t c = 0; c < CLOCKS; c++) {
        for (int p = 0; dia_onewire_parts[p]; p++) {
            const struct dia_pixel_part *part = dia_onewire_parts[p];
            struct dia_pulses plan;
            uint8_t bits = (uint8_t)(part->channels->count * 8);
            if (!dia_pulses_onewire(&plan, clocks[c], &part->timing, bits))
                fail_msg("%s at %u: %s", part->name, (unsigned)clocks[c], plan.why);
            for (int k = 0; k < 4; k++)
                assert_true(plan.times[k].got_ps >= plan.times[k].least_ps &&
                            plan.times[k].got_ps <= plan.times[k].most_ps);
            assert_int_equal(plan.divider % 256, 0);
            assert_int_equal(bench_finds(&plan, part), 0);
            struct dia_pulses beside = plan;
            beside.divider = (plan.most_divider / 256 + 1) * 256;
            if (bench_finds(&beside, part) == 0)
                fail_msg("%s at %u: divider %g is right too", part->name, (unsigned)clocks[c],
                         beside.divider / 256.0);
            beside.divider = (plan.least_divider + 255) / 256 * 256 - 256;
            if (beside.divider >= 256 && bench_finds(&beside, part) == 0)
                fail_msg("%s at %u: divider %g is right too", part->name, (unsigned)clocks[c],
                         beside.divider / 256.0);
        }
    }
}

/* By hand, WS2812B at 125 MHz (8 ns): with a divider of 12, a cycle is 96 ns. A word is its
 * operation, the side pin in bit 12, the delay in bits 8 to 11. */
static void the_words_are_those_of_the_sheet(void **state)
{
    (void)state;
    struct dia_pulses plan;
    assert_int_equal(dia_pulses_onewire(&plan, 125000000, &dia_ws2812b.timing, 24), 1);
    assert_int_equal(plan.count, 5);
    uint32_t ns = plan.divider / 256 * 8;
    assert_int_equal(plan.words[0], 0x6021);
    uint32_t delay[5];
    for (int k = 0; k < 5; k++)
        delay[k] = (plan.words[k] >> 8 & 15) + 1;
    assert_int_equal(plan.words[1] & 0xf0ff, 0x1024);
    assert_int_equal(plan.words[2] & 0xf0ff, 0xb042);
    assert_int_equal(plan.words[3] & 0xf0ff, 0x0000);
    assert_int_equal(plan.words[4] & 0xf0ff, 0xa042);
    assert_in_range(delay[1] * ns, 250, 550);               /* high of a 0 */
    assert_in_range((delay[1] + delay[2]) * ns, 650, 950);  /* of a 1 */
    assert_in_range((delay[0] + delay[4]) * ns, 700, 1000); /* low of a 0 */
    assert_in_range((delay[0] + delay[3]) * ns, 300, 600);  /* of a 1 */
    assert_string_equal(plan.text[0], "out x, 1         side 0");
    /* at 1 MHz a cycle is a microsecond */
    assert_int_equal(dia_pulses_onewire(&plan, 1000000, &dia_ws2812b.timing, 24), 0);
    assert_non_null(strstr(plan.why, "too coarse: a cycle of the clock is 1000.0 ns"));
}

/* A square wave: its mean period over many, and both pins in the same cycle. */
static void square_waves_have_their_rate(void **state)
{
    (void)state;
    static const double hz[] = {855, 0.0625 * 1e3, 1000, 440, 38000, 1e6, 12345.678, 20, 2, 5e6};
    for (size_t c = 0; c < CLOCKS; c++) {
        for (size_t k = 0; k < sizeof hz / sizeof hz[0]; k++) {
            struct dia_pulses plan;
            uint64_t mhz = (uint64_t)(hz[k] * 1000 + 0.5);
            if (!dia_pulses_square(&plan, clocks[c], mhz, 1)) {
                /* slower than 65,536 * 1,024 clocks a period */
                assert_true(hz[k] < clocks[c] / 65536.0 / 1024);
                assert_non_null(strstr(plan.why, "too slow"));
                continue;
            }
            run_plan(&plan, NULL, 0, (uint64_t)(1e9 / hz[k] * 200));
            uint32_t last = 0;
            for (uint32_t i = 0; i + 1 < heard_count; i += 2) { /* one falls as the other rises */
                if (i == 0) {
                    i = 1; /* pin 0 rises first of all, alone */
                }
                if (i + 1 >= heard_count)
                    break;
                assert_int_equal(heard[i].t_ns, heard[i + 1].t_ns);
                assert_int_not_equal(heard[i].pin, heard[i + 1].pin);
                assert_int_not_equal(heard[i].level, heard[i + 1].level);
                last = i;
            }
            assert_true(last > 300);
            double periods = 0, from = (double)heard[1].t_ns, to = from;
            for (uint32_t i = 5; i <= last; i += 4, periods++)
                to = (double)heard[i].t_ns;
            double ppm = ((to - from) / periods * hz[k] / 1e9 - 1) * 1e6;
            double said = (double)plan.times[0].got_ps * hz[k] / 1e12 * 1e6 - 1e6;
            double grain = 1e6 / periods * 10e-9 * hz[k] * 2 + 1;
            if (fabs(ppm - said) > grain || (hz[k] == 855 && fabs(said) > 20))
                fail_msg("%g Hz at %u: %g ppm on the engine, %g said", hz[k], (unsigned)clocks[c],
                         ppm, said);
        }
    }
    struct dia_pulses plan;
    assert_int_equal(dia_pulses_square(&plan, 125000000, 62500000000, 0), 1); /* half of it */
    assert_int_equal(dia_pulses_square(&plan, 125000000, 62500001000, 0), 0);
    assert_non_null(strstr(plan.why, "the fastest is half of the clock, 6.25e+07 Hz"));
}

/* Levels of given lengths come so, once or again and again; all 31 that there is room for, and none
 * more; and what is too long beside a short one is told. */
static void trains_of_pulses(void **state)
{
    (void)state;
    uint32_t ns[40], seed = 11, tried = 0;
    struct dia_pulses plan;
    for (int round = 0; round < 300; round++) {
        uint32_t n = 1 + random_below(&seed, 12), shortest = UINT32_MAX;
        int again = (int)random_below(&seed, 2);
        for (uint32_t k = 0; k < 13; k++) {
            ns[k] = 100 + random_below(&seed, 20000);
            shortest = ns[k] < shortest ? ns[k] : shortest;
        }
        if (again)
            n = n > 1 ? n / 2 * 2 : 2;
        if (!dia_pulses_train(&plan, 125000000, ns, n, again))
            continue;
        tried++;
        run_plan(&plan, NULL, 0, 1000000);
        assert_true(heard_count >= n);
        for (uint32_t k = 0; k + 1 < n; k++) {
            double got = (double)(heard[k + 1].t_ns - heard[k].t_ns);
            double step = 8.0 * plan.divider / 256;
            assert_true(fabs(got - ns[k]) <= step / 2 + 2);
            assert_true(fabs(got - (double)plan.times[k].got_ps / 1e3) <= 2);
        }
        if (!again)
            assert_int_equal(heard_count, (n + 1) / 2 * 2);
    }
    assert_true(tried > 200);
    for (int k = 0; k < 40; k++)
        ns[k] = 100;
    assert_int_equal(dia_pulses_train(&plan, 125000000, ns, 31, 1), 1);
    assert_int_equal(plan.count, 31);
    assert_int_equal(dia_pulses_train(&plan, 125000000, ns, 32, 1), 0);
    ns[1] = 10000000;
    assert_int_equal(dia_pulses_train(&plan, 125000000, ns, 2, 1), 0);
    assert_non_null(strstr(plan.why, "too long beside 100 ns"));
    /* 31 levels of 30 ms: at 1 GHz a word is 32 * 65,536 ns, 2.1 ms, so each takes 15 */
    for (int k = 0; k < 31; k++)
        ns[k] = 30000000;
    assert_int_equal(dia_pulses_train(&plan, 1000000000, ns, 31, 0), 0);
    assert_non_null(strstr(plan.why, "too long: the divider ends at 65,536, so a word lasts 2.1 ms "
                                     "at the most, and all levels take 465 of 32 words"));
    ns[0] = 1;
    assert_int_equal(dia_pulses_train(&plan, 125000000, ns, 2, 1), 0);
    assert_non_null(strstr(plan.why, "too short"));
}

/* SPI words arrive bit for bit at the rising clock, no faster than asked; and shift registers show
 * what was sent to them, on the bench. */
static void spi_and_shift_registers(void **state)
{
    (void)state;
    const uint32_t data[2] = {0xa5c30000, 0x3c5a0000};
    struct dia_pulses plan;
    static const uint32_t rates[] = {1000, 9600, 1000000, 4000000, 31250000, 62500000};
    for (size_t k = 0; k < sizeof rates / sizeof rates[0]; k++) {
        assert_int_equal(dia_pulses_spi(&plan, 125000000, rates[k], 16, 0), 1);
        assert_int_equal(run_plan(&plan, data, 2, 1000000000), DIA_ENGINE_WAITS);
        uint32_t bits = 0, got = 0;
        uint64_t rose = 0;
        int level = 0;
        for (uint32_t i = 0; i < heard_count; i++) {
            if (heard[i].pin == 0)
                level = heard[i].level;
            if (heard[i].pin != 1 || !heard[i].level)
                continue;
            got = got << 1 | (uint32_t)level;
            assert_true(bits == 0 || heard[i].t_ns - rose >= 1000000000u / rates[k] - 1);
            rose = heard[i].t_ns;
            bits++;
        }
        assert_int_equal(bits, 32);
        assert_int_equal(got, 0xa5c33c5a);
    }
    assert_int_equal(dia_pulses_spi(&plan, 125000000, 50, 16, 0), 0);
    assert_non_null(strstr(plan.why, "too slow: the divider ends at 65,536 and a delay beside one "
                                     "pin at 16 cycles"));
    /* two chips: the first byte ends in the second one */
    const uint32_t bytes[2] = {0x81000000, 0x0f000000};
    const uint8_t pins[DIA_SHIFT_PINS] = {0, 1, 2, DIA_NO_PIN};
    struct dia_bench *bench = dia_bench_new();
    struct dia_device_setup setup = {.name = "r",
                                     .part = "74HC595",
                                     .pins = pins,
                                     .count = 2,
                                     .supply = dia_bench_supply(bench, "s", 2000000, 0),
                                     .lamp_ua = 1000};
    int device = dia_bench_shift(bench, &setup);
    assert_int_equal(device, 0);
    assert_int_equal(dia_pulses_spi(&plan, 125000000, 4000000, 8, 2), 1);
    struct dia_engine engine;
    struct dia_engine_setup as = dia_pulses_engine(&plan, bytes, 2);
    dia_engine_init(&engine, &as);
    assert_int_equal(dia_engine_run(&engine, 1000000, dia_bench_take, bench), DIA_ENGINE_WAITS);
    dia_bench_settle(bench, 2000000);
    assert_int_equal(dia_bench_findings(bench)->count, 0);
    const struct dia_lamps_shown *shown = dia_bench_lamps(bench, device);
    for (uint32_t i = 0; i < 16; i++)
        assert_int_equal(shown->level[i] > 30000, (0x810f >> i & 1));
    dia_bench_free(bench);
}

/* Words by hand, from the sheet's table of instructions; what no plan has yet is run too. */
static void the_engine_runs_what_its_sheet_has(void **state)
{
    (void)state;
    /* pull; mov x, osr; mov y, ~null (all ones); jmp y--, 4; set pins, 1; jmp !y 6 (it is not 0);
     * jmp x!=y 8; set pins, 0 (passed over); mov pins, x; jmp !osre 9 (the word is still there) */
    const uint16_t words[] = {0x80a0, 0xa027, 0xa04b, 0x0084, 0xe001,
                              0x0066, 0x00a8, 0xe000, 0xa001, 0x00e9};
    const uint32_t data[] = {6};
    struct dia_engine_setup setup = {.words = words,
                                     .count = 10,
                                     .set_count = 1,
                                     .out_count = 3,
                                     .out_pin = 1,
                                     .clock_hz = 1000000,
                                     .divider = 256,
                                     .data = data,
                                     .data_count = 1};
    struct dia_engine engine;
    heard_count = 0;
    dia_engine_init(&engine, &setup);
    assert_int_equal(dia_engine_run(&engine, 20000, hear, NULL), DIA_ENGINE_RUNS);
    assert_int_equal(engine.x, 6);
    assert_int_equal(engine.y, 0xfffffffe);
    assert_int_equal(engine.at, 9);
    /* pin 0 rises in cycle 4; 6 is 110: pins 2 and 3 in cycle 7 */
    assert_int_equal(heard_count, 3);
    assert_true(heard[0].pin == 0 && heard[0].level == 1 && heard[0].t_ns == 4000);
    assert_true(heard[1].pin == 2 && heard[2].pin == 3 && heard[2].t_ns == 7000);
    /* 32 bits at once, and then it waits for more */
    const uint16_t whole[] = {0x80a0, 0x6040};
    setup.words = whole;
    setup.count = 2;
    dia_engine_init(&engine, &setup);
    assert_int_equal(dia_engine_run(&engine, 20000, hear, NULL), DIA_ENGINE_WAITS);
    assert_int_equal(engine.y, 6);
    /* wait, in, push, irq, a pull that does not wait, reversed bits, status, out to the program
     * counter, set of directions, and a word that is not there */
    const uint16_t unknown[] = {0x2000, 0x4001, 0x8020, 0xc000, 0x8080,
                                0xa051, 0xa045, 0x60a1, 0xe081, 0xa0a1};
    for (size_t k = 0; k < sizeof unknown / sizeof unknown[0]; k++) {
        setup.words = &unknown[k];
        setup.count = 1;
        dia_engine_init(&engine, &setup);
        if (dia_engine_run(&engine, 20000, hear, NULL) != DIA_ENGINE_UNKNOWN)
            fail_msg("0x%04x is run", unknown[k]);
    }
    const uint16_t beyond[] = {0x0005};
    setup.words = beyond;
    dia_engine_init(&engine, &setup);
    assert_int_equal(dia_engine_run(&engine, 20000, hear, NULL), DIA_ENGINE_UNKNOWN);
}

/* The other ways, by hand: three SPI bits a bit for a WS2812B are 1/f and 2/f of 250 to 550 and 650
 * to 950 high, 700 to 1000 and 300 to 600 low: f is 2.106 (2/950) to 2.857 MHz (2/700). */
static void other_ways(void **state)
{
    (void)state;
    struct dia_pulses_way ways[DIA_PULSES_WAYS];
    dia_pulses_ways(ways, 125000000, &dia_ws2812b.timing);
    assert_int_equal(ways[0].bits, 3);
    assert_in_range(ways[0].least_hz, 2105264, 2105266);
    assert_in_range(ways[0].most_hz, 2857140, 2857143);
    assert_true(ways[0].fits && ways[0].zero == 1 && ways[0].one == 2);
    assert_true(ways[0].hz >= ways[0].least_hz && ways[0].hz <= ways[0].most_hz);
    assert_true(ways[1].fits && ways[2].fits && ways[3].fits && ways[4].fits);
    for (int k = 0; k < DIA_PULSES_WAYS; k++) {
        for (int t = 0; t < 4; t++) {
            double ns = ways[k].cycles[t] * 1e9 / ways[k].hz;
            assert_true(ns >= dia_ws2812b.timing.range[t].min_ns &&
                        ns <= dia_ws2812b.timing.range[t].max_ns);
        }
    }
    dia_pulses_ways(ways, 8000000, &dia_ws2811_fast.timing); /* a high of 2 cycles */
    assert_int_equal(ways[4].fits, 0);
    assert_non_null(strstr(ways[4].why, "too few for a loop"));
    dia_pulses_ways(ways, 1000000, &dia_ws2812b.timing);
    for (int k = 0; k < DIA_PULSES_WAYS; k++)
        assert_true(!ways[k].fits && ways[k].why[0]);
}

/* What the command prints: words that were planned, errors, what is impossible and why. */
static void the_command(void **state)
{
    (void)state;
    assert_int_equal(run("$D pulses --part WS2812B"), 0);
    says("   0  out x, 1         side 0              0x6021");
    says("20 of 20 pixels show what was sent, every pulse inside its sheet");
    says("SPI, 100/110           2.105 to 2.857 MHz; clock / 52 is 2.404 MHz;");
    for (char *line = strtok(output, "\n"); line; line = strtok(NULL, "\n"))
        assert_true(strlen(line) <= 3 * 80); /* of signs of three bytes */
    /* 125 MHz / 855 are 146,198.83 clocks; 26 cycles of 5623 are 146,198: 5.7 ppm less */
    assert_int_equal(run("$D pulses --square 855Hz --antiphase --json"), 0);
    says("\"divider\":\t5623");
    says("\"words\":\t[60417, 60418]"); /* 0xec01, 0xec02 */
    assert_int_equal(run("$D pulses --train '3us, 5us 10us,1us' --again --c"), 0);
    says("static const uint16_t pulses[4] = {");
    assert_int_equal(run("$D pulses --spi 4MHz --chips 2 --out p.png && file p.png"), 0);
    says("PNG image data, 1280 x");
    remove("p.png");
    static const struct {
        const char *options, *says;
        int code;
    } cases[] = {
        {"--square 0.001Hz --clock 1000MHz", "too slow: the divider ends at 65,536", 1},
        {"--square 1Hz", "too slow: the divider ends at 65,536", 1},
        {"--square 63MHz", "too fast: a period is two instructions", 1},
        {"--square 62.5MHz", "on the engine: pin 0 is high for 8 ns", 0},
        {"--square 1Hz --json", "\"fits\":\tfalse", 1},
        {"--part WS2812 --clock 2MHz", "does not fit: ", 1},
        {"--part SK681", "did you mean SK6812?", 2},
        {"--part APA102", "no one-wire part 'APA102'; there are WS2811-slow", 2},
        {"--train ''", "no levels", 2},
        {"--train '1us ,, 2us'", "2 levels, once", 0},
        {"--train 1us,2", "--train takes a time", 2},
        {"--train '1us 2us 3us' --again", "in pairs; found 3 levels", 2},
        {"--spi 1MHz --bits 33", "--bits", 2},
        {"--spi 1MHz --bits 3 --chips 3", "keep one", 2},
        {"--square 5Hz --part WS2812B", "what is wanted?", 2},
        {"", "what is wanted?", 2},
        {"--again --square 5Hz", "--again is of a --train", 2},
        {"--square 5Hz --out x.gif", "the name must end in .png or .svg", 2},
        {"--part WS2812B rest", "found 'rest'", 2},
    };
    for (size_t k = 0; k < sizeof cases / sizeof cases[0]; k++) {
        int code = run("$D pulses %s", cases[k].options);
        if (code != cases[k].code)
            fail_msg("%s: %d: %s", cases[k].options, code, output);
        says(cases[k].says);
    }
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(every_part_at_every_clock),
        cmocka_unit_test(the_words_are_those_of_the_sheet),
        cmocka_unit_test(square_waves_have_their_rate),
        cmocka_unit_test(trains_of_pulses),
        cmocka_unit_test(spi_and_shift_registers),
        cmocka_unit_test(the_engine_runs_what_its_sheet_has),
        cmocka_unit_test(other_ways),
        cmocka_unit_test(the_command),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
