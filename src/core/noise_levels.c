/* SPDX-License-Identifier: MIT */
#include <diachrome/noise.h>

#include "noise.h"

uint16_t dia_random(uint32_t element, uint32_t slot, uint32_t seed)
{
    return noise_random(dia_noise_slot(slot, seed), element);
}

/* Along x on a row of the lattice; a second corner only where it counts. */
static uint16_t along(uint32_t row, uint32_t x, uint16_t ease)
{
    uint16_t here = noise_random(row, x >> 16);
    return ease ? mixture_of(here, noise_random(row, (uint16_t)((x >> 16) + 1u)), ease) : here;
}

static uint16_t on_plane(uint32_t plane, uint32_t x, uint32_t y, uint16_t ease_x, uint16_t ease_y)
{
    uint16_t here = along(dia_noise_slot(y >> 16, plane), x, ease_x);
    return ease_y ? mixture_of(here,
                               along(dia_noise_slot((uint16_t)((y >> 16) + 1u), plane), x, ease_x),
                               ease_y)
                  : here;
}

uint16_t dia_noise(uint32_t x, uint32_t y, uint32_t z, uint32_t seed)
{
    uint16_t ease_x = noise_eased((uint16_t)x);
    uint16_t ease_y = noise_eased((uint16_t)y);
    uint16_t ease_z = noise_eased((uint16_t)z);
    uint16_t here = on_plane(dia_noise_slot(z >> 16, seed), x, y, ease_x, ease_y);
    if (ease_z == 0)
        return here;
    return mixture_of(
        here, on_plane(dia_noise_slot((uint16_t)((z >> 16) + 1u), seed), x, y, ease_x, ease_y),
        ease_z);
}

uint16_t dia_noise_octaves(uint32_t x, uint32_t y, uint32_t z, uint8_t octaves, uint32_t seed)
{
    uint32_t sum = 0;
    octaves = octaves > 8 ? 8 : octaves < 1 ? 1 : octaves;
    for (uint8_t k = 0; k < octaves; k++) {
        uint32_t weight = 128u >> k;
        sum += dia_noise(x << k, y << k, z << k, seed + k) * weight;
    }
    return (uint16_t)(sum / (256u - (256u >> octaves))); /* the weights together */
}
