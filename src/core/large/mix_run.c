/* SPDX-License-Identifier: MIT */
#include "../mix.h"

/* Of the mixtures there can be, each is made once, when it first comes. */
void dia_mix_run(struct dia_rgb *out, struct dia_rgb from, struct dia_rgb to,
                 dia_mix_levels levels_of, const void *of, uint32_t first, uint32_t n)
{
    const dia_light r = dia_light_of(from.r), g = dia_light_of(from.g), b = dia_light_of(from.b);
    const dia_light to_r = dia_light_of(to.r), to_g = dia_light_of(to.g), to_b = dia_light_of(to.b);
    struct dia_rgb mixtures[257];
    uint8_t made[257] = {0};
    uint16_t levels[DIA_RUN];
    while (n != 0) {
        uint32_t run = n < DIA_RUN ? n : DIA_RUN;
        levels_of(of, first, run, levels);
        for (uint32_t i = 0; i < run; i++) {
            uint16_t part = shade_256ths(levels[i]);
            if (!made[part]) {
                mixtures[part].r = mix_code(r, to_r, part);
                mixtures[part].g = mix_code(g, to_g, part);
                mixtures[part].b = mix_code(b, to_b, part);
                made[part] = 1;
            }
            out[i] = mixtures[part];
        }
        out += run;
        first += run;
        n -= run;
    }
}
