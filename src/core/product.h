/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_PRODUCT_H
#define DIA_CORE_PRODUCT_H

#include <stdint.h>

/*
 * Products of 16 bits, the work of most looks. Processors of 8 bits have only products of bytes:
 * compilers call a function for the rest, which costs twice what the four products do. Programs
 * that are built for size keep the call.
 */
#if defined(__AVR_HAVE_MUL__) && !defined(__OPTIMIZE_SIZE__)

/* a * b */
static inline uint32_t product_of(uint16_t a, uint16_t b)
{
    uint32_t product;
    const uint8_t none = 0;
    __asm__("mul %A1, %A2\n\tmovw %A0, r0\n\t"
            "mul %B1, %B2\n\tmovw %C0, r0\n\t"
            "mul %A1, %B2\n\tadd %B0, r0\n\tadc %C0, r1\n\tadc %D0, %3\n\t"
            "mul %B1, %A2\n\tadd %B0, r0\n\tadc %C0, r1\n\tadc %D0, %3\n\t"
            "clr r1"
            : "=&r"(product)
            : "r"(a), "r"(b), "r"(none)
            : "r0");
    return product;
}

/* a * b >> 16 */
static inline uint16_t product_high(uint16_t a, uint16_t b)
{
    uint16_t high;
    uint8_t below;
    const uint8_t none = 0;
    __asm__("mul %B2, %B3\n\tmovw %A0, r0\n\t"
            "mul %A2, %A3\n\tmov %1, r1\n\t"
            "mul %A2, %B3\n\tadd %1, r0\n\tadc %A0, r1\n\tadc %B0, %4\n\t"
            "mul %B2, %A3\n\tadd %1, r0\n\tadc %A0, r1\n\tadc %B0, %4\n\t"
            "clr r1"
            : "=&r"(high), "=&r"(below)
            : "r"(a), "r"(b), "r"(none)
            : "r0");
    return high;
}

/* from - a * b / 65536, rounded down */
static inline uint16_t product_taken(uint16_t from, uint16_t a, uint16_t b)
{
    uint32_t product;
    const uint8_t none = 0;
    __asm__("mul %A2, %A3\n\tmovw %A1, r0\n\t"
            "mul %B2, %B3\n\tmovw %C1, r0\n\t"
            "mul %A2, %B3\n\tadd %B1, r0\n\tadc %C1, r1\n\tadc %D1, %4\n\t"
            "mul %B2, %A3\n\tadd %B1, r0\n\tadc %C1, r1\n\tadc %D1, %4\n\t"
            "clr r1\n\tcp r1, %A1\n\tcpc r1, %B1\n\tsbc %A0, %C1\n\tsbc %B0, %D1"
            : "+r"(from), "=&r"(product)
            : "r"(a), "r"(b), "r"(none)
            : "r0");
    return from;
}

#else

static inline uint32_t product_of(uint16_t a, uint16_t b)
{
    return (uint32_t)a * b;
}

static inline uint16_t product_high(uint16_t a, uint16_t b)
{
    return (uint16_t)((uint32_t)a * b >> 16);
}

static inline uint16_t product_taken(uint16_t from, uint16_t a, uint16_t b)
{
    return (uint16_t)(from - (((uint32_t)a * b + 65535u) >> 16));
}

#endif

#endif
