/* SPDX-License-Identifier: MIT */
#include <diachrome/layout.h>

/* From the end, so that nothing is overwritten that is still to move. */
void dia_gaps_open(struct dia_rgb *pixels, uint32_t count, const uint16_t *gaps, uint32_t n)
{
    static const DIA_ROM struct dia_rgb black = {0, 0, 0};
    uint32_t from = count - n;
    for (uint32_t to = count; n != 0 && to != 0;) {
        to--;
        if (gaps[n - 1u] == to) {
            pixels[to] = black;
            n--;
        } else {
            struct dia_rgb moves = pixels[--from];
            pixels[to] = moves;
        }
    }
}
