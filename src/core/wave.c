/* SPDX-License-Identifier: MIT */
#include <diachrome/wave.h>

#include <diachrome/config.h>
#include "look/once.h"

void dia_wave_init(struct dia_wave *wave)
{
    wave->shape = DIA_WAVE_SINE;
    wave->axis = DIA_ALONG;
    wave->length_um = wave->speed_um_s = 0;
    wave->period_ms = 0;
    wave->duty = DIA_SHARE_ONE / 2;
    wave->low = 0;
}

static uint16_t level_of(const struct dia_wave *wave, dia_phase phase)
{
    switch (wave->shape) {
    case DIA_WAVE_TRIANGLE:
        return dia_signal_triangle(phase);
    case DIA_WAVE_SAW:
        return dia_signal_saw(phase);
    case DIA_WAVE_PULSE:
        return dia_signal_pulse(phase, wave->duty);
    default:
        return dia_signal_sine(phase);
    }
}

void dia_wave_run(const struct dia_wave *wave, const struct dia_surface *surface, uint32_t ms,
                  uint32_t first, uint32_t n, uint16_t *levels)
{
    struct dia_surface on = dia_surface_along(*surface, (enum dia_axis)wave->axis);
    uint32_t length = (uint32_t)(wave->length_um ? wave->length_um : dia_surface_length_um(&on));
    uint32_t low = (uint32_t)wave->low * 2u - (wave->low != 0), range = 65535u - low;
    uint32_t most = wave->period_ms ? dia_signal_sine(dia_phase_at(ms, wave->period_ms)) : 65535u;
    uint32_t places[DIA_RUN];
    struct dia_ramp ramp;
    dia_once_spaced(&ramp, &on, length, 0u - dia_once_moved(wave->speed_um_s, length, ms));
    range = range * most >> 16;
    while (n != 0) {
        uint32_t run = n < DIA_RUN ? n : DIA_RUN;
        dia_ramp_run(&ramp, first, run, places);
        for (uint32_t i = 0; i < run; i++)
            levels[i] = (uint16_t)(low + ((level_of(wave, places[i]) * range + 32768u) >> 16));
        first += run;
        levels += run;
        n -= run;
    }
}
