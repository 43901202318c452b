/* SPDX-License-Identifier: MIT */
#include <diachrome/characters.h>

/*
 * HD44780U sheet, bus timing at 2.7 to 4.5 V (a choice: it is the slower one, and right for 5 V
 * too): address set-up 60 ns, enable pulse 450 ns, cycle 1000 ns, data set-up 195 ns. After
 * power-up 40 ms at 2.7 V. Instructions take 37 us, a character 37 + 4 us, clear and home 1.52 ms
 * at 270 kHz; the oscillator may run at 190 kHz, so all is multiplied by 270 / 190.
 * Supply 2.7 to 5.5 V, inputs high from 2.2 V at 5 V.
 */
const DIA_ROM struct dia_characters_part dia_hd44780 = {
    "HD44780", "HD44780U sheet, bus timing and instruction table",
    60,        450,
    1000,      195,
    40,        53,
    59,        2160,
    2700,      5500,
    2200,
};
