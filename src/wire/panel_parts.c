/* SPDX-License-Identifier: MIT */
#include <stddef.h>

#include <diachrome/panel.h>

/*
 * TM1638 sheet: clock at most 1 MHz, pulses at least 400 ns, strobe high at least 1 us and
 * not before 1 us after the last rising clock, 1 us between the command to read and reading; supply
 * 5 V (choice: 10 % either way), inputs high from 0.7 of it. Many boards run it at 3.3 V, outside
 * the sheet. TM1637 sheet: pulses at least 400 ns, clock at most 500 kHz (choice: half of the
 * sheet's least), the same supply. The TM1637's keys are not read.
 */
const DIA_ROM struct dia_panel_part dia_tm1638 = {
    "TM1638", "TM1638 sheet, switching characteristics", 400, 1000, 1000, 1000, 8, 8, 8, 4500, 5500,
    700,
};
const DIA_ROM struct dia_panel_part dia_tm1637 = {
    "TM1637", "TM1637 sheet, interface timing", 400, 2000, 0, 0, 6, 0, 0, 4500, 5500, 700,
};

const DIA_ROM struct dia_panel_part *const dia_panel_parts[] = {&dia_tm1638, &dia_tm1637, NULL};
