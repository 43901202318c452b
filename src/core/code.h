/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_CODE_H
#define DIA_CORE_CODE_H

#include <diachrome/colour.h>
#include <diachrome/config.h>

#include "srgb_table.h"

extern const DIA_ROM uint8_t dia_code_nearest[3][256];

/* dia_code_of, for loops. */
static inline uint8_t code_of(dia_light light)
{
    uint8_t code = light < 4096    ? dia_code_nearest[0][light >> 4]
                   : light < 16384 ? dia_code_nearest[1][light >> 6]
                                   : dia_code_nearest[2][light >> 8];
    if (code == 255)
        return code;
    int16_t below = (int16_t)(uint16_t)(light - dia_srgb_table[code]); /* neighbours: 16 bits do */
    int16_t above = (int16_t)(uint16_t)(dia_srgb_table[code + 1] - light);
    return (uint8_t)(code + (above < below));
}

#endif
