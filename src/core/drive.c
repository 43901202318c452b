/* SPDX-License-Identifier: MIT */
#include "drive.h"

/* In 32 bits by halves: (light * gain) >> 15, rounded up. */
static uint32_t scaled(uint32_t light, dia_share gain)
{
    uint32_t high = (light >> 16) * gain, low = (light & 0xffffu) * (uint32_t)gain;
    return (high << 1) + (low << 1 >> 16) + 1;
}

/* x / 65280 is x / 65536 * 256 / 255, and a / 255 is a / 256 + a / 65536 + ...; each term is
 * rounded down, so the 5 is more than what is lost. No division: this runs on small chips. */
uint32_t dia_drive_ua(uint32_t light, dia_share gain, uint16_t channel_ua)
{
    uint32_t x = scaled(light, gain);
    uint32_t a = (x >> 16) * channel_ua + ((x & 0xffffu) * channel_ua >> 16);
    return a + (a >> 8) + (a >> 16) + (a >> 24) + 5;
}
