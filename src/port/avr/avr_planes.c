/* SPDX-License-Identifier: MIT */
#include <avr/interrupt.h>
#include <stddef.h>

#include "avr_clock.h"
#include "avr_private.h"
#include "avr_pulses.h"

/*
 * Pulses on up to 8 pins of one port of the chip at once, by counted cycles; see avr_pulses.c.
 *
 *             high 0   low 0   high 1   low 1    at 16 MHz; at 20 MHz
 *   early      5  6    15 19   10 12    10 13
 *   late       5  6    15 19   14 17     6  8
 *   slow       8 10    32 40   19 24    21 26
 *
 * A byte of planes has the pins of one bit; a multiplication moves it to where the pins are. A pin
 * that has sent its own bytes no longer rises, so what rises changes at the end of each length.
 * Transmissions go in stretches in which it does not change: a stretch is a loop, and its last bit
 * stands once more behind it, with loads of the next stretch in place of what the loop does. So all
 * bits are alike. One plane after the last is read and not used.
 */
#if F_CPU != 8000000

#define AVR_PLANES_MOST 4095 /* bytes: the highest bit of a count says that all is over */

/* Of bits in which the same pins rise. */
struct stretch {
    uint8_t more_high, more_low; /* bits less one; the highest bit is set where all is over */
    uint8_t high;                /* all pins of the port, with those that rise */
};

typedef void send_planes(volatile uint8_t *out, uint8_t low, uint8_t factor, const uint8_t *planes,
                         const struct stretch *stretch);

/* clang-format off */
#define TEXT(n)  #n
#define WAIT(n)  ".rept (" TEXT(n) ")/2\n rjmp .+0\n .endr\n .rept (" TEXT(n) ")&1\n nop\n .endr\n"
#define BEGINS                                                                                     \
    "   ld   %B[more], Y+       \n"                                                                \
    "   ld   %A[more], Y+       \n"                                                                \
    "   ld   %[high], Y+        \n"                                                                \
    "   ld   %[plane], Z+       \n"                                                                \
    "   mul  %[plane], %[factor]\n"
/* 5 cycles and what is waited, from rise to fall */
#define RISES(wait)                                                                                \
    "   st   X, %[high]         \n"                                                                \
    "   or   r0, %[low]         \n"                                                                \
    "   ld   %[plane], Z+       \n"                                                                \
    WAIT(wait)                                                                                     \
    "   st   X, r0              \n"
#define FALLS   "   st   X, %[low]          \n"
#define MOVE    "   mul  %[plane], %[factor]\n" /* 2 cycles */
#define COUNT   "   sbiw %[more], 1         \n" /* 2 */
#define AGAIN   "   brne 1b                 \n" /* 2, or 1 behind which a wait of 1 stands */
#define MORE_HI "   ld   %B[more], Y+       \n" /* 2 */
#define MORE_LO "   ld   %A[more], Y+       \n" /* 2 */
#define HIGH    "   ld   %[high], Y+        \n" /* 2 */
#define IS_OVER "   bst  %B[more], 7        \n" /* 1 */
#define UNLESS  "   brtc 1b                 \n" /* 2 */
#define OPERANDS                                                                                   \
    : [more] "=&r"(more), [high] "=&r"(high), [plane] "=&r"(plane), "+z"(planes), "+y"(stretch)    \
    : [low] "r"(low), [factor] "r"(factor), "x"(out)                                               \
    : "r0", "memory"

static __attribute__((noinline)) void send_early(volatile uint8_t *out, uint8_t low, uint8_t factor,
                                                 const uint8_t *planes,
                                                 const struct stretch *stretch)
{
    register uint16_t more __asm__("r24");
    uint8_t high, plane;
    __asm__ volatile(
        BEGINS
        "1:\n"
        RISES(CYCLES(0, 1)) WAIT(CYCLES(3, 4)) FALLS
        MOVE COUNT WAIT(CYCLES(2, 5)) AGAIN WAIT(1)
        RISES(CYCLES(0, 1)) MORE_HI IS_OVER WAIT(CYCLES(0, 1)) FALLS
        MOVE MORE_LO HIGH WAIT(CYCLES(0, 3)) UNLESS
        "   clr  r1\n"
        OPERANDS);
}

static __attribute__((noinline)) void send_late(volatile uint8_t *out, uint8_t low, uint8_t factor,
                                                const uint8_t *planes,
                                                const struct stretch *stretch)
{
    register uint16_t more __asm__("r24");
    uint8_t high, plane;
    __asm__ volatile(
        BEGINS
        "1:\n"
        RISES(CYCLES(0, 1)) MOVE WAIT(CYCLES(5, 7)) FALLS
        COUNT WAIT(CYCLES(0, 2)) AGAIN WAIT(1)
        RISES(CYCLES(0, 1)) MOVE MORE_HI IS_OVER MORE_LO WAIT(CYCLES(0, 2)) FALLS
        HIGH WAIT(CYCLES(0, 2)) UNLESS
        "   clr  r1\n"
        OPERANDS);
}

static __attribute__((noinline)) void send_slow(volatile uint8_t *out, uint8_t low, uint8_t factor,
                                                const uint8_t *planes,
                                                const struct stretch *stretch)
{
    register uint16_t more __asm__("r24");
    uint8_t high, plane;
    __asm__ volatile(
        BEGINS
        "1:\n"
        RISES(CYCLES(3, 5)) WAIT(CYCLES(9, 12)) FALLS
        MOVE COUNT WAIT(CYCLES(13, 18)) AGAIN WAIT(1)
        RISES(CYCLES(3, 5)) MORE_HI IS_OVER WAIT(CYCLES(6, 9)) FALLS
        MOVE MORE_LO HIGH WAIT(CYCLES(11, 16)) UNLESS
        "   clr  r1\n"
        OPERANDS);
}
/* clang-format on */

static const DIA_ROM struct {
    send_planes *send;
    uint8_t cycles[4];
} senders[] = {
    {send_late, {CYCLES(5, 6), CYCLES(15, 19), CYCLES(14, 17), CYCLES(6, 8)}},
    {send_early, {CYCLES(5, 6), CYCLES(15, 19), CYCLES(10, 12), CYCLES(10, 13)}},
    {send_slow, {CYCLES(8, 10), CYCLES(32, 40), CYCLES(19, 24), CYCLES(21, 26)}},
};

/* The lengths in order, each with the pins that go on until there: 0 when one is too long. */
static uint8_t cut(struct stretch *stretch, const uint32_t *lengths, uint8_t width, uint8_t low,
                   uint8_t factor)
{
    uint16_t done = 0;
    for (;;) {
        uint16_t next = UINT16_MAX;
        uint8_t pins = 0;
        for (uint8_t k = 0; k < width; k++) {
            if (lengths[k] > AVR_PLANES_MOST)
                return 0;
            if (lengths[k] <= done)
                continue;
            pins = (uint8_t)(pins | (factor << k));
            if (lengths[k] < next)
                next = (uint16_t)lengths[k];
        }
        if (pins == 0)
            break;
        uint16_t more = (uint16_t)((next - done) * 8u - 1u);
        *stretch++ = (struct stretch){(uint8_t)(more >> 8), (uint8_t)more, (uint8_t)(low | pins)};
        done = next;
    }
    *stretch = (struct stretch){0x80, 0, low};
    return done != 0;
}

enum dia_status dia_avr_planes_start(struct dia_port *port, uint8_t first_pin, uint8_t width,
                                     const uint8_t *planes, const uint32_t *lengths,
                                     const DIA_ROM struct dia_pulse_timing *timing)
{
    struct stretch stretches[8 + 1];
    volatile uint8_t *out = dia_avr_pin_register(first_pin) + 2;
    uint8_t shift = first_pin & 7u, factor = (uint8_t)(1u << shift), i = 0;
    (void)port;
    if (first_pin > 23 || width == 0)
        return DIA_BAD_VALUE;
    while (i < sizeof senders / sizeof senders[0] &&
           !dia_avr_keeps(senders[i].cycles, timing->range))
        i++;
    if (shift + width > 8 || i == sizeof senders / sizeof senders[0])
        return DIA_UNSUPPORTED; /* they cannot be set together, or not in time */
    uint8_t pins = (uint8_t)(((1u << width) - 1u) << shift), sreg = SREG;
    cli();
    uint8_t low = (uint8_t)(*out & ~pins);
    uint8_t is_right = cut(stretches, lengths, width, low, factor);
    if (is_right)
        senders[i].send(out, low, factor, planes, stretches);
    SREG = sreg;
    return is_right ? DIA_OK : DIA_BAD_VALUE;
}

#endif
