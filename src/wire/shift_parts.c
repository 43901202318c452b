/* SPDX-License-Identifier: MIT */
#include <stddef.h>

#include <diachrome/shift.h>

/*
 * 74HC595 sheets, -40 to 85 C at 4.5 V: clock at most 24 MHz, data set-up 25 ns, clock and latch
 * pulses 20 ns; outputs 6 mA for the levels stated, 35 mA at most, the chip 70 mA through VCC or
 * GND. Inputs high from 3.15 V at 4.5 V: 70 %. The 74HCT595 has TTL inputs, high from 2.0 V, and
 * wants 4.5 to 5.5 V.
 */
const DIA_ROM struct dia_shift_part dia_74hc595 = {
    "74HC595", "74HC595 sheet, -40 to 85 C, 4.5 V", 24000000, 25, 20, 6000, 35, 70, 2000, 6000, 700,
    0,
};
const DIA_ROM struct dia_shift_part dia_74hct595 = {
    "74HCT595", "74HCT595 sheet, -40 to 85 C, 4.5 V", 24000000, 25, 20, 6000, 35, 70, 4500, 5500, 0,
    2000,
};

const DIA_ROM struct dia_shift_part *const dia_shift_parts[] = {&dia_74hc595, &dia_74hct595, NULL};
