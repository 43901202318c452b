/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_NUMBER_DOUBLE_H
#define DIACHROME_NUMBER_DOUBLE_H

#include <stdint.h>

#include "linkage.h"
#include "status.h"

DIA_BEGIN

/*
 * A double as the number that number.h writes with so many decimals, 0..9: value times 10^decimals,
 * rounded to nearest and halves away from 0. What is rounded is the exact value that the double
 * stands for: 1.005 is a little less than it looks, so with two decimals it is 100.
 *
 *   dia_number_of_double(3.14159, 2, &number);          314
 *
 * DIA_BAD_VALUE, and number untouched: it is no number, more than 32 bits hold, or decimals is out
 * of its range.
 *
 * Cost: some nanoseconds.
 * Context: any; threads may work at once on objects of their own.
 */
enum dia_status dia_number_of_double(double value, uint8_t decimals, int32_t *number);

DIA_END

#endif
