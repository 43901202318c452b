/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include <diachrome/pulses.h>

/* How far inside of its range the part of a pulse is that is nearest to a limit, ps; -1: outside.
 */
static double margin(struct dia_pulses_way *way, const struct dia_pulse_timing *timing)
{
    double least = 1e18;
    for (uint8_t k = 0; k < 4; k++) {
        double got = way->cycles[k] * 1e12 / way->hz;
        double low = got - timing->range[k].min_ns * 1e3,
               high = timing->range[k].max_ns * 1e3 - got;
        double less = low < high ? low : high;
        if (less < least) {
            least = less;
            way->worst = k;
        }
    }
    way->margin_ps = least >= 0 ? (uint64_t)least : 0;
    return least;
}

/* Clocks with which so many of `bits` as highs are inside all ranges. */
static int clocks_of(uint32_t bits, uint32_t zero, uint32_t one,
                     const struct dia_pulse_timing *timing, double *least, double *most)
{
    const uint32_t parts[4] = {zero, bits - zero, one, bits - one};
    *least = 0;
    *most = 1e18;
    for (int k = 0; k < 4; k++) {
        double from = parts[k] * 1e9 / timing->range[k].max_ns;
        double to = parts[k] * 1e9 / timing->range[k].min_ns;
        *least = from > *least ? from : *least;
        *most = to < *most ? to : *most;
    }
    return *least <= *most;
}

static void set_parts(struct dia_pulses_way *way, uint32_t bits, uint32_t zero, uint32_t one)
{
    way->cycles[DIA_T0H] = zero;
    way->cycles[DIA_T0L] = bits - zero;
    way->cycles[DIA_T1H] = one;
    way->cycles[DIA_T1L] = bits - one;
}

/* The highs that leave the widest room, and of the controller's clocks that with the most margin.
 */
static void by_spi(struct dia_pulses_way *way, uint32_t bits, uint32_t clock_hz,
                   const struct dia_pulse_timing *timing)
{
    double widest = 0, best = -1;
    *way = (struct dia_pulses_way){.by = DIA_PULSES_SPI, .bits = (uint8_t)bits};
    for (uint32_t zero = 1; zero < bits - 1; zero++) {
        for (uint32_t one = zero + 1; one < bits; one++) {
            double least, most;
            if (!clocks_of(bits, zero, one, timing, &least, &most) || most / least <= widest)
                continue;
            widest = most / least;
            way->zero = (uint8_t)zero;
            way->one = (uint8_t)one;
            way->least_hz = (uint32_t)least + 1;
            way->most_hz = (uint32_t)most;
        }
    }
    if (widest == 0) {
        snprintf(way->why, sizeof way->why, "no clock has all four parts inside their ranges");
        return;
    }
    set_parts(way, bits, way->zero, way->one);
    for (uint32_t d = 1; d <= clock_hz / way->least_hz; d++) {
        struct dia_pulses_way tried = *way;
        tried.hz = clock_hz / d;
        tried.divider = d;
        double inside = tried.hz > way->most_hz ? -1 : margin(&tried, timing);
        if (inside >= 0 && inside > best) {
            best = inside;
            *way = tried;
        }
    }
    way->fits = best >= 0;
    if (!way->fits)
        snprintf(way->why, sizeof way->why, "this clock has no whole divider to such a rate");
}

/* A timer whose compare value changes from bit to bit: both kinds of bits last as long. */
static void by_timer(struct dia_pulses_way *way, uint32_t clock_hz,
                     const struct dia_pulse_timing *timing)
{
    double best = -1;
    *way = (struct dia_pulses_way){.by = DIA_PULSES_TIMER};
    uint32_t longest =
        (uint32_t)((uint64_t)clock_hz *
                   (timing->range[DIA_T0H].max_ns + timing->range[DIA_T0L].max_ns) / 1000000000u);
    uint32_t zero = (uint32_t)(timing->range[DIA_T0H].nominal_ns / 1e9 * clock_hz + 0.5);
    uint32_t one = (uint32_t)(timing->range[DIA_T1H].nominal_ns / 1e9 * clock_hz + 0.5);
    for (uint32_t period = 2; period <= longest && period < 65536; period++) {
        struct dia_pulses_way tried = *way;
        tried.hz = clock_hz;
        tried.divider = 1;
        if (zero == 0 || one >= period || one <= zero)
            continue;
        set_parts(&tried, period, zero, one);
        double inside = margin(&tried, timing);
        if (inside >= 0 && inside > best) {
            best = inside;
            *way = tried;
        }
    }
    way->fits = best >= 0;
    if (!way->fits)
        snprintf(way->why, sizeof way->why,
                 "a clock of %.3g ns is too coarse, or no one period is right for a 0 and a 1",
                 1e9 / clock_hz);
}

/* A loop needs some cycles for the next bit and byte: 10 in all, 3 of them high, as our own ones of
 * an AVR at 8 MHz (src/port/avr/avr_pulses_8mhz.c). */
#define LOOP_CYCLES 10u
#define LOOP_HIGH   3u

static void by_cycles(struct dia_pulses_way *way, uint32_t clock_hz,
                      const struct dia_pulse_timing *timing)
{
    *way = (struct dia_pulses_way){.by = DIA_PULSES_CYCLES, .hz = clock_hz, .divider = 1};
    for (int k = 0; k < 4; k++)
        way->cycles[k] = (uint32_t)(timing->range[k].nominal_ns / 1e9 * clock_hz + 0.5);
    uint32_t zero = way->cycles[DIA_T0H] + way->cycles[DIA_T0L];
    uint32_t one = way->cycles[DIA_T1H] + way->cycles[DIA_T1L];
    double inside = margin(way, timing);
    if (way->cycles[DIA_T0H] < LOOP_HIGH || zero < LOOP_CYCLES || one < LOOP_CYCLES)
        snprintf(way->why, sizeof way->why,
                 "%u cycles a bit, %u of them high, are too few for a loop: %u and %u",
                 (unsigned)(zero < one ? zero : one), (unsigned)way->cycles[DIA_T0H], LOOP_CYCLES,
                 LOOP_HIGH);
    else if (inside < 0)
        snprintf(way->why, sizeof way->why, "a cycle of %.3g ns is too coarse", 1e9 / clock_hz);
    else
        way->fits = 1;
}

void dia_pulses_ways(struct dia_pulses_way ways[DIA_PULSES_WAYS], uint32_t clock_hz,
                     const struct dia_pulse_timing *timing)
{
    by_spi(&ways[0], 3, clock_hz, timing);
    by_spi(&ways[1], 4, clock_hz, timing);
    by_spi(&ways[2], 8, clock_hz, timing);
    by_timer(&ways[3], clock_hz, timing);
    by_cycles(&ways[4], clock_hz, timing);
}
