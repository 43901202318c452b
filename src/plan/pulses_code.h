/* SPDX-License-Identifier: MIT */
#ifndef DIA_PLAN_PULSES_CODE_H
#define DIA_PLAN_PULSES_CODE_H

#include <diachrome/pulses.h>

/* Instructions as the RP2040 data sheet has them (PIO, instruction set): an operation in the upper
 * three bits, delay and side-set in the next five, and what it works on in the lower eight. */
enum {
    CODE_JMP = 0x0000,
    CODE_JMP_X_ZERO = 0x0020, /* if X is 0 */
    CODE_JMP_X_DEC = 0x0040,  /* if X is not 0, and X less 1 */
    CODE_JMP_Y_DEC = 0x0080,
    CODE_OUT_PINS_1 = 0x6001, /* a bit of data to the pins, */
    CODE_OUT_X_1 = 0x6021,    /* or to X */
    CODE_SET_PINS = 0xe000,
    CODE_SET_X = 0xe020,
    CODE_SET_Y = 0xe040,
    CODE_NOP = 0xa042 /* Y becomes Y */
};

/* Begins a program: nothing in it. */
void dia_code_begin(struct dia_pulses *plan, uint32_t clock_hz, uint32_t divider,
                    uint8_t side_pins);

/*
 * An instruction that takes so many cycles, 1 or more, with its side pins at `side`; what its delay
 * has no room for goes into instructions behind it that do nothing. Where it is a jump, they would
 * not be reached: it must be short enough. `text` without delay and side. 0: the program is full,
 * or the jump too long.
 */
int dia_code_add(struct dia_pulses *plan, uint16_t code, uint8_t side, uint32_t cycles,
                 const char *text);

/* Cycles that one instruction can take at the most. */
static inline uint32_t code_most(const struct dia_pulses *plan)
{
    return 32u >> plan->side_pins;
}

/* So many cycles of the plan's divider, in ps. */
uint64_t dia_code_ps(const struct dia_pulses *plan, uint64_t cycles);

void dia_code_time(struct dia_pulses *plan, const char *name, uint64_t wanted_ps,
                   const struct dia_pulse_range *range, uint64_t cycles);

/* 0, with what is impossible. */
int dia_code_impossible(struct dia_pulses *plan, const char *format, ...)
    __attribute__((format(printf, 2, 3)));

#define CODE_DIVIDER_MOST (65536u * 256u)

#endif
