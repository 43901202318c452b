/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_SMALL_NOISE_MIXED_H
#define DIA_CORE_SMALL_NOISE_MIXED_H

#include <stdint.h>

/* clang-format off */

/* to = from * k, with the bytes of k, lowest first; %2 holds one of them, %3 is 0 in the end. */
#define TIMES(from, to, k0, k1, k2, k3)                                                            \
    "ldi %2, " k0 "\n\t"                                                                           \
    "mul %A" from ", %2\n\t" "movw %A" to ", r0\n\t"                                              \
    "mul %C" from ", %2\n\t" "movw %C" to ", r0\n\t"                                              \
    "mul %B" from ", %2\n\t" "clr %3\n\t" UP3(to)                                                 \
    "mul %D" from ", %2\n\t" UP1(to)                                                               \
    "ldi %2, " k1 "\n\t"                                                                           \
    "mul %A" from ", %2\n\t" UP3(to)                                                               \
    "mul %B" from ", %2\n\t" UP2(to)                                                               \
    "mul %C" from ", %2\n\t" UP1(to)                                                               \
    "ldi %2, " k2 "\n\t"                                                                           \
    "mul %A" from ", %2\n\t" UP2(to)                                                               \
    "mul %B" from ", %2\n\t" UP1(to)                                                               \
    "ldi %2, " k3 "\n\t"                                                                           \
    "mul %A" from ", %2\n\t" UP1(to)

/* A product of two bytes is added to the upper three, two or one of a number. */
#define UP3(to) "add %B" to ", r0\n\t" "adc %C" to ", r1\n\t" "adc %D" to ", %3\n\t"
#define UP2(to) "add %C" to ", r0\n\t" "adc %D" to ", r1\n\t"
#define UP1(to) "add %D" to ", r0\n\t"

/* As noise.h has it, in half the cycles that a compiler takes: with single bytes, and shifts by
 * whole ones. */
static inline uint32_t noise_mixed(uint32_t x)
{
    uint32_t y;
    uint8_t byte, none;
    __asm__(
        "eor %A0, %C0\n\t" "eor %B0, %D0\n\t"                      /* x ^= x >> 16 */
        TIMES("0", "1", "0x2d", "0x35", "0xeb", "0x7f")
        "movw %A0, %C1\n\t" "mov %2, %B1\n\t" "lsl %2\n\t"        /* x = y >> 15 */
        "rol %A0\n\t" "rol %B0\n\t" "rol %3\n\t"
        "eor %A1, %A0\n\t" "eor %B1, %B0\n\t" "eor %C1, %3\n\t"   /* y ^= x */
        TIMES("1", "0", "0x8b", "0xa6", "0x6c", "0x84")
        "eor %A0, %C0\n\t" "eor %B0, %D0\n\t"
        "clr r1"
        : "+r"(x), "=&r"(y), "=&d"(byte), "=&r"(none) : : "r0");
    return x;
}

#undef TIMES
#undef UP1
#undef UP2
#undef UP3
/* clang-format on */

#endif
