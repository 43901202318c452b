/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_PART_H
#define DIACHROME_PART_H

#include <stdint.h>

#include "port.h"
#include "power.h"
#include "rom.h"

/* Which channel each byte of a pixel carries: channel[k] is 0 r, 1 g, 2 b or 3 w. */
struct dia_order {
    uint8_t channel[4];
};

/*
 * A one-wire pixel part: every limit it has, with the sheet it comes from. The numbers and their
 * sources stand in src/wire/onewire_parts.c.
 */
struct dia_onewire_part {
    char name[16];
    char source[96]; /* which sheet, and what in here is a choice and not a fact */
    struct dia_pulse_timing timing;
    struct dia_order order;                      /* of a part that is what its sheet says */
    const DIA_ROM struct dia_channels *channels; /* and so how many bytes a pixel */
    struct dia_power power; /* the highest currents its sheets give: what a supply must stand */
    uint16_t supply_min_mv; /* supply the part works at, millivolts */
    uint16_t supply_max_mv;
    uint16_t logic_max_mv; /* the input compares with the supply, or with this if that is less */
    uint16_t input_high_permille; /* of that voltage, which counts as high for certain */
};

extern const DIA_ROM struct dia_onewire_part dia_ws2811_slow, dia_ws2811_fast, dia_ws2812,
    dia_ws2812b, dia_ws2812b_v5, dia_ws2813, dia_ws2815, dia_sk6812, dia_sk6812_rgbw;

/* All of them; NULL after the last. */
extern const DIA_ROM struct dia_onewire_part *const dia_onewire_parts[];

#endif
