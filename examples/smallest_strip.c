/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <diachrome/diachrome.h>
#include <diachrome/sim.h>

int main(void)
{
    static struct dia_sim sim; /* on a controller: a port of its own */
    static struct dia_rgb pixels[48];
    static uint8_t memory[DIA_STRIP_BYTES(3, 48)];
    struct dia_surface line;
    struct dia_strip strip;
    struct dia_hue_sweep sweep;

    dia_sim_init(&sim, 16000000);
    /* 48 pixels, 20.833 mm apart */
    if (dia_surface_line(&line, 48, 0, 20833) != DIA_OK ||
        dia_strip_init(&strip, &sim.port, 17, &dia_ws2812b, pixels, memory, 48) != DIA_OK)
        return 1;
    dia_strip_supply(&strip, 2000, 100); /* 2 A, 100 mA of it for the controller */
    dia_hue_sweep_defaults(&sweep);
    for (uint32_t ms = 0; ms < 1000; ms += 20) {
        dia_hue_sweep_render(&sweep, &line, ms, 0, 48, pixels);
        if (dia_driver_show_and_wait(&strip.driver) != DIA_OK)
            return 1;
    }
    printf("%u frames shown\n", (unsigned)strip.slot);
    return 0;
}
