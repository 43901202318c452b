/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_TABLE_RUN_H
#define DIA_CORE_TABLE_RUN_H

#include <stdint.h>

/* One channel of n pixels by a table of all codes, from every third code to every third step. In a
 * file of its own, so that all it works with stays in registers. The new carry. */
uint8_t dia_table_run(const uint16_t *table, const uint8_t *codes, uint8_t *steps, uint16_t n,
                      uint8_t carry);

#endif
