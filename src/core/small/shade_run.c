/* SPDX-License-Identifier: MIT */
#include "../shade.h"

void dia_shade_run(struct dia_rgb *out, struct dia_rgb from, struct dia_rgb to,
                   const uint16_t *levels, uint32_t n)
{
    for (; n != 0; n--)
        *out++ = shade(from, to, *levels++);
}
