/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <diachrome/diachrome.h>

/* A light that runs over a blue glow, and after two seconds fades away. */
#define COUNT 16

int main(void)
{
    struct dia_surface line;
    struct dia_steady glow = {{0, 0, 100}};
    struct dia_pulse pulse;
    struct dia_layer layers[2];
    struct dia_stack stack = {layers, 2};
    struct dia_rgb pixels[COUNT];

    if (dia_surface_line(&line, COUNT, 0, 100000) != DIA_OK)
        return 1;
    dia_pulse_defaults(&pulse);
    pulse.colour = (struct dia_rgb){255, 0, 255};
    pulse.background = (struct dia_rgb){0, 0, 0};
    pulse.head_um = 100000;
    pulse.tail_um = 200000;
    pulse.rest_ms = 0;
    dia_layer_init(&layers[0], &line, dia_look_steady.render, &glow);
    dia_layer_init(&layers[1], &line, dia_look_pulse.render, &pulse);
    layers[1].blend = DIA_BLEND_ADD;
    layers[1].length_ms = 3000;
    layers[1].fade_out_ms = 1000;
    for (uint32_t ms = 1000; ms <= 4000; ms += 1500) {
        dia_stack_render(&stack, ms, 0, COUNT, pixels);
        for (int i = 0; i < COUNT; i++)
            printf("%02x%02x ", pixels[i].r, pixels[i].b);
        printf(" at %u ms\n", (unsigned)ms);
    }
    return 0;
}
