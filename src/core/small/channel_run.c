/* SPDX-License-Identifier: MIT */
#include "../drive.h"
#include "small.h"

#ifndef __OPTIMIZE_SIZE__
/* A loop of its own for what is dimmed. A dark channel takes a fifth of the time there, and most of
 * what moves has dark ones. */
static uint8_t run_dimmed(const uint8_t *codes, uint8_t *steps, uint16_t n, uint16_t part,
                          const DIA_ROM uint16_t *curve, uint8_t carry)
{
    for (; n != 0; n--, codes += 3, steps += 3) {
        uint8_t code = *codes;
        *steps = code ? drive_step(&carry, product_high(drive_of(curve, code), part)) : 0;
    }
    return carry;
}
#endif

uint8_t dia_small_channel_run(const uint8_t *codes, uint8_t *steps, uint16_t n, dia_share gain,
                              const DIA_ROM uint16_t *curve, uint8_t carry)
{
    uint8_t whole = gain == DIA_SHARE_ONE; /* nothing to scale: half the work on 8 bits */
#ifndef __OPTIMIZE_SIZE__
    if (!whole)
        return run_dimmed(codes, steps, n, (uint16_t)(gain * 2u), curve, carry);
#endif
    for (; n != 0; n--, codes += 3, steps += 3) {
        uint16_t drive = drive_of(curve, *codes);
        *steps = drive_step(&carry, whole ? drive : drive_scaled(drive, gain));
    }
    return carry;
}
