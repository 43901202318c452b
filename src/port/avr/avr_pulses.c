/* SPDX-License-Identifier: MIT */
#include <stddef.h>

#include "avr_pulses.h"

#include "avr_clock.h"

/*
 * Pulses by counted cycles, at 16 MHz of 62.5 ns and at 20 MHz of 50 ns. Three senders cover all
 * one-wire parts (cycles at 16 MHz; at 20 MHz):
 *
 *             high 0   low 0   high 1   low 1
 *   early      5  6    15 19   10 12    10 13    WS2811-fast, WS2812, SK6812
 *   late       5  6    14 18   13 16     6  8    WS2812B, WS2812B-V5, WS2813, WS2815
 *   slow       8 10    32 40   19 24    21 26    WS2811-slow
 *
 * In each the line rises, then for a 0 falls (for a 1 the same store writes high again), then
 * falls for both. Going on to the next byte takes 4 cycles whether it happens or not, so that
 * all pulses are alike: `early` has the time for it while the line is low, the others while it
 * is high. The comments count cycles since the line rose, at the end of the instruction, without
 * what is waited. One byte after the last is read and not used.
 */
#if F_CPU != 8000000

/* Cycles that are waited for at 20 MHz only. */
#if F_CPU == 20000000
#define WAIT_20MHZ(cycles) ".rept " #cycles "\n nop\n .endr\n"
#else
#define WAIT_20MHZ(cycles) ""
#endif

/* clang-format off */
#define OPERANDS                                                                                   \
    : [byte] "+r"(byte), [level] "=&r"(level), [left] "+d"(left), [bits] "+w"(bits), "+z"(bytes)   \
    : [high] "r"(high), [low] "r"(low), "x"(out)                                                   \
    : "memory"

#define NEXT_BYTE /* 4 cycles by either way; uses the Z flag of left */                            \
    "   brne 2f                 \n"                                                                \
    "   ldi  %[left], 8         \n"                                                                \
    "   ld   %[byte], Z+        \n"                                                                \
    "3:                         \n"

#define LOOP                                                                                       \
    "   sbiw %[bits], 1         \n"                                                                \
    "   brne 1b                 \n"                                                                \
    "   rjmp 4f                 \n"                                                                \
    "2: rjmp 3b                 \n"                                                                \
    "4:                         \n"

static void send_early(volatile uint8_t *out, uint8_t high, uint8_t low, const uint8_t *bytes,
                       uint16_t bits)
{
    uint8_t byte = *bytes++, left = 8, level;
    __asm__ volatile(
        "1: st   X, %[high]         \n" /* 0 rises */
        "   mov  %[level], %[high]  \n" /* 1 */
        "   sbrs %[byte], 7         \n"
        "   mov  %[level], %[low]   \n" /* 3 */
        WAIT_20MHZ(1)
        "   st   X, %[level]        \n" /* 5 falls for a 0 */
        "   lsl  %[byte]            \n" /* 6 */
        "   dec  %[left]            \n" /* 7 */
        "   nop                     \n" /* 8 */
        WAIT_20MHZ(1)
        "   st   X, %[low]          \n" /* 10 falls for a 1 */
        NEXT_BYTE                       /* 14 */
        WAIT_20MHZ(3)
        LOOP                            /* 18, and the store at 1 ends at 20 */
        OPERANDS);
}

static void send_late(volatile uint8_t *out, uint8_t high, uint8_t low, const uint8_t *bytes,
                      uint16_t bits)
{
    uint8_t byte = *bytes++, left = 8, level;
    __asm__ volatile(
        "1: st   X, %[high]         \n" /* 0 rises */
        "   mov  %[level], %[high]  \n" /* 1 */
        "   sbrs %[byte], 7         \n"
        "   mov  %[level], %[low]   \n" /* 3 */
        WAIT_20MHZ(1)
        "   st   X, %[level]        \n" /* 5 falls for a 0 */
        "   lsl  %[byte]            \n" /* 6 */
        "   dec  %[left]            \n" /* 7 */
        NEXT_BYTE                       /* 11 */
        WAIT_20MHZ(2)
        "   st   X, %[low]          \n" /* 13 falls for a 1 */
        WAIT_20MHZ(2)
        LOOP                            /* 17, and the store at 1 ends at 19 */
        OPERANDS);
}

static void send_slow(volatile uint8_t *out, uint8_t high, uint8_t low, const uint8_t *bytes,
                      uint16_t bits)
{
    uint8_t byte = *bytes++, left = 8, level;
    __asm__ volatile(
        "1: st   X, %[high]         \n" /* 0 rises */
        "   mov  %[level], %[high]  \n" /* 1 */
        "   sbrs %[byte], 7         \n"
        "   mov  %[level], %[low]   \n" /* 3 */
        "   rjmp .+0                \n" /* 5 */
        "   nop                     \n" /* 6 */
        WAIT_20MHZ(2)
        "   st   X, %[level]        \n" /* 8 falls for a 0 */
        "   lsl  %[byte]            \n" /* 9 */
        "   dec  %[left]            \n" /* 10 */
        NEXT_BYTE                       /* 14 */
        "   rjmp .+0                \n" /* 16 */
        "   nop                     \n" /* 17 */
        WAIT_20MHZ(3)
        "   st   X, %[low]          \n" /* 19 falls for a 1 */
        ".rept 7                    \n"
        "   rjmp .+0                \n"
        ".endr                      \n" /* 33 */
        "   nop                     \n" /* 34 */
        WAIT_20MHZ(5)
        LOOP                            /* 38, and the store at 1 ends at 40 */
        OPERANDS);
}
/* clang-format on */

const DIA_ROM struct dia_avr_sender dia_avr_senders[3] = {
    {send_late, {CYCLES(5, 6), CYCLES(14, 18), CYCLES(13, 16), CYCLES(6, 8)}},
    {send_early, {CYCLES(5, 6), CYCLES(15, 19), CYCLES(10, 12), CYCLES(10, 13)}},
    {send_slow, {CYCLES(8, 10), CYCLES(32, 40), CYCLES(19, 24), CYCLES(21, 26)}},
};

#endif

uint8_t dia_avr_keeps(const DIA_ROM uint8_t *cycles, const DIA_ROM struct dia_pulse_range *range)
{
    for (uint8_t i = 0; i < 4; i++, cycles++, range++) {
        uint16_t ns = (uint16_t)(*cycles * (uint16_t)(4000000000u / F_CPU) / 4u);
        if (ns < range->min_ns || ns > range->max_ns)
            return 0;
    }
    return 1;
}

avr_pulses *dia_avr_pulses_for(const DIA_ROM struct dia_pulse_timing *timing)
{
    for (uint8_t i = 0; i < sizeof dia_avr_senders / sizeof dia_avr_senders[0]; i++) {
        if (dia_avr_keeps(dia_avr_senders[i].cycles, timing->range))
            return dia_avr_senders[i].send;
    }
    return NULL;
}
