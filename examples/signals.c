/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <diachrome/diachrome.h>

/* Signals in time, each as a row of levels 0 to 9; and a wave that runs along a strip. */
#define MOMENTS 24

static void row(const char *name, const uint16_t *levels)
{
    printf("%-9s", name);
    for (int i = 0; i < MOMENTS; i++)
        putchar('0' + levels[i] / 6554);
    putchar('\n');
}

int main(void)
{
    uint16_t sine[MOMENTS], steps[MOMENTS], ease[MOMENTS], noise[MOMENTS], along[MOMENTS];
    struct dia_surface line;
    struct dia_wave wave;

    for (uint32_t i = 0; i < MOMENTS; i++) {
        dia_phase phase = dia_phase_at(i * 100, 2400); /* a turn in 2.4 s */
        sine[i] = dia_signal_sine(phase);
        steps[i] = dia_signal_steps(phase, 4);
        ease[i] = dia_ease_run(&dia_ease_in_out, (uint16_t)(phase >> 16));
        noise[i] = dia_noise(i * 65536 / 6, 0, 0, 7); /* a bump every 0.6 s */
    }
    row("sine", sine);
    row("steps", steps);
    row("ease", ease);
    row("noise", noise);
    if (dia_surface_line(&line, MOMENTS, 0, 10000) != DIA_OK)
        return 1;
    dia_wave_init(&wave);
    wave.shape = DIA_WAVE_SAW;
    wave.length_um = 80000;   /* 8 elements */
    wave.speed_um_s = 100000; /* 10 elements a second */
    for (uint32_t ms = 0; ms <= 200; ms += 100) {
        dia_wave_run(&wave, &line, ms, 0, MOMENTS, along);
        row("along", along);
    }
    return 0;
}
