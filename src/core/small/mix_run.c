/* SPDX-License-Identifier: MIT */
#include "../mix.h"

/* Most elements are covered or not. */
void dia_mix_run(struct dia_rgb *out, struct dia_rgb from, struct dia_rgb to,
                 dia_mix_levels levels_of, const void *of, uint32_t first, uint32_t n)
{
    const dia_light r = dia_light_of(from.r), g = dia_light_of(from.g), b = dia_light_of(from.b);
    const dia_light to_r = dia_light_of(to.r), to_g = dia_light_of(to.g), to_b = dia_light_of(to.b);
    uint16_t levels[DIA_RUN];
    while (n != 0) {
        uint16_t run = n < DIA_RUN ? (uint16_t)n : DIA_RUN;
        levels_of(of, first, run, levels);
        for (uint16_t i = 0; i < run; i++, out++) {
            uint16_t part = shade_256ths(levels[i]);
            if (part == 0) {
                *out = from;
            } else if (part == 256u) {
                *out = to;
            } else {
                out->r = mix_code(r, to_r, part);
                out->g = mix_code(g, to_g, part);
                out->b = mix_code(b, to_b, part);
            }
        }
        first += run;
        n -= run;
    }
}
