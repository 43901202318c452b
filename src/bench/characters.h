/* SPDX-License-Identifier: MIT */
#ifndef DIA_BENCH_CHARACTERS_H
#define DIA_BENCH_CHARACTERS_H

#include "device.h"

/* An HD44780. Lines are levels of its pins, whatever drives them. */
struct characters {
    struct device device;
    struct dia_glass glass;
    struct dia_cells_shown cells;

    uint8_t rs, rw, e, data; /* levels now */
    uint64_t rs_changed, data_changed, rise, fall, busy_until;

    uint8_t eight_lines, has_half, half; /* half: the upper four bits of a pair */
    uint8_t read_low;                    /* the lower half of the busy flag comes next */
    uint8_t two_lines, set_up;
    uint8_t ddram[0x68], cgram[64];
    uint8_t address, in_glyphs;
    uint8_t forward, moves_text;
    int shift;

    struct { /* the expander on I2C */
        uint8_t bits, byte, selected, first;
    } i2c;
};

/* The expander, an edge of SCL or SDA: what its outputs are from now on, or -1 as before. RS, R/W,
 * E on bits 0..2, D4..D7 on 4..7. */
int dia_expander_edge(struct characters *c, uint64_t t, uint8_t role, uint8_t level);

#endif
