/* SPDX-License-Identifier: MIT */
#include "code.h"
#include "mixture.h"
#include "palette.h"

void dia_palette_make(struct palette_light *light, const struct dia_palette *palette)
{
    light->spans = (uint8_t)(palette->count - 1u);
    for (uint8_t i = 0; i <= palette->count; i++) {
        struct dia_rgb colour = palette->colours[i < palette->count ? i : palette->count - 1];
        light->light[i][0] = dia_srgb_table[colour.r];
        light->light[i][1] = dia_srgb_table[colour.g];
        light->light[i][2] = dia_srgb_table[colour.b];
    }
}

void dia_palette_run(const struct palette_light *light, const uint16_t *values, uint32_t n,
                     struct dia_rgb *out)
{
    for (; n != 0; n--, values++, out++) {
        uint32_t place = (uint32_t)*values * light->spans; /* 16 bits below the point */
        const dia_light *low = light->light[place >> 16], *high = low + 3;
        uint16_t share = (uint16_t)place >> 1;
        out->r = code_of(mixture_of(low[0], high[0], share));
        out->g = code_of(mixture_of(low[1], high[1], share));
        out->b = code_of(mixture_of(low[2], high[2], share));
    }
}

struct dia_rgb dia_palette_at(const struct dia_palette *palette, uint16_t value)
{
    struct palette_light light;
    struct dia_rgb colour = {0, 0, 0};
    dia_palette_make(&light, palette);
    dia_palette_run(&light, &value, 1, &colour);
    return colour;
}

void dia_palette_of(struct dia_palette *palette, const struct dia_gradient *gradient)
{
    palette->count = DIA_PALETTE_MAX;
    for (uint8_t i = 0; i < DIA_PALETTE_MAX; i++)
        palette->colours[i] =
            dia_gradient_at(gradient, (uint16_t)(i * (uint32_t)65535 / (DIA_PALETTE_MAX - 1)));
}
