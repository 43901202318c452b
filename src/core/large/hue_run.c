/* SPDX-License-Identifier: MIT */
#include "../look/hue_circle.h"
#include "../run.h"

/* In two loops, so that the first turns into vectors. */
void hue_run(const struct dia_ramp *ramp, uint32_t first, uint32_t n, struct dia_rgb *out)
{
    uint32_t phases[DIA_RUN];
    uint16_t which[DIA_RUN];
    while (n != 0) {
        uint32_t run = n < DIA_RUN ? n : DIA_RUN;
        dia_ramp_run(ramp, first, run, phases);
        for (uint32_t i = 0; i < run; i++)
            which[i] = (uint16_t)((phases[i] >> 8) * 75u >> 20); /* hue_at */
        for (uint32_t i = 0; i < run; i++)
            out[i] = hue_circle[which[i]];
        first += run;
        out += run;
        n -= run;
    }
}
