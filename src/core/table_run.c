/* SPDX-License-Identifier: MIT */
#include "table_run.h"

#include "drive.h"

uint8_t dia_table_run(const uint16_t *table, const uint8_t *codes, uint8_t *steps, uint16_t n,
                      uint8_t carry)
{
    for (; n != 0; n--, codes += 3, steps += 3)
        *steps = drive_step(&carry, table[*codes]);
    return carry;
}
