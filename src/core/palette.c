/* SPDX-License-Identifier: MIT */
#include <stddef.h>

#include "code.h"
#include "mixture.h"
#include "palette.h"
#include "srgb_table.h"

void dia_palette_make(struct palette_light *light, const struct dia_palette *palette)
{
    light->spans = (uint8_t)(palette->count - 1u);
    for (uint8_t i = 0; i <= palette->count; i++) {
        struct dia_rgb colour = palette->colours[i < palette->count ? i : palette->count - 1];
        light->light[0][i] = dia_srgb_table[colour.r];
        light->light[1][i] = dia_srgb_table[colour.g];
        light->light[2][i] = dia_srgb_table[colour.b];
    }
    light->placed = palette->placed ? palette : NULL;
    for (uint8_t i = 0; i < light->spans && palette->placed; i++) {
        uint16_t way = (uint16_t)(palette->places[i + 1] - palette->places[i]);
        light->slope[i] = 0x80000000u / (way ? way : 1u);
    }
}

/* Parts are even. */
static inline void mix(struct dia_rgb *out, const struct palette_light *light, uint8_t k,
                       uint16_t part)
{
    out->r = code_of(mixture_in(light->light[0][k], light->light[0][k + 1], part));
    out->g = code_of(mixture_in(light->light[1][k], light->light[1][k + 1], part));
    out->b = code_of(mixture_in(light->light[2][k], light->light[2][k + 1], part));
}

/* Few colours, which a look goes to and fro between: from where the last one was. */
static void run_on_places(const struct palette_light *light, const uint16_t *values, uint32_t n,
                          struct dia_rgb *out)
{
    const uint16_t *places = light->placed->places;
    uint8_t k = 0;
    for (; n != 0; n--, values++, out++) {
        while (k != 0 && *values < places[k])
            k--;
        while (k < light->spans && *values >= places[k + 1])
            k++;
        uint16_t part = 0; /* behind the last, or before the first */
        if (k<light->spans && * values> places[k])
            part = (uint16_t)((uint32_t)(*values - places[k]) * light->slope[k] >> 16 << 1);
        mix(out, light, k, part);
    }
}

void dia_palette_run(const struct palette_light *light, const uint16_t *values, uint32_t n,
                     struct dia_rgb *out)
{
    if (light->placed) {
        run_on_places(light, values, n, out);
        return;
    }
    const uint8_t spans = light->spans;
    const struct dia_rgb *end = out + n;
    for (; out != end; values++, out++) {
        uint32_t place = product_of(*values, spans); /* 16 bits below the point */
        mix(out, light, (uint8_t)(place >> 16), (uint16_t)place & 0xfffeu);
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

/* Makes room behind colour k, for one in the middle of the way to the next. */
static void divide(struct dia_palette *palette, const struct dia_gradient *gradient, uint8_t k)
{
    for (uint8_t i = palette->count; i > k + 1u; i--) {
        palette->places[i] = palette->places[i - 1];
        struct dia_rgb moves = palette->colours[i - 1];
        palette->colours[i] = moves;
    }
    uint16_t way = (uint16_t)(palette->places[k + 1] - palette->places[k]);
    palette->places[k + 1] = (uint16_t)(palette->places[k] + way / 2u);
    palette->colours[k + 1] = dia_gradient_at(gradient, palette->places[k + 1]);
    palette->count++;
}

void dia_palette_of(struct dia_palette *palette, const struct dia_gradient *gradient)
{
    static const DIA_ROM struct dia_palette empty = {0};
    *palette = empty;
    palette->placed = 1;
    palette->count = gradient->count;
    for (uint8_t i = 0; i < gradient->count; i++) {
        palette->places[i] = gradient->stop[i].place;
        palette->colours[i] = dia_gradient_at(gradient, palette->places[i]);
    }
    while (gradient->mix == DIA_MIX_OKLAB && palette->count > 1 &&
           palette->count < DIA_PALETTE_MAX) {
        uint8_t longest = 0;
        uint16_t most = 0;
        for (uint8_t k = 0; k + 1u < palette->count; k++) {
            uint16_t way = (uint16_t)(palette->places[k + 1] - palette->places[k]);
            longest = way > most ? k : longest;
            most = way > most ? way : most;
        }
        if (most < 2)
            return;
        divide(palette, gradient, longest);
    }
}
