/* SPDX-License-Identifier: MIT */
#ifndef TESTS_SPEED_FLOAT_LOOKS_H
#define TESTS_SPEED_FLOAT_LOOKS_H

#include <stdint.h>

/*
 * The default pictures of the looks as one writes them at first: float, pixel by pixel, gamma by
 * powf. On a line of count pixels 2 mm apart, to drive bytes r g b.
 */
typedef void float_look(uint32_t count, uint32_t ms, uint8_t *bytes);
struct float_row {
    const char *name;
    float_look *look;
};
extern const struct float_row float_looks[]; /* by the names of the looks; ends with NULL */

#endif
