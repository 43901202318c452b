/* SPDX-License-Identifier: MIT */
#include "../look/hue_circle.h"
#include <diachrome/config.h>

/* On a line without going through memory for the phases; counted down in 16 bits. */
static void on_a_line(dia_phase phase, uint32_t step, uint16_t n, struct dia_rgb *out)
{
    for (; n != 0; n--, phase += step)
        *out++ = dia_hue_circle[hue_at(phase)];
}

void dia_hue_run(const struct dia_ramp *ramp, uint32_t first, uint32_t n, struct dia_rgb *out)
{
    uint32_t phases[DIA_RUN];
    while (n != 0) {
        uint16_t run = n < 0x8000u ? (uint16_t)n : 0x8000u;
        if (ramp->surface) {
            run = run < DIA_RUN ? run : (uint16_t)DIA_RUN;
            dia_ramp_run(ramp, first, run, phases);
            for (uint16_t i = 0; i < run; i++)
                out[i] = dia_hue_circle[hue_at(phases[i])];
        } else {
            on_a_line(ramp->start + first * ramp->step, ramp->step, run, out);
        }
        first += run;
        out += run;
        n -= run;
    }
}
