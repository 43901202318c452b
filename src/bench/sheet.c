/* SPDX-License-Identifier: MIT */
#include <stddef.h>
#include <string.h>

#include "sheet.h"

/*
 * Written out as least and most, because that is what a pulse is judged by. Currents are the
 * upper end of what the sheets of a part number give: 20 mA a die and 1 mA quiet, the WS2812B-V5
 * 12 mA and 0.6 mA, the WS2815 15 mA for the whole string.
 */
static const struct sheet sheets[] = {
    {"WS2811-slow",
     {{350, 650}, {1050, 1350}},
     {{1850, 2150}, {1150, 1450}},
     50000,
     "RGB",
     20000,
     1000,
     0,
     "WS2811 sheet, data transfer time, low speed"},
    {"WS2811-fast",
     {{175, 325}, {525, 675}},
     {{925, 1075}, {575, 725}},
     50000,
     "RGB",
     20000,
     1000,
     0,
     "WS2811 sheet, data transfer time, high speed"},
    {"WS2812",
     {{200, 500}, {550, 850}},
     {{650, 950}, {450, 750}},
     50000,
     "GRB",
     20000,
     1000,
     0,
     "WS2812 sheet, data transfer time"},
    {"WS2812B",
     {{250, 550}, {650, 950}},
     {{700, 1000}, {300, 600}},
     50000,
     "GRB",
     20000,
     1000,
     0,
     "WS2812B sheet (first), data transfer time"},
    {"WS2812B-V5",
     {{220, 380}, {580, 1000}},
     {{580, 1000}, {220, 420}},
     280000,
     "GRB",
     12000,
     600,
     0,
     "WS2812B-V5 sheet, data transfer time"},
    {"WS2813",
     {{220, 380}, {580, 1000}},
     {{580, 1000}, {220, 420}},
     280000,
     "GRB",
     20000,
     1000,
     0,
     "WS2813 sheet, data transfer time"},
    {"WS2815",
     {{220, 380}, {580, 1000}},
     {{580, 1000}, {220, 420}},
     280000,
     "GRB",
     15000,
     1000,
     1,
     "WS2815 sheet, data transfer time"},
    {"SK6812",
     {{150, 450}, {450, 750}},
     {{750, 1050}, {450, 750}},
     80000,
     "GRB",
     20000,
     1000,
     0,
     "SK6812 sheet, data transfer time"},
    {"SK6812-RGBW",
     {{150, 450}, {450, 750}},
     {{750, 1050}, {450, 750}},
     80000,
     "GRBW",
     20000,
     1000,
     0,
     "SK6812 RGBW sheet, data transfer time"},
};

const struct sheet *sheet_of(const char *part)
{
    for (size_t i = 0; i < sizeof sheets / sizeof sheets[0]; i++) {
        if (strcmp(sheets[i].part, part) == 0)
            return &sheets[i];
    }
    return NULL;
}
