/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_PART_H
#define DIACHROME_PART_H

#include <stdint.h>

#include "linkage.h"
#include "port.h"
#include "power.h"
#include "config.h"

DIA_BEGIN

/* How a clocked part is spoken to. */
enum dia_framing {
    DIA_FRAME_LEVEL,       /* 32 zero bits; 111 and a 5-bit level before each pixel; clocks after */
    DIA_FRAME_LEVEL_LATCH, /* the same, and it shows after 32 more zero bits */
    DIA_FRAME_PAUSE,       /* bytes only; it shows when the clock rests */
    DIA_FRAME_SEVEN        /* 7 bits below a set bit; zero bytes end a frame */
};

/* Limits of a part with a clock line. Data is taken on the rising clock (SPI mode 0). */
struct dia_clock_timing {
    uint32_t max_hz;
    uint16_t latch_us; /* DIA_FRAME_PAUSE: a rest of the clock at least this long ends a frame */
    uint8_t framing;   /* enum dia_framing */
};

enum dia_family { DIA_ONEWIRE, DIA_CLOCKED };

/*
 * A pixel part: every limit it has, with the sheet it comes from. The numbers and their sources
 * stand in src/wire/onewire_parts.c and clocked_parts.c.
 */
struct dia_pixel_part {
    char name[16];
    char source[96]; /* which sheet, and what in here is a choice and not a fact */
    uint8_t family;  /* enum dia_family */
    union {
        struct dia_pulse_timing timing; /* of a one-wire part */
        struct dia_clock_timing clock;  /* of a clocked one */
    };
    struct dia_order order;                      /* of a part that is what its sheet says */
    const DIA_ROM struct dia_channels *channels; /* and so how many bytes a pixel */
    struct dia_power power; /* the highest currents its sheets give: what a supply must stand */
    uint16_t supply_min_mv; /* supply the part works at, millivolts */
    uint16_t supply_max_mv;
    uint16_t logic_max_mv; /* the input compares with the supply, or with this if that is less */
    uint16_t input_high_permille; /* of that voltage, which counts as high for certain */
};

extern const DIA_ROM struct dia_pixel_part dia_ws2811_slow, dia_ws2811_fast, dia_ws2812,
    dia_ws2812b, dia_ws2812b_v5, dia_ws2813, dia_ws2815, dia_sk6812, dia_sk6812_rgbw;

extern const DIA_ROM struct dia_pixel_part dia_apa102, dia_sk9822, dia_ws2801, dia_lpd8806;

/* All of a family; NULL after the last. */
extern const DIA_ROM struct dia_pixel_part *const dia_onewire_parts[];
extern const DIA_ROM struct dia_pixel_part *const dia_clocked_parts[];

DIA_END

#endif
