/* SPDX-License-Identifier: MIT */
#include "../drive.h"
#include "small.h"

uint8_t dia_small_channel_run(const uint8_t *codes, uint8_t *steps, uint16_t n, dia_share gain,
                              const DIA_ROM uint16_t *curve, uint8_t carry)
{
    uint8_t whole = gain == DIA_SHARE_ONE; /* nothing to scale: half the work on 8 bits */
    for (; n != 0; n--, codes += 3, steps += 3) {
        uint16_t drive = drive_of(curve, *codes);
        *steps = drive_step(&carry, whole ? drive : drive_scaled(drive, gain));
    }
    return carry;
}
