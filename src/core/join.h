/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_JOIN_H
#define DIA_CORE_JOIN_H

#include <diachrome/colour.h>

/* In core/small and core/large, with the same bytes. */

/* n colours out of their channels. */
void dia_join_run(struct dia_rgb *out, const uint8_t *r, const uint8_t *g, const uint8_t *b,
                  uint32_t n);

/* n times one colour. */
void dia_fill_run(struct dia_rgb *out, struct dia_rgb colour, uint32_t n);

#endif
