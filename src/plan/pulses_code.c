/* SPDX-License-Identifier: MIT */
#include <stdarg.h>
#include <stdio.h>
#include <string.h>

#include "pulses_code.h"

void dia_code_begin(struct dia_pulses *plan, uint32_t clock_hz, uint32_t divider, uint8_t side_pins)
{
    memset(plan, 0, sizeof *plan);
    plan->clock_hz = clock_hz;
    plan->divider = divider;
    plan->side_pins = side_pins;
    plan->jitters = divider % 256u != 0;
}

static int add_one(struct dia_pulses *plan, uint16_t code, uint8_t side, uint32_t cycles,
                   const char *text)
{
    if (plan->count == DIA_PULSES_WORDS)
        return 0;
    char *line = plan->text[plan->count];
    uint32_t beside = (uint32_t)side << (5u - plan->side_pins) | (cycles - 1u);
    plan->words[plan->count++] = (uint16_t)(code | beside << 8);
    int n = snprintf(line, sizeof plan->text[0], "%-16s", text);
    if (plan->side_pins)
        n += snprintf(line + n, sizeof plan->text[0] - (size_t)n, " side %u", side);
    if (cycles > 1)
        n += snprintf(line + n, sizeof plan->text[0] - (size_t)n, " [%u]", (unsigned)cycles - 1u);
    while (n > 0 && line[n - 1] == ' ')
        line[--n] = 0;
    return 1;
}

int dia_code_add(struct dia_pulses *plan, uint16_t code, uint8_t side, uint32_t cycles,
                 const char *text)
{
    uint32_t most = code_most(plan), first = cycles < most ? cycles : most;
    int jumps = (code & 0xe000) == CODE_JMP;
    if (jumps && cycles > most)
        return 0;
    int fits = add_one(plan, code, side, first, text);
    for (cycles -= first; cycles != 0 && fits; cycles -= first) {
        first = cycles < most ? cycles : most;
        fits = add_one(plan, CODE_NOP, side, first, "nop");
    }
    return fits;
}

uint64_t dia_code_ps(const struct dia_pulses *plan, uint64_t cycles)
{
    double clocks = (double)cycles * plan->divider / 256.0;
    return (uint64_t)(clocks * 1e12 / plan->clock_hz + 0.5);
}

void dia_code_time(struct dia_pulses *plan, const char *name, uint64_t wanted_ps,
                   const struct dia_pulse_range *range, uint64_t cycles)
{
    struct dia_pulse_time *time = &plan->times[plan->time_count++];
    snprintf(time->name, sizeof time->name, "%s", name);
    time->wanted_ps = wanted_ps;
    time->got_ps = dia_code_ps(plan, cycles);
    if (range) {
        time->least_ps = range->min_ns * 1000ull;
        time->most_ps = range->max_ns * 1000ull;
    }
}

int dia_code_impossible(struct dia_pulses *plan, const char *format, ...)
{
    va_list args;
    va_start(args, format);
    vsnprintf(plan->why, sizeof plan->why, format, args);
    va_end(args);
    plan->count = 0;
    return 0;
}
