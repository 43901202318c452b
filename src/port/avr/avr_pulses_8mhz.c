/* SPDX-License-Identifier: MIT */
#include "avr_clock.h"
#include "avr_pulses.h"

/*
 * Pulses by counted cycles at 8 MHz, of 125 ns. A bit of a WS2812B is 10 cycles, of which the
 * stores take 6, so all 8 bits of a byte are written out, and what goes on to the next byte stands
 * where other bits wait. The next byte is there before it is needed.
 *
 *             high 0   low 0   high 1   low 1
 *   early        3       7       5       4     WS2812, SK6812
 *   late         3       7       6       3     WS2812B, WS2812B-V5, WS2813, WS2815
 *   slow         4      16       9      10     WS2811-slow
 *
 * For a 0 the line falls with the store that a 1 skips; skipping takes a cycle less than the store
 * does, so after a 1 the next bit comes a cycle sooner, and its own pulses are as long as any
 * other's. WS2811-fast wants a high of 2 cycles, for which there is no room.
 *
 * Counting, loading and branching stand in the gaps of one bit each; nothing but the counting
 * touches the Z flag, so the branch at the end of a byte still finds it. In `late` only the gap
 * while the line is high has room for a branch, so its loop begins at the last fall of a byte. One
 * byte after the last is read and not used.
 */
#if F_CPU == 8000000

/* clang-format off */
#define WAIT(n) ".rept (" #n ")/2\n rjmp .+0\n .endr\n .rept (" #n ")&1\n nop\n .endr\n"
#define BIT(k, before, high_gap, low_gap) /* for a 0 the first store of low lets the line fall */  \
    "   st   X, %[high]         \n"                                                                \
    WAIT(before)                                                                                   \
    "   sbrs %[byte], " #k "    \n"                                                                \
    "   st   X, %[low]          \n"                                                                \
    high_gap                                                                                       \
    "   st   X, %[low]          \n"                                                                \
    low_gap
#define COUNT "   sbiw %[left], 1         \n" /* 2 cycles */
#define LOAD  "   ld   %[next], Z+        \n" /* 2 */
#define TURN  "   mov  %[byte], %[next]   \n" /* 1 */
#define AGAIN "   brne 1b                 \n" /* 2, and 1 when it is over */
#define AGAIN_FAR "   breq 2f\n rjmp 1b\n 2:\n" /* 3, for a loop of more than 64 words */
#define OPERANDS                                                                                   \
    : [byte] "+r"(byte), [next] "+r"(next), [left] "+w"(left), "+z"(bytes)                         \
    : [high] "r"(high), [low] "r"(low), "x"(out)                                                   \
    : "memory"

static void send_early(volatile uint8_t *out, uint8_t high, uint8_t low, const uint8_t *bytes,
                       uint16_t bits)
{
    uint8_t byte = *bytes++, next = 0;
    uint16_t left = bits / 8u;
    __asm__ volatile(
        "1:\n"
        BIT(7, 0, WAIT(1), COUNT)
        BIT(6, 0, WAIT(1), LOAD)
        BIT(5, 0, WAIT(1), WAIT(2))
        BIT(4, 0, WAIT(1), WAIT(2))
        BIT(3, 0, WAIT(1), WAIT(2))
        BIT(2, 0, WAIT(1), WAIT(2))
        BIT(1, 0, WAIT(1), WAIT(2))
        BIT(0, 0, TURN, AGAIN)
        OPERANDS);
}

static void send_late(volatile uint8_t *out, uint8_t high, uint8_t low, const uint8_t *bytes,
                      uint16_t bits)
{
    uint8_t byte = 0, next = *bytes++;
    uint16_t left = bits / 8u;
    __asm__ volatile(
        "1:\n"
        "   st   X, %[low]          \n"
        TURN
        BIT(7, 0, COUNT, WAIT(1))
        BIT(6, 0, LOAD, WAIT(1))
        BIT(5, 0, WAIT(2), WAIT(1))
        BIT(4, 0, WAIT(2), WAIT(1))
        BIT(3, 0, WAIT(2), WAIT(1))
        BIT(2, 0, WAIT(2), WAIT(1))
        BIT(1, 0, WAIT(2), WAIT(1))
        BIT(0, 0, AGAIN WAIT(1), "")
        OPERANDS);
}

static void send_slow(volatile uint8_t *out, uint8_t high, uint8_t low, const uint8_t *bytes,
                      uint16_t bits)
{
    uint8_t byte = *bytes++, next = 0;
    uint16_t left = bits / 8u;
    __asm__ volatile(
        "1:\n"
        BIT(7, 1, WAIT(4), COUNT WAIT(6))
        BIT(6, 1, WAIT(4), LOAD WAIT(6))
        BIT(5, 1, WAIT(4), WAIT(8))
        BIT(4, 1, WAIT(4), WAIT(8))
        BIT(3, 1, WAIT(4), WAIT(8))
        BIT(2, 1, WAIT(4), WAIT(8))
        BIT(1, 1, WAIT(4), WAIT(8))
        BIT(0, 1, TURN WAIT(3), WAIT(5) AGAIN_FAR)
        OPERANDS);
}
/* clang-format on */

const DIA_ROM struct dia_avr_sender dia_avr_senders[3] = {
    {send_late, {3, 7, 6, 3}},
    {send_early, {3, 7, 5, 4}},
    {send_slow, {4, 16, 9, 10}},
};

#endif
