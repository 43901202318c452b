/* SPDX-License-Identifier: MIT */
#ifndef DIA_HOST_SAMPLING_H
#define DIA_HOST_SAMPLING_H

#include <stdint.h>

/*
 * At which rate a capture was sampled, by its edges: the lowest of the usual rates at whose
 * moments all of them lie, but for the rounding of the file to whole ns.
 */
struct sampling {
    uint32_t left; /* a bit for each rate that still fits */
    uint32_t edges;
    uint64_t last_ns;
};

void dia_sampling_init(struct sampling *sampling);
void dia_sampling_take(struct sampling *sampling, uint64_t t_ns);

/* 0: none of them, or too few edges to tell. */
uint32_t dia_sampling_khz(const struct sampling *sampling);

#endif
