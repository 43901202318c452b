/* SPDX-License-Identifier: MIT */
#include <diachrome/slices.h>

uint16_t dia_slices_unit_us(uint32_t refresh_mhz, uint8_t depth)
{
    if (refresh_mhz == 0 || depth == 0 || depth > 8)
        return 0;
    uint32_t period_us = 1000000000u / refresh_mhz, unit = period_us / ((1u << depth) - 1u);
    return unit > 65535u ? 65535u : (uint16_t)unit;
}

uint16_t dia_slices_count(enum dia_slices slices, uint8_t depth)
{
    return slices == DIA_SLICES_EVEN ? (uint16_t)((1u << depth) - 1u) : depth;
}
