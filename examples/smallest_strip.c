/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <diachrome/diachrome.h>
#include <diachrome/sim.h>

int main(void)
{
    static struct dia_sim sim; /* on a controller: a port of its own */
    static uint8_t memory[DIA_STRIP_BYTES(3, 60)];
    struct dia_surface line;
    struct dia_strip strip;
    struct dia_hue_sweep sweep;

    dia_sim_init(&sim, 16000000);
    dia_surface_line(&line, 60, 0, 16667); /* 60 pixels, 16.667 mm apart */
    dia_strip_init(&strip, &sim.port, 6, &dia_ws2812b, memory, 60);
    dia_strip_supply(&strip, 2000, 100); /* 2 A, 100 mA of it for the controller */
    dia_hue_sweep_defaults(&sweep);
    for (uint32_t ms = 0; ms < 1000; ms += 20) {
        dia_strip_wait(&strip); /* until the pixels show the frame before */
        dia_hue_sweep_render(&sweep, &line, ms, 0, 60, strip.frame.pixels);
        dia_strip_show(&strip);
    }
    printf("%u frames sent\n", (unsigned)strip.slot);
    return dia_strip_wait(&strip) != DIA_OK;
}
