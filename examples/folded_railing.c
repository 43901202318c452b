/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <diachrome/diachrome.h>

/* A railing that fills from the shore end on both sides: one strip, there and back. */
#define COUNT 24

int main(void)
{
    struct dia_fold fold = {.there = COUNT / 2, .gap_um = 900000};
    struct dia_surface railing;
    struct dia_reveal reveal;
    struct dia_rgb pixels[COUNT];

    if (dia_surface_fold(&railing, &fold, COUNT, 100000) != DIA_OK)
        return 1;
    dia_reveal_defaults(&reveal);
    reveal.every_ms = 100;
    for (uint32_t ms = 50; ms <= 1050; ms += 500) {
        dia_reveal_render(&reveal, &railing, ms, 0, COUNT, pixels);
        for (int i = 0; i < COUNT / 2; i++)
            putchar(pixels[i].r ? '#' : '.');
        printf("\n");
        for (int i = COUNT - 1; i >= COUNT / 2; i--) /* the way back, seen from the shore */
            putchar(pixels[i].r ? '#' : '.');
        printf("  after %u ms\n", (unsigned)ms);
    }
    return 0;
}
