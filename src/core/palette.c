/* SPDX-License-Identifier: MIT */
#include <diachrome/look.h>

struct dia_rgb dia_palette_at(const struct dia_palette *palette, uint16_t value)
{
    uint32_t place = (uint32_t)value * (uint8_t)(palette->count - 1); /* 16 bits below the point */
    uint8_t below = (uint8_t)(place >> 16);
    uint8_t above = (uint8_t)(below + 1 < palette->count ? below + 1 : below);
    return dia_rgb_mix(palette->colours[below], palette->colours[above],
                       (dia_share)((uint16_t)place >> 1));
}
