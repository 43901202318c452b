/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_QUANTITY_H
#define DIACHROME_QUANTITY_H

#include <stdint.h>

#include "diagnostic.h"
#include "linkage.h"
#include "status.h"

DIA_BEGIN

/*
 * Cost: one pass over the text; microseconds.
 * Context: one thread at a time for an object; not from an interrupt.
 */

/* Kinds of quantity, with the unit their values are kept in and how people write them. */
enum dia_quantity {
    DIA_VOLTAGE,    /* mV;      5 V, 3300 mV */
    DIA_CURRENT,    /* uA;      2 A, 16.5 mA, 600 uA */
    DIA_LENGTH,     /* um;      16.7 mm, 2 cm, 1.5 m, 35 um */
    DIA_SPEED,      /* um/s;    200 mm/s, 0.2 m/s, 5 cm/s */
    DIA_CLOCK,      /* Hz;      16 MHz, 400 kHz, 50 Hz */
    DIA_RATE,       /* mHz;     29.97 Hz */
    DIA_MEMORY,     /* bytes;   2 KB (of 1024), 512 B, 1 MB */
    DIA_PERCENT,    /* 1e-4 %;  30 % */
    DIA_TIME,       /* ms;      2.5 s, 500 ms, 3 min */
    DIA_MOMENT,     /* ns;      1.5 us, 20 ms */
    DIA_RESISTANCE, /* mohm; 330 ohm, 4.7 kohm, 50 mohm */
    DIA_RAIL,       /* uohm/m;  0.12 ohm/m */
    DIA_SECTION,    /* um2;     0.75 mm2 */
    DIA_NUMBER      /* 1;       120 */
};

/*
 * Reads a number with its unit; a space between them may be left out. Decimals beyond what is
 * kept are rounded to nearest. DIA_BAD_VALUE and a diagnostic that begins with `what` when it is
 * no number, has no unit or another one, or lies outside min..max (in the unit kept).
 */
enum dia_status dia_quantity_read(const char *text, enum dia_quantity kind, int64_t min,
                                  int64_t max, const char *what, int64_t *value,
                                  struct dia_diagnostic *wrong);

/* Writes a value as people would: "16.7 mm", "2 A", "30 %". Returns text. */
char *dia_quantity_write(int64_t value, enum dia_quantity kind, char *text, int size);

/* The same with room of its own, for several in one sentence. */
struct dia_words {
    char text[40];
};
static inline const char *dia_quantity_as(int64_t value, enum dia_quantity kind,
                                          struct dia_words *words)
{
    return dia_quantity_write(value, kind, words->text, (int)sizeof words->text);
}

DIA_END

#endif
