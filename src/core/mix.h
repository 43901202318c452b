/* SPDX-License-Identifier: MIT */
#ifndef DIA_CORE_MIX_H
#define DIA_CORE_MIX_H

#include <diachrome/colour.h>

#include "code.h"
#include "shade.h"

/*
 * What covers a part of an element adds that part of its light: mixed in linear light, so that
 * something that moves from one element to the next keeps its light on the way. Parts are 256ths.
 */
static inline uint8_t mix_code(dia_light from, dia_light to, uint16_t of_256)
{
    uint32_t light = (uint32_t)from * (uint16_t)(256u - of_256) + (uint32_t)to * of_256;
    return code_of((dia_light)((light + 128u) >> 8));
}

/* How much of elements first .. first + n - 1 is covered, 0..65535, n at most DIA_RUN. */
typedef void (*dia_mix_levels)(const void *of, uint32_t first, uint32_t n, uint16_t *levels);

/* n elements from `first` on, of one colour and covered by another: in core/small and core/large,
 * with the same bytes. */
void dia_mix_run(struct dia_rgb *out, struct dia_rgb from, struct dia_rgb to,
                 dia_mix_levels levels_of, const void *of, uint32_t first, uint32_t n);

#endif
