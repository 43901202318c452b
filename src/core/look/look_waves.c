/* SPDX-License-Identifier: MIT */
#include <diachrome/look.h>
#include <diachrome/signal.h>

#include "look_glue.h"
#include "once.h"
#include "../join.h"
#include "../shade.h"
#include "../sine.h"

void dia_waves_defaults(struct dia_waves *p)
{
    p->red_turns = 1;
    p->green_turns = 2;
    p->blue_turns = 3;
    p->shift = DIA_SHARE_ONE / 3;
    p->level = DIA_SHARE_ONE;
    p->speed_um_s = 200000;
}

/* A wave of each channel: all of a run in red, then in green, then in blue. */
void dia_waves_render(const struct dia_waves *p, const struct dia_surface *surface, uint32_t ms,
                      uint32_t first, uint32_t n, struct dia_rgb *out)
{
    uint8_t crest = (uint8_t)((uint32_t)p->level * 255u >> 15);
    dia_phase moved = dia_once_travelled(surface, 1, p->speed_um_s, ms),
              shift = (dia_phase)p->shift << 17;
    const int32_t turns[3] = {p->red_turns, p->green_turns, p->blue_turns};
    struct dia_ramp ramp[3];
    uint32_t places[DIA_RUN];
    uint16_t levels[DIA_RUN];
    uint8_t codes[3][DIA_RUN];
    for (uint8_t c = 0; c < 3; c++)
        dia_once_turns(&ramp[c], surface, turns[c], 0u - moved - c * shift);
    while (n != 0) {
        uint32_t run = n < DIA_RUN ? n : DIA_RUN;
        for (uint8_t c = 0; c < 3; c++) {
            dia_ramp_run(&ramp[c], first, run, places);
            dia_sine_run(places, run, levels);
            for (uint32_t i = 0; i < run; i++)
                codes[c][i] = shade_code(0, crest, shade_256ths(levels[i]));
        }
        dia_join_run(out, codes[0], codes[1], codes[2], run);
        first += run;
        out += run;
        n -= run;
    }
}

static const DIA_ROM struct dia_param params[] = {
    PARAM_NUMBER(dia_waves, red_turns, "red", "whole waves of red on the surface", DIA_PARAM_COUNT,
                 0, 100),
    PARAM_NUMBER(dia_waves, green_turns, "green", "of green", DIA_PARAM_COUNT, 0, 100),
    PARAM_NUMBER(dia_waves, blue_turns, "blue", "of blue", DIA_PARAM_COUNT, 0, 100),
    PARAM_NUMBER(dia_waves, shift, "shift", "from red to green to blue, share of a wave",
                 DIA_PARAM_SHARE, 0, DIA_SHARE_ONE),
    PARAM_NUMBER(dia_waves, level, "level", "at a crest; 0 % is black", DIA_PARAM_SHARE, 0,
                 DIA_SHARE_ONE),
    PARAM_NUMBER(dia_waves, speed_um_s, "speed", "of a single wave; n of them go 1/n as fast",
                 DIA_PARAM_SPEED, -10000000, 10000000),
};

LOOK_GLUE(dia_waves)

const DIA_ROM struct dia_look dia_look_waves = {
    .name = "waves",
    .help = "red, green and blue each a sine wave along the surface",
    LOOK_COMMON(dia_waves, params),
};
