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

uint32_t dia_slices_plane_us(uint16_t unit_us, uint16_t tick_us, uint8_t plane)
{
    uint32_t light = (uint32_t)unit_us << plane;
    return light < tick_us ? light + tick_us : light;
}

uint32_t dia_slices_row_us(uint16_t unit_us, uint16_t tick_us, uint8_t depth)
{
    uint32_t us = 0;
    for (uint8_t k = 0; k < depth; k++)
        us += dia_slices_plane_us(unit_us, tick_us, k);
    return us;
}

/* Light grows with the unit, but where a plane gets as long as a tick, its slice gets shorter. Of
 * units with the same light the longest has the fewest ticks. */
uint16_t dia_slices_row_unit_us(uint32_t refresh_mhz, uint8_t rows, uint16_t tick_us, uint8_t depth)
{
    uint16_t best = 0;
    uint32_t best_share = 0, most_us;
    if (refresh_mhz == 0 || rows == 0 || depth == 0 || depth > 8)
        return 0;
    most_us = 1000000000u / refresh_mhz / rows;
    for (uint32_t unit = 1; unit << (depth - 1u) <= 65535u && unit << (depth - 1u) <= most_us;
         unit++) {
        uint32_t us = dia_slices_row_us((uint16_t)unit, tick_us, depth);
        if (us != 0 && us <= most_us && (unit << 16) / us >= best_share) {
            best = (uint16_t)unit;
            best_share = (unit << 16) / us;
        }
    }
    return best;
}
