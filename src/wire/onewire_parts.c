/* SPDX-License-Identifier: MIT */
#include <stddef.h>

#include <diachrome/part.h>

/*
 * The one-wire parts. Times are those of each sheet's table "data transfer time", in nanoseconds:
 * a nominal with a tolerance, or a range; where the sheet gives only a range, the nominal is our
 * choice, near its middle and with a period of 1 us.
 *
 * Currents: the sheets of one part number differ by version, 12 to 20 mA a channel and 0.6 to
 * 1 mA idle. A supply must stand the highest, so 20 mA and 1 mA stand here unless the sheet of
 * that very version says less; a rig file can state what was measured.
 *
 * Supply: 3.5 to 5.3 V is the WS2812B sheet's range (electrical characteristics); the other 5 V
 * parts are held to it too. Input high: 0.7 of the supply (WS2812B sheet), likewise.
 */
/* clang-format off */
#define NS(nominal, tolerance) {(nominal) - (tolerance), (nominal), (nominal) + (tolerance)}
#define BETWEEN(least, nominal, most) {(least), (nominal), (most)}
#define RGB {{0, 1, 2, 3}}
#define GRB {{1, 0, 2, 3}}
#define THREE_OF(ua) {(ua), (ua), (ua), 0}
#define FOUR_OF(ua) {(ua), (ua), (ua), (ua)}
/* clang-format on */
#define FIVE_VOLTS                                                                                 \
    .supply_min_mv = 3500, .supply_max_mv = 5300, .logic_max_mv = 5300, .input_high_permille = 700

const DIA_ROM struct dia_pixel_part dia_ws2811_slow = {
    .name = "WS2811-slow",
    .source = "WS2811 sheet, low speed mode; chosen: 5 or 12 V modules, 5 V logic",
    .family = DIA_ONEWIRE,
    .timing = {{NS(500, 150), NS(2000, 150), NS(1200, 150), NS(1300, 150)}, 50},
    .order = RGB,
    .channels = &dia_channels_rgb,
    .power = {THREE_OF(20000), 1000},
    .supply_min_mv = 4500,
    .supply_max_mv = 13200,
    .logic_max_mv = 5000,
    .input_high_permille = 700,
};

const DIA_ROM struct dia_pixel_part dia_ws2811_fast = {
    .name = "WS2811-fast",
    .source = "WS2811 sheet, high speed mode; chosen: 5 or 12 V modules, 5 V logic",
    .family = DIA_ONEWIRE,
    .timing = {{NS(250, 75), NS(1000, 75), NS(600, 75), NS(650, 75)}, 50},
    .order = RGB,
    .channels = &dia_channels_rgb,
    .power = {THREE_OF(20000), 1000},
    .supply_min_mv = 4500,
    .supply_max_mv = 13200,
    .logic_max_mv = 5000,
    .input_high_permille = 700,
};

const DIA_ROM struct dia_pixel_part dia_ws2812 = {
    .name = "WS2812",
    .source = "WS2812 sheet; supply and input level as WS2812B",
    .family = DIA_ONEWIRE,
    .timing = {{NS(350, 150), NS(800, 150), NS(700, 150), NS(600, 150)}, 50},
    .order = GRB,
    .channels = &dia_channels_rgb,
    .power = {THREE_OF(20000), 1000},
    FIVE_VOLTS,
};

const DIA_ROM struct dia_pixel_part dia_ws2812b = {
    .name = "WS2812B",
    .source = "WS2812B sheet, first versions (50 us latch)",
    .family = DIA_ONEWIRE,
    .timing = {{NS(400, 150), NS(850, 150), NS(800, 150), NS(450, 150)}, 50},
    .order = GRB,
    .channels = &dia_channels_rgb,
    .power = {THREE_OF(20000), 1000},
    FIVE_VOLTS,
};

/* V5 sheet: 12 mA a channel, so 36 mA a pixel; idle 0.6 mA. */
const DIA_ROM struct dia_pixel_part dia_ws2812b_v5 = {
    .name = "WS2812B-V5",
    .source = "WS2812B-V5 sheet (280 us latch); nominal pulses chosen inside its ranges",
    .family = DIA_ONEWIRE,
    .timing = {{BETWEEN(220, 300, 380), BETWEEN(580, 700, 1000), BETWEEN(580, 700, 1000),
                BETWEEN(220, 300, 420)},
               280},
    .order = GRB,
    .channels = &dia_channels_rgb,
    .power = {THREE_OF(12000), 600},
    FIVE_VOLTS,
};

const DIA_ROM struct dia_pixel_part dia_ws2813 = {
    .name = "WS2813",
    .source = "WS2813 sheet; nominal pulses chosen inside its ranges; supply as WS2812B",
    .family = DIA_ONEWIRE,
    .timing = {{BETWEEN(220, 300, 380), BETWEEN(580, 700, 1000), BETWEEN(580, 700, 1000),
                BETWEEN(220, 300, 420)},
               280},
    .order = GRB,
    .channels = &dia_channels_rgb,
    .power = {THREE_OF(20000), 1000},
    FIVE_VOLTS,
};

/* 12 V, three dies in series: 12 to 15 mA a pixel in all, whatever the mix. */
const DIA_ROM struct dia_pixel_part dia_ws2815 = {
    .name = "WS2815",
    .source = "WS2815 sheet; nominal pulses chosen; chosen: 12 V +-10 %, 5 V logic",
    .family = DIA_ONEWIRE,
    .timing = {{BETWEEN(220, 300, 380), BETWEEN(580, 700, 1000), BETWEEN(580, 700, 1000),
                BETWEEN(220, 300, 420)},
               280},
    .order = GRB,
    .channels = &dia_channels_series,
    .power = {{15000, 0, 0, 0}, 1000},
    .supply_min_mv = 10800,
    .supply_max_mv = 13200,
    .logic_max_mv = 5000,
    .input_high_permille = 700,
};

const DIA_ROM struct dia_pixel_part dia_sk6812 = {
    .name = "SK6812",
    .source = "SK6812 sheet; supply and input level as WS2812B",
    .family = DIA_ONEWIRE,
    .timing = {{NS(300, 150), NS(900, 150), NS(600, 150), NS(600, 150)}, 80},
    .order = GRB,
    .channels = &dia_channels_rgb,
    .power = {THREE_OF(20000), 1000},
    FIVE_VOLTS,
};

const DIA_ROM struct dia_pixel_part dia_sk6812_rgbw = {
    .name = "SK6812-RGBW",
    .source = "SK6812 RGBW sheet; supply and input level as WS2812B",
    .family = DIA_ONEWIRE,
    .timing = {{NS(300, 150), NS(900, 150), NS(600, 150), NS(600, 150)}, 80},
    .order = GRB,
    .channels = &dia_channels_rgbw,
    .power = {FOUR_OF(20000), 1000},
    FIVE_VOLTS,
};

const DIA_ROM struct dia_pixel_part *const dia_onewire_parts[] = {
    &dia_ws2811_slow, &dia_ws2811_fast, &dia_ws2812, &dia_ws2812b,     &dia_ws2812b_v5,
    &dia_ws2813,      &dia_ws2815,      &dia_sk6812, &dia_sk6812_rgbw, NULL,
};
