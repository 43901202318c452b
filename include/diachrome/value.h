/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_VALUE_H
#define DIACHROME_VALUE_H

#include <stdint.h>

#include "linkage.h"

DIA_BEGIN

/*
 * Values in texts: a template mixes words and fields, and a field shows a value by its name.
 *
 *   const struct dia_value values[] = {{.name = "depth", .number = 237, .decimals = 2}};
 *   char text[24];
 *   dia_values_text("Depth {depth:5.1} m", values, 1, 0, text, sizeof text);   "Depth   2.4 m"
 *
 * A field is {NAME} or {NAME:FORM}. A form has these, in this order, each of which may be left out:
 *
 *   <        at the left of its width, instead of at its right
 *   +        a sign always
 *   0        zeros at the left up to the width, instead of spaces
 *   5        the width in characters; what does not fit is a row of dashes
 *   .1       so many decimals, 0..9, rounded; else those of the value
 *   x b hms hm ms     hexadecimal, binary; of a number of seconds the time
 *   bar      a bar of its width, from `least` to `most` of the value, in fifths of a cell: blocks
 * of Unicode (U+2588 and before), which the faces plain and cell have
 *
 * {{ and }} are the brackets themselves.
 *
 * Cost: as dia_number_text for each field, some 60 cycles for each other sign on an ATmega328P.
 * Context: any; threads may work at once on objects of their own.
 */
struct dia_value {
    const char *name;
    const char *text;    /* shows in place of the number, cut to the width; NULL: the number does */
    int32_t number;      /* in units of its last decimal: 237 with 2 decimals is 2.37 */
    uint8_t decimals;    /* 0..9 */
    uint8_t hidden;      /* so many of them show only where a form asks for decimals, 0..decimals */
    int32_t least, most; /* where a bar is empty, and where it is full; the same: it has none */
};

/*
 * Writes a text and a zero behind it into out, at most `size` bytes (1 or more); what does not fit
 * is cut off behind a whole sign. `merged`, of number.h: 1 on digits of seven segments, where a
 * point takes no place. A name that is none of the values, and a form that is none, is a "?".
 * Returns the bytes of the text without the zero.
 */
uint16_t dia_values_text(const char *form, const struct dia_value *values, uint8_t count,
                         uint8_t merged, char *out, uint16_t size);

/* A field of a template, for who wants to look at it first. */
struct dia_field {
    const char *name; /* not ended by a zero */
    uint8_t name_length;
    uint8_t ok; /* 0: it has no end, or its form is none */
    uint8_t left, sign, zeros, width, base;
    uint8_t has_decimals, decimals;
    uint8_t clock; /* enum dia_clock_parts + 1; 0: no time */
    uint8_t bar;
};

/* The field that begins at an opening bracket. Returns what is behind it. */
const char *dia_field_read(const char *bracket, struct dia_field *field);

DIA_END

#endif
