/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include "pulses_code.h"

static const char *const names[4] = {"high of a 0", "low of a 0", "high of a 1", "low of a 1"};

/* ---- one-wire pulses ------------------------------------------------------------------------- */

/* The four parts of its pulses in cycles of a divider, a whole number: 0 where one is not inside
 * its range. *worst: the largest error, in ps. */
static int parts_of(uint32_t cycles[4], uint64_t *worst, uint32_t clock_hz, uint32_t divider,
                    const struct dia_pulse_timing *timing)
{
    *worst = 0;
    for (int k = 0; k < 4; k++) {
        const struct dia_pulse_range *range = &timing->range[k];
        double cycle_ps = divider * 1e12 / clock_hz, wanted = range->nominal_ns * 1e3;
        cycles[k] = (uint32_t)(wanted / cycle_ps + 0.5);
        double got = cycles[k] * cycle_ps, error = got > wanted ? got - wanted : wanted - got;
        if (cycles[k] == 0 || got < range->min_ns * 1e3 || got > range->max_ns * 1e3)
            return 0;
        *worst = error > (double)*worst ? (uint64_t)error : *worst;
    }
    return cycles[DIA_T1H] > cycles[DIA_T0H] && cycles[DIA_T0L] > 1 && cycles[DIA_T1L] > 1;
}

/*
 * A bit is fetched in the last cycle of the low before it, so that the engine waits low where there
 * is none. A 1 stays high after a 0 has gone low, and each has a low of its own.
 */
static int write_onewire(struct dia_pulses *plan, const uint32_t cycles[4])
{
    return dia_code_add(plan, CODE_OUT_X_1, 0, 1, "out x, 1") &&
           dia_code_add(plan, CODE_JMP_X_ZERO | 4, 1, cycles[DIA_T0H], "jmp !x, 4") &&
           dia_code_add(plan, CODE_NOP, 1, cycles[DIA_T1H] - cycles[DIA_T0H], "nop") &&
           dia_code_add(plan, CODE_JMP | 0, 0, cycles[DIA_T1L] - 1, "jmp 0") &&
           dia_code_add(plan, CODE_NOP, 0, cycles[DIA_T0L] - 1, "nop");
}

/* The dividers around one, in 256ths, with which these cycles are still inside all ranges. */
static void divider_limits(struct dia_pulses *plan, const uint32_t cycles[4],
                           const struct dia_pulse_timing *timing)
{
    double least = 0, most = 1e18;
    for (int k = 0; k < 4; k++) {
        double of_ns = plan->clock_hz / 1e9 * 256 / cycles[k];
        double low = timing->range[k].min_ns * of_ns, high = timing->range[k].max_ns * of_ns;
        least = low > least ? low : least;
        most = high < most ? high : most;
    }
    plan->least_divider = (uint32_t)least + (least > (uint32_t)least);
    plan->least_divider = plan->least_divider < 256 ? 256 : plan->least_divider;
    plan->most_divider = most < CODE_DIVIDER_MOST ? (uint32_t)most : CODE_DIVIDER_MOST;
}

int dia_pulses_onewire(struct dia_pulses *plan, uint32_t clock_hz,
                       const struct dia_pulse_timing *timing, uint8_t bits)
{
    uint32_t cycles[4], best[4] = {0}, divider = 0, most = 16;
    uint64_t worst, least = UINT64_MAX;
    int fine = 0;
    for (uint32_t d = 1; d <= 65536; d++) {
        if (!parts_of(cycles, &worst, clock_hz, d, timing)) {
            if ((double)d * 1e9 / clock_hz > timing->range[DIA_T0H].max_ns)
                break; /* a cycle is longer than the shortest part */
            continue;
        }
        if (cycles[DIA_T0H] > most || cycles[DIA_T1H] - cycles[DIA_T0H] > most ||
            cycles[DIA_T1L] - 1 > most || cycles[DIA_T0L] - 1 > most) {
            fine = 1; /* a delay of 4 bits beside one pin is not long enough */
            continue;
        }
        if (worst < least) {
            least = worst;
            divider = d;
            for (int k = 0; k < 4; k++)
                best[k] = cycles[k];
        }
    }
    dia_code_begin(plan, clock_hz, divider * 256, 1);
    if (divider == 0)
        return dia_code_impossible(
            plan,
            fine ? "too long: a delay has 4 bits beside one pin, and none of the dividers makes "
                   "all parts of the pulses short enough"
                 : "too coarse: a cycle of the clock is %.1f ns, and no number of them is inside "
                   "all four ranges",
            1e9 / clock_hz);
    write_onewire(plan, best); /* five words: it fits */
    plan->pull_bits = bits;
    divider_limits(plan, best, timing);
    for (int k = 0; k < 4; k++)
        dia_code_time(plan, names[k], timing->range[k].nominal_ns * 1000ull, &timing->range[k],
                      best[k]);
    return 1;
}

/* ---- square waves ---------------------------------------------------------------------------- */

/* Of a period in 256ths of clocks: how many cycles of which divider come nearest to it. A whole
 * divider, as its edges do not jitter, where one is within 10 ppm, which is less than a crystal may
 * be off; else the least error. */
static uint32_t nearest_period(double wanted, uint32_t *divider)
{
    uint32_t best = 0;
    double least = 1e30;
    for (int whole = 1; whole >= 0 && least > wanted * 1e-5; whole--) {
        for (uint32_t n = 2; n <= 64; n += 2) {
            double of = wanted / n;
            if (of > CODE_DIVIDER_MOST + 1.0)
                continue; /* too long for any divider, and for 32 bits */
            double d =
                whole ? (double)(uint32_t)(of / 256 + 0.5) * 256 : (double)(uint32_t)(of + 0.5);
            double error = d * n > wanted ? d * n - wanted : wanted - d * n;
            if (d < 256 || d > CODE_DIVIDER_MOST || error >= least * (whole ? 1 : 0.999))
                continue;
            least = error;
            best = n;
            *divider = (uint32_t)d;
        }
    }
    return best;
}

int dia_pulses_square(struct dia_pulses *plan, uint32_t clock_hz, uint64_t mhz, int antiphase)
{
    double wanted = clock_hz * 256e3 / (double)mhz;
    uint32_t divider = 256, n = nearest_period(wanted, &divider);
    /* longer than two instructions can be at the slowest: more that do nothing */
    if (n == 0 && wanted > 64.0 * CODE_DIVIDER_MOST) {
        n = (uint32_t)(wanted / CODE_DIVIDER_MOST) / 2 * 2 + 2;
        divider = (uint32_t)(wanted / n + 0.5);
    }
    dia_code_begin(plan, clock_hz, divider, 0);
    if (wanted < 2 * 256.0)
        return dia_code_impossible(plan,
                                   "too fast: a period is two instructions, so the fastest is half "
                                   "of the clock, %.6g Hz",
                                   clock_hz / 2.0);
    plan->set_pins = antiphase ? 2 : 1;
    char up[32], down[32];
    snprintf(up, sizeof up, "set pins, %d", 1);
    snprintf(down, sizeof down, "set pins, %d", antiphase ? 2 : 0);
    if (n > 32 * DIA_PULSES_WORDS || !dia_code_add(plan, CODE_SET_PINS | 1, 0, n / 2, up) ||
        !dia_code_add(plan, (uint16_t)(CODE_SET_PINS | (antiphase ? 2 : 0)), 0, n / 2, down))
        return dia_code_impossible(plan,
                                   "too slow: the divider ends at 65,536 and the program at 32 "
                                   "words of 32 cycles, so the slowest is %.3g Hz; use a timer",
                                   clock_hz / 65536.0 / (32 * DIA_PULSES_WORDS));
    dia_code_time(plan, "period", (uint64_t)(1e15 / (double)mhz + 0.5), NULL, n);
    dia_code_time(plan, "high", (uint64_t)(5e14 / (double)mhz + 0.5), NULL, n / 2);
    return 1;
}

/* ---- pulses of given widths ------------------------------------------------------------------ */

/* With a divider: 1 when it all fits. */
static int write_train(struct dia_pulses *plan, uint32_t clock_hz, uint32_t divider,
                       const uint32_t *ns, uint32_t n, int again)
{
    dia_code_begin(plan, clock_hz, divider * 256, 0);
    plan->set_pins = 1;
    for (uint32_t k = 0; k < n; k++) {
        uint16_t level = k % 2 == 0;
        uint64_t cycles = (uint64_t)((double)ns[k] * clock_hz / 1e9 / divider + 0.5);
        char name[24];
        if (cycles == 0 || cycles > 32 * DIA_PULSES_WORDS ||
            !dia_code_add(plan, (uint16_t)(CODE_SET_PINS | level), 0, (uint32_t)cycles,
                          level ? "set pins, 1" : "set pins, 0"))
            return 0;
        snprintf(name, sizeof name, "%s %u", level ? "high" : "low", (unsigned)k / 2 + 1);
        dia_code_time(plan, name, ns[k] * 1000ull, NULL, cycles);
    }
    if (again)
        return 1;
    if (n % 2 == 1 && !dia_code_add(plan, CODE_SET_PINS, 0, 1, "set pins, 0"))
        return 0;
    char stop[24];
    uint8_t at = plan->count;
    snprintf(stop, sizeof stop, "jmp %u", at);
    return dia_code_add(plan, (uint16_t)(CODE_JMP | (at & 31)), 0, 1, stop);
}

/* The largest error of its levels, in parts of each. */
static double train_error(const struct dia_pulses *plan)
{
    double worst = 0;
    for (uint8_t k = 0; k < plan->time_count; k++) {
        const struct dia_pulse_time *t = &plan->times[k];
        double error = ((double)t->got_ps - (double)t->wanted_ps) / (double)t->wanted_ps;
        error = error < 0 ? -error : error;
        worst = error > worst ? error : worst;
    }
    return worst;
}

/* With the least error; of those that are as good to 100 ppm, the one with the fewest words. 0:
 * none makes all of it fit. */
static uint32_t best_train_divider(struct dia_pulses *plan, uint32_t clock_hz, const uint32_t *ns,
                                   uint32_t n, int again, uint32_t shortest)
{
    uint32_t best = 0, words = 0;
    double least = 1e9;
    for (uint32_t d = 1; d <= 65536; d++) {
        if ((double)d * 1e9 / clock_hz > 2.0 * shortest)
            break; /* the shortest has gone */
        if (!write_train(plan, clock_hz, d, ns, n, again))
            continue;
        double error = train_error(plan);
        if (error > least + 1e-4 || (error > least - 1e-4 && plan->count >= words))
            continue;
        least = error;
        words = plan->count;
        best = d;
    }
    return best;
}

int dia_pulses_train(struct dia_pulses *plan, uint32_t clock_hz, const uint32_t *ns, uint32_t n,
                     int again)
{
    uint32_t shortest = UINT32_MAX;
    for (uint32_t k = 0; k < n; k++)
        shortest = ns[k] < shortest ? ns[k] : shortest;
    dia_code_begin(plan, clock_hz, 256, 0);
    if (n == 0 || n > DIA_PULSES_WORDS - 1)
        return dia_code_impossible(plan, "1 to %d levels; these are %u", DIA_PULSES_WORDS - 1,
                                   (unsigned)n);
    if ((double)shortest * clock_hz / 1e9 < 0.5)
        return dia_code_impossible(plan, "too short: %u ns are less than a clock of %.3g ns",
                                   (unsigned)shortest, 1e9 / clock_hz);
    uint32_t best = best_train_divider(plan, clock_hz, ns, n, again, shortest);
    if (best && write_train(plan, clock_hz, best, ns, n, again))
        return 1;
    double word_ns = 32 * 65536e9 / clock_hz, words = 0;
    for (uint32_t k = 0; k < n; k++)
        words += (uint32_t)(ns[k] / word_ns) + 1;
    if (words > DIA_PULSES_WORDS)
        return dia_code_impossible(plan,
                                   "too long: the divider ends at 65,536, so a word lasts %.3g ms "
                                   "at the most, and all levels take %.0f of 32 words",
                                   word_ns / 1e6, words);
    return dia_code_impossible(plan,
                               "too long beside %u ns: 32 words of 32 cycles hold %.4g times the "
                               "shortest",
                               (unsigned)shortest, 32.0 * DIA_PULSES_WORDS);
}

/* ---- SPI ------------------------------------------------------------------------------------- */

static int write_spi(struct dia_pulses *plan, uint32_t half)
{
    plan->side_first = 1;
    return dia_code_add(plan, CODE_OUT_PINS_1, 0, half, "out pins, 1") &&
           dia_code_add(plan, CODE_NOP, 1, half, "nop");
}

/* Bytes counted in Y, bits in X; the side pins are clock and latch. */
static int write_chain(struct dia_pulses *plan, uint32_t half, uint8_t chips)
{
    char count[24];
    snprintf(count, sizeof count, "set y, %u", chips - 1u);
    plan->side_first = 1;
    int fits = dia_code_add(plan, (uint16_t)(CODE_SET_Y | (chips - 1u)), 0, 1, count) &&
               dia_code_add(plan, CODE_SET_X | 7, 0, 1, "set x, 7");
    return fits && dia_code_add(plan, CODE_OUT_PINS_1, 0, half, "out pins, 1") &&
           dia_code_add(plan, CODE_JMP_X_DEC | 2, 1, half, "jmp x--, 2") &&
           dia_code_add(plan, CODE_JMP_Y_DEC | 1, 0, 1, "jmp y--, 1") &&
           dia_code_add(plan, CODE_NOP, 2, half, "nop");
}

int dia_pulses_spi(struct dia_pulses *plan, uint32_t clock_hz, uint32_t spi_hz, uint8_t bits,
                   uint8_t chips)
{
    /* half of a period in clocks, rounded up: never faster */
    uint64_t half = ((uint64_t)clock_hz + 2ull * spi_hz - 1) / (2ull * spi_hz);
    uint32_t cycles = 1;
    dia_code_begin(plan, clock_hz, 256, chips ? 2 : 1);
    if (half > 65536ull * code_most(plan))
        return dia_code_impossible(plan,
                                   "too slow: the divider ends at 65,536 and a delay beside %s at "
                                   "%u cycles, so the slowest is %.3g Hz",
                                   chips ? "two pins" : "one pin", (unsigned)code_most(plan),
                                   clock_hz / 131072.0 / code_most(plan));
    while (half / cycles > 65536 || (half % cycles != 0 && cycles < code_most(plan)))
        cycles++;
    uint32_t divider = (uint32_t)((half + cycles - 1) / cycles);
    dia_code_begin(plan, clock_hz, divider * 256, chips ? 2 : 1);
    plan->out_pins = 1;
    plan->chips = chips;
    plan->pull_bits = chips ? 8 : bits;
    if (!(chips ? write_chain(plan, cycles, chips) : write_spi(plan, cycles)))
        return dia_code_impossible(plan, "the program is full");
    dia_code_time(plan, "clock low", (uint64_t)(5e11 / spi_hz + 0.5), NULL, cycles);
    dia_code_time(plan, "clock high", (uint64_t)(5e11 / spi_hz + 0.5), NULL, cycles);
    if (chips)
        dia_code_time(plan, "latch high", (uint64_t)(5e11 / spi_hz + 0.5), NULL, cycles);
    return 1;
}
