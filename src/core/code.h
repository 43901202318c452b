/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_CODE_H
#define DIA_CORE_CODE_H

#include <diachrome/colour.h>
#include <diachrome/config.h>

extern const DIA_ROM uint8_t dia_code_nearest[640];
extern const DIA_ROM uint16_t dia_code_edges[256];

/* dia_code_of, for loops. */
static inline uint8_t code_of(dia_light light)
{
    uint8_t high = (uint8_t)(light >> 8);
    uint8_t code = high >= 64   ? dia_code_nearest[384u + high]
                   : high >= 16 ? dia_code_nearest[192u + (uint8_t)(light >> 6)]
                                : dia_code_nearest[(uint8_t)(light >> 4)];
    if (light > dia_code_edges[code])
        code++;
    return code;
}

#endif
