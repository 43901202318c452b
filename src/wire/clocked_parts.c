/* SPDX-License-Identifier: MIT */
#include <stddef.h>

#include <diachrome/part.h>

/*
 * The clocked parts. Clock rates: the sheets of the APA102 class give 15 MHz, the WS2801 25 MHz;
 * that of the LPD8806 gives none, 20 MHz is chosen. Long strips are limited by the clock each pixel
 * makes anew, below these numbers.
 *
 * The sheets give no currents: the same 20 mA a channel and 1 mA idle
 * are chosen, as the most a supply must stand; a rig file can state what was measured. So are
 * supply and input level (as WS2812B).
 */
#define TWENTY_MA                                                                                  \
    .power = {{20000, 20000, 20000, 0}, 1000}, .supply_min_mv = 3500, .supply_max_mv = 5300,       \
    .logic_max_mv = 5300, .input_high_permille = 700

const DIA_ROM struct dia_pixel_part dia_apa102 = {
    .name = "APA102",
    .source = "APA102 sheet; chosen: current, supply and input level",
    .family = DIA_CLOCKED,
    .clock = {15000000, 0, DIA_FRAME_LEVEL},
    .order = {{3, 2, 1, 0}}, /* level, blue, green, red */
    .channels = &dia_channels_level,
    TWENTY_MA,
};

const DIA_ROM struct dia_pixel_part dia_sk9822 = {
    .name = "SK9822",
    .source = "SK9822 sheet (shows after 32 more zero bits); chosen: current, supply, input level",
    .family = DIA_CLOCKED,
    .clock = {15000000, 0, DIA_FRAME_LEVEL_LATCH},
    .order = {{3, 2, 1, 0}},
    .channels = &dia_channels_level,
    TWENTY_MA,
};

const DIA_ROM struct dia_pixel_part dia_ws2801 = {
    .name = "WS2801",
    .source = "WS2801 sheet (500 us latch); chosen: current, supply and input level",
    .family = DIA_CLOCKED,
    .clock = {25000000, 500, DIA_FRAME_PAUSE},
    .order = {{0, 1, 2, 3}},
    .channels = &dia_channels_rgb,
    TWENTY_MA,
};

const DIA_ROM struct dia_pixel_part dia_lpd8806 = {
    .name = "LPD8806",
    .source = "LPD8806 sheet; chosen: clock, current, supply and input level",
    .family = DIA_CLOCKED,
    .clock = {20000000, 0, DIA_FRAME_SEVEN},
    .order = {{1, 0, 2, 3}},
    .channels = &dia_channels_seven,
    TWENTY_MA,
};

const DIA_ROM struct dia_pixel_part *const dia_clocked_parts[] = {&dia_apa102, &dia_sk9822,
                                                                  &dia_ws2801, &dia_lpd8806, NULL};
