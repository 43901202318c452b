/* SPDX-License-Identifier: MIT */
#include <stddef.h>
#include <string.h>

#include "sheet.h"

/*
 * Written out as least and most, because that is what a pulse is judged by. Currents are the
 * upper end of what the sheets of a part number give: 20 mA a die and 1 mA quiet, the WS2812B-V5
 * 12 mA and 0.6 mA, the WS2815 15 mA for the whole string. For clocked parts the same 20 mA and
 * 1 mA are a choice, and so is the clock of the LPD8806.
 */
static const struct sheet sheets[] = {
    {.part = "WS2811-slow",
     .high = {{350, 650}, {1050, 1350}},
     .low = {{1850, 2150}, {1150, 1450}},
     .reset_ns = 50000,
     .order = "RGB",
     .led_ua = 20000,
     .quiet_ua = 1000,
     .where = "WS2811 sheet, data transfer time, low speed"},
    {.part = "WS2811-fast",
     .high = {{175, 325}, {525, 675}},
     .low = {{925, 1075}, {575, 725}},
     .reset_ns = 50000,
     .order = "RGB",
     .led_ua = 20000,
     .quiet_ua = 1000,
     .where = "WS2811 sheet, data transfer time, high speed"},
    {.part = "WS2812",
     .high = {{200, 500}, {550, 850}},
     .low = {{650, 950}, {450, 750}},
     .reset_ns = 50000,
     .order = "GRB",
     .led_ua = 20000,
     .quiet_ua = 1000,
     .where = "WS2812 sheet, data transfer time"},
    {.part = "WS2812B",
     .high = {{250, 550}, {650, 950}},
     .low = {{700, 1000}, {300, 600}},
     .reset_ns = 50000,
     .order = "GRB",
     .led_ua = 20000,
     .quiet_ua = 1000,
     .where = "WS2812B sheet (first), data transfer time"},
    {.part = "WS2812B-V5",
     .high = {{220, 380}, {580, 1000}},
     .low = {{580, 1000}, {220, 420}},
     .reset_ns = 280000,
     .order = "GRB",
     .led_ua = 12000,
     .quiet_ua = 600,
     .where = "WS2812B-V5 sheet, data transfer time"},
    {.part = "WS2813",
     .high = {{220, 380}, {580, 1000}},
     .low = {{580, 1000}, {220, 420}},
     .reset_ns = 280000,
     .order = "GRB",
     .led_ua = 20000,
     .quiet_ua = 1000,
     .where = "WS2813 sheet, data transfer time"},
    {.part = "WS2815",
     .high = {{220, 380}, {580, 1000}},
     .low = {{580, 1000}, {220, 420}},
     .reset_ns = 280000,
     .order = "GRB",
     .led_ua = 15000,
     .quiet_ua = 1000,
     .series = 1,
     .where = "WS2815 sheet, data transfer time"},
    {.part = "SK6812",
     .high = {{150, 450}, {450, 750}},
     .low = {{750, 1050}, {450, 750}},
     .reset_ns = 80000,
     .order = "GRB",
     .led_ua = 20000,
     .quiet_ua = 1000,
     .where = "SK6812 sheet, data transfer time"},
    {.part = "SK6812-RGBW",
     .high = {{150, 450}, {450, 750}},
     .low = {{750, 1050}, {450, 750}},
     .reset_ns = 80000,
     .order = "GRBW",
     .led_ua = 20000,
     .quiet_ua = 1000,
     .where = "SK6812 RGBW sheet, data transfer time"},
    {.part = "APA102",
     .wire = SHEET_LEVEL,
     .clock_ns = 66,
     .order = "LBGR",
     .led_ua = 20000,
     .quiet_ua = 1000,
     .where = "APA102 sheet, 15 MHz"},
    {.part = "SK9822",
     .wire = SHEET_LEVEL_LATCH,
     .clock_ns = 66,
     .order = "LBGR",
     .led_ua = 20000,
     .quiet_ua = 1000,
     .where = "SK9822 sheet, 15 MHz"},
    {.part = "WS2801",
     .wire = SHEET_PAUSE,
     .reset_ns = 500000,
     .clock_ns = 40,
     .order = "RGB",
     .led_ua = 20000,
     .quiet_ua = 1000,
     .where = "WS2801 sheet, 25 MHz, 500 us"},
    {.part = "LPD8806",
     .wire = SHEET_SEVEN,
     .clock_ns = 50,
     .order = "GRB",
     .led_ua = 20000,
     .quiet_ua = 1000,
     .where = "LPD8806 sheet; 20 MHz is a choice"},
};

const struct sheet *dia_sheet_of(const char *part)
{
    for (size_t i = 0; i < sizeof sheets / sizeof sheets[0]; i++) {
        if (strcmp(sheets[i].part, part) == 0)
            return &sheets[i];
    }
    return NULL;
}

/* Modules for 12 V have three LEDs in a row on each channel, so all their volts are 12 / 5 of
 * those. Dies of three colours in one row (WS2815) all have the same current: 2.0 + 3.1 + 3.2 V and
 * the driver's 0.8 V, and begin at 1.7 + 2.7 + 2.8 V. Its logic works far below the 10.8 V of the
 * sheet; 9 V is a choice. */
#define TWELVE_FROM_MV 7000u

struct sheet_need dia_sheet_need(const struct sheet *sheet, uint32_t supply_mv)
{
    static const struct sheet_need five = {
        {{2.8, 3.9, 4.0, 4.0}, {1.7, 2.7, 2.8, 2.8}}, 3.5, "least supply voltage of the sheet"};
    static const struct sheet_need row = {
        {{9.1, 9.1, 9.1, 9.1}, {7.2, 7.2, 7.2, 7.2}}, 9.0, "choice: its sheet has 10.8 V"};
    struct sheet_need need = sheet->series ? row : five;
    if (!sheet->series && supply_mv >= TWELVE_FROM_MV) {
        for (int c = 0; c < 4; c++) {
            need.dies.full_volt[c] *= 2.4;
            need.dies.gone_volt[c] *= 2.4;
        }
        need.logic_volt *= 2.4;
        need.logic_where = "choice: as at 5 V, of 12 V";
    }
    return need;
}
