/* SPDX-License-Identifier: MIT */
#include <stddef.h>

#include <diachrome/matrix.h>

/*
 * MAX7219/MAX7221 sheet: serial clock at most 10 MHz (100 ns), LOAD/CS high at least 50 ns,
 * display scan rate 500 to 1300 Hz with 800 typical, supply 4.0 to 5.5 V, logic 1 from 3.5 V.
 * Segments at most 40 mA, set by a resistor of about 9.5 kOhm. Duty: intensity table; the
 * MAX7221 gives 1/16 to 15/16, its highest two steps being alike.
 */
const DIA_ROM struct dia_matrix_part dia_max7219 = {
    "MAX7219",
    "MAX7219 sheet, timing characteristics; intensity register format",
    10000000,
    50,
    {500, 800, 1300},
    40,
    4000,
    5500,
    3500,
    {1, 31},
};
const DIA_ROM struct dia_matrix_part dia_max7221 = {
    "MAX7221",
    "MAX7221 sheet, timing characteristics; intensity register format",
    10000000,
    50,
    {500, 800, 1300},
    40,
    4000,
    5500,
    3500,
    {2, 30},
};

const DIA_ROM struct dia_matrix_part *const dia_matrix_parts[] = {&dia_max7219, &dia_max7221, NULL};
