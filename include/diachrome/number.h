/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_NUMBER_H
#define DIACHROME_NUMBER_H

#include <stdint.h>

#include "linkage.h"

DIA_BEGIN

/*
 * Numbers as texts, for digits, character cells and dots: integers only, no printf.
 *
 *   static const struct dia_number_form volts = {.width = 5, .decimals = 2};
 *   char text[6];
 *   dia_number_text(314, &volts, text);                      " 3.14"
 *   dia_characters_text(&keeper, 0, 1, text, 5);
 *
 * On digits of seven segments a point takes no place of its own. Say so with `merged`, so that the
 * width is that of the digits:
 *
 *   static const struct dia_number_form four = {.width = 4, .decimals = 3, .merged = 1};
 *   char text[6];
 *   dia_number_text(3141, &four, text);                      "3.141"
 *   dia_segments_text(text, segments, 4);
 *
 * What does not fit its width is a row of dashes, as many as the width: never a wrong number.
 *
 * Cost: on an ATmega328P some 200 cycles and 650 a digit (a division by 10), 600 bytes of flash at
 * most.
 * Context: any; threads may work at once on objects of their own.
 */
enum dia_sign {
    DIA_SIGN_MINUS, /* before what is below 0, and nothing else */
    DIA_SIGN_ALWAYS /* + before all others */
};
enum dia_fill {
    DIA_FILL_BLANKS, /* on the left, up to the width */
    DIA_FILL_ZEROS   /* behind the sign; there are no groups then */
};

struct dia_number_form {
    uint8_t width;    /* characters in all, 1..42; 0: as many as it takes */
    uint8_t decimals; /* of decimal numbers: so many digits are behind the point, 0..9 */
    uint8_t base;     /* 16: hexadecimal, 2: binary, of the 32 bits without sign; else decimal */
    uint8_t sign;     /* enum dia_sign; of decimal numbers */
    uint8_t fill;     /* enum dia_fill */
    uint8_t merged;   /* 1: the point takes no place, as on digits of seven segments */
    char group;       /* between three digits and the next (hexadecimal, binary: four); 0: none */
    char point;       /* 0: a full stop */
};

/* Bytes of a text without a width: 32 binary digits in groups, a sign, a point, the zero at its
 * end. With a width they are width + 1, and with a merged point width + 2. */
#define DIA_NUMBER_BYTES 44

/* Writes the number and a zero behind it into text; returns how many characters it is, without the
 * zero. A width above 42 gives "-". */
uint8_t dia_number_text(int32_t value, const struct dia_number_form *form, char *text);

/* The number without its last digits, 0..9 of them, rounded to nearest and halves away from 0:
 * 314159 without 3 is 314, -7 without 1 is -1. */
int32_t dia_number_without(int32_t value, uint8_t digits);

/*
 * A time: hours, minutes and seconds, or some of them.
 *
 *   static const struct dia_clock_form clock = {.width = 8, .colon = ':'};
 *   dia_clock_text(seconds, &clock, text);                   " 2:05:09"
 */
enum dia_clock_parts {
    DIA_CLOCK_HMS, /* 27:05:09; hours go on beyond 24 */
    DIA_CLOCK_HM,  /* 27:05 */
    DIA_CLOCK_MS,  /* 1625:09; minutes go on beyond 60 */
    DIA_CLOCK_S    /* 97509 */
};
struct dia_clock_form {
    uint8_t width; /* characters in all, 1..42; 0: as many as it takes */
    uint8_t parts; /* enum dia_clock_parts */
    uint8_t fill;  /* enum dia_fill, of the first part; the others have two digits */
    char colon;    /* between the parts; 0: nothing, where a display has a lamp for it */
};
/* As dia_number_text; other parts give dashes. */
uint8_t dia_clock_text(uint32_t seconds, const struct dia_clock_form *form, char *text);

DIA_END

#endif
