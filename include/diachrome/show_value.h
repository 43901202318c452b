/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_SHOW_VALUE_H
#define DIACHROME_SHOW_VALUE_H

#include <stdint.h>

#include "linkage.h"
#include "look.h"
#include "rig.h"
#include "signal_text.h"

DIA_BEGIN

/*
 * Values of a show: named numbers that texts and parameters of looks follow. What a value is at a
 * time depends on its source and on what has come in until then, and on nothing else. See
 * docs/values.md.
 *
 * Cost: a look-up a value a frame; 64 of them for one that is smoothed. A choice whose value is
 *       within its band looks back: at each reading until it was outside, or at some 8,000 moments
 *       of a day.
 * Context: one thread at a time for an object; not from an interrupt.
 */
#define DIA_SHOW_VALUES  32
#define DIA_SHOW_CHOICES 16
#define DIA_CHOICE_TEXTS 8
#define DIA_SHOW_DRIVES  32
#define DIA_VALUE_TEXT   32      /* bytes of a text of a choice, the zero included */
#define DIA_VALUE_FILE   256     /* bytes of the name of a file, the zero included */
#define DIA_READINGS     1000000 /* of one value */

enum dia_value_source {
    DIA_VALUE_CONSTANT,
    DIA_VALUE_COUNTER, /* a start and a rate */
    DIA_VALUE_TIME,    /* of the show */
    DIA_VALUE_CLOCK,   /* seconds since midnight */
    DIA_VALUE_SIGNAL,
    DIA_VALUE_CSV,
    DIA_VALUE_INPUT, /* lines of standard input, or dia_show_feed */
    DIA_VALUE_KEYS
};

/* What a value was told to be from a time on. */
struct dia_reading {
    uint32_t ms;
    int32_t number;
};

/* All numbers are in units of the value's last decimal. */
struct dia_show_value {
    char name[DIA_RIG_NAME];
    uint8_t source, decimals, linear;
    uint8_t hidden;    /* as in value.h */
    int32_t min, max;  /* it stays within these */
    int32_t start, by; /* of a constant or counter; of keys the step */
    uint32_t by_ms;    /* of a counter: `by` in so many ms */
    int32_t low, high; /* of a signal */
    struct dia_signal signal;
    uint8_t up, down; /* keys */
    uint32_t at_s;    /* of a clock: seconds since midnight at time 0 of the show */
    uint8_t has_at;
    uint32_t stale_ms; /* of input and csv: so long after the last reading; 0: never */
    char
        from[DIA_VALUE_FILE]; /* of input: the named pipe its lines come from; "": standard input */
    uint32_t smooth_ms, every_ms;
    char before[DIA_VALUE_TEXT], gone[DIA_VALUE_TEXT]; /* shown before the first, and when stale */
    struct dia_reading *readings;                      /* in the order of time */
    uint32_t count, room;
};

/* A text that a value chooses: text[0] below limit[0], text[1] from there on, and so on. Once above
 * a limit it goes back `within` below it. */
struct dia_show_choice {
    char name[DIA_RIG_NAME];
    uint8_t value, count; /* texts */
    int32_t limit[DIA_CHOICE_TEXTS - 1], within;
    char text[DIA_CHOICE_TEXTS][DIA_VALUE_TEXT];
};

/* A parameter that follows a value: low where it is `from` and beyond, high where it is `to`. */
struct dia_show_drive {
    uint8_t layer, value;
    const struct dia_param *param;
    int32_t from, to, low, high;
};

DIA_END

#endif
