/* SPDX-License-Identifier: MIT */
#include "noise.h"

/*
 * In a file of its own, so that what it calls is not made a part of it: all the loops work with is
 * to stay in registers, where those have 8 bits. It is mixture_in, with what does not change from
 * place to place taken out, and a loop for either way.
 */
void dia_noise_line_run(const struct noise_row *row, struct noise_line *line, uint32_t y,
                        uint32_t step, uint16_t n, uint16_t *values)
{
    uint16_t *end = values + n;
    while (values != end) {
        const uint16_t number = (uint16_t)(y >> 16);
        dia_noise_line_go(row, line, number);
        const uint16_t upper = line->upper, lower = line->lower;
        if (lower < upper) {
            for (; values != end && (uint16_t)(y >> 16) == number; y += step)
                *values++ = product_taken(upper, upper - lower, noise_eased((uint16_t)y) * 2u);
        } else {
            for (; values != end && (uint16_t)(y >> 16) == number; y += step)
                *values++ =
                    (uint16_t)(upper + product_high(lower - upper, noise_eased((uint16_t)y) * 2u));
        }
    }
}
