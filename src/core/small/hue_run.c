/* SPDX-License-Identifier: MIT */
#include "../look/hue_circle.h"
#include <diachrome/config.h>

#define ROUND ((uint32_t)75u << 24) /* 75 times a whole circle */

/*
 * On a line without going through memory for the phases; counted down in 16 bits. The upper 24 bits
 * of the phase are kept times 75, which is what hue_at works out, so that to add is all there is to
 * do; the lower eight only for what they carry.
 */
static void on_a_line(dia_phase phase, uint32_t step, uint16_t n, struct dia_rgb *out)
{
    uint32_t at = (phase >> 8) * 75u;
    const uint32_t on = (step >> 8) * 75u;
    uint8_t low = (uint8_t)phase;
    const uint8_t low_on = (uint8_t)step;
    for (; n != 0; n--) {
        while (at >= ROUND) /* once at most */
            at -= ROUND;
        *out++ = dia_hue_circle[(uint16_t)(at >> 16) >> 4];
        at += on;
        low = (uint8_t)(low + low_on);
        if (low < low_on)
            at += 75u;
    }
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
