/* SPDX-License-Identifier: MIT */
#include "../look/hue_circle.h"
#include <diachrome/config.h>

/* 75 times a phase: 16ths of a hue, 0..74 and a part, so that to add is all there is to do. */
struct sixteenths {
    uint32_t part;
    uint8_t whole;
};

static struct sixteenths sixteenths_of(dia_phase phase)
{
    struct sixteenths of = {
        phase * 75u, (uint8_t)(((phase >> 16) * 75u + ((phase & 0xffffu) * 75u >> 16)) >> 16)};
    return of;
}

/* On a line without going through memory for the phases; counted down in 16 bits. */
static void on_a_line(dia_phase phase, uint32_t step, uint16_t n, struct dia_rgb *out)
{
    struct sixteenths at = sixteenths_of(phase), more = sixteenths_of(step);
    for (; n != 0; n--) {
        *out++ =
            dia_hue_circle[(uint16_t)((uint16_t)at.whole << 8 | (uint8_t)(at.part >> 24)) >> 4];
        at.part += more.part;
        at.whole = (uint8_t)(at.whole + more.whole);
        if (at.part < more.part)
            at.whole++;
        if (at.whole >= 75u)
            at.whole = (uint8_t)(at.whole - 75u);
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
