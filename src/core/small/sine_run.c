/* SPDX-License-Identifier: MIT */
#include "../sine.h"

void dia_sine_run(const dia_phase *phases, uint32_t n, uint16_t *levels)
{
    for (; n != 0; n--)
        *levels++ = sine_of(*phases++);
}
