/* SPDX-License-Identifier: MIT */
#include <diachrome/gradient.h>
#include <diachrome/config.h>

#include "code.h"
#include "srgb_table.h"

/*
 * OKLab is a turned copy of the cube roots of three cone responses, so to mix in it is to mix those
 * roots: no need to go there and back. Matrices are those of the paper, rows to 32768ths.
 */
static const DIA_ROM uint16_t cones[3][3] = {
    {13508, 17575, 1685}, {6944, 22305, 3519}, {2893, 9231, 20644}};
static const DIA_ROM int16_t lights[3][3] = {/* to 4096ths */
                                             {16698, -13547, 945},
                                             {-5196, 10690, -1399},
                                             {-17, -2881, 6994}};

/* The cube root of x / 65536 in 32768ths, of x 0..65536. */
static uint16_t root(uint32_t x)
{
    uint16_t found = 0;
    for (uint16_t bit = 0x8000u; bit != 0; bit >>= 1) {
        uint64_t tried = (uint16_t)(found | bit);
        if (tried * tried * tried <= (uint64_t)x << 29)
            found = (uint16_t)tried;
    }
    return found;
}

static void take_apart(struct dia_rgb colour, uint8_t mix, uint16_t part[3])
{
    const uint32_t light[3] = {dia_srgb_table[colour.r], dia_srgb_table[colour.g],
                               dia_srgb_table[colour.b]};
    for (uint8_t c = 0; c < 3; c++) {
        if (mix == DIA_MIX_LIGHT) {
            part[c] = (uint16_t)light[c];
            continue;
        }
        uint64_t sum = 0;
        for (uint8_t k = 0; k < 3; k++)
            sum += (uint64_t)cones[c][k] * light[k];
        part[c] = root((uint32_t)(sum * 65536u / 65535u >> 15));
    }
}

enum dia_status dia_gradient_init(struct dia_gradient *gradient, enum dia_mix mix,
                                  const struct dia_stop *stops, uint8_t count)
{
    if (count == 0 || count > DIA_GRADIENT_MAX)
        return DIA_BAD_VALUE;
    for (uint8_t i = 1; i < count; i++) {
        if (stops[i].place <= stops[i - 1u].place)
            return DIA_BAD_VALUE;
    }
    gradient->mix = (uint8_t)mix;
    gradient->count = count;
    for (uint8_t i = 0; i < count; i++) {
        gradient->stop[i].place = stops[i].place;
        take_apart(stops[i].colour, gradient->mix, gradient->stop[i].part);
    }
    return DIA_OK;
}

static dia_light light_of(const uint32_t cube[3], uint8_t c)
{
    int32_t sum = 2048;
    for (uint8_t k = 0; k < 3; k++)
        sum += lights[c][k] * (int32_t)cube[k];
    sum >>= 11; /* 4096ths of 32768ths to 65536ths */
    return sum < 0 ? 0 : sum > 65535 ? 65535u : (dia_light)sum;
}

static struct dia_rgb put_together(const uint16_t part[3], uint8_t mix)
{
    dia_light light[3];
    uint32_t cube[3];
    for (uint8_t c = 0; c < 3; c++) {
        uint32_t square = (uint32_t)part[c] * part[c] >> 15;
        cube[c] = square * part[c] >> 15;
        cube[c] = cube[c] < 32768u ? cube[c] : 32768u; /* of OKLab: never more */
    }
    for (uint8_t c = 0; c < 3; c++)
        light[c] = mix == DIA_MIX_LIGHT ? part[c] : light_of(cube, c);
    struct dia_rgb rgb = {code_of(light[0]), code_of(light[1]), code_of(light[2])};
    return rgb;
}

struct dia_rgb dia_gradient_at(const struct dia_gradient *gradient, uint16_t place)
{
    uint8_t above = 0;
    uint16_t part[3];
    while (above < gradient->count && gradient->stop[above].place <= place)
        above++;
    if (above == 0 || above == gradient->count)
        return put_together(gradient->stop[above ? above - 1u : 0].part, gradient->mix);
    uint16_t from = gradient->stop[above - 1u].place, to = gradient->stop[above].place;
    uint32_t share = ((uint32_t)(place - from) << 15) / (uint16_t)(to - from);
    for (uint8_t c = 0; c < 3; c++) {
        uint32_t low = gradient->stop[above - 1u].part[c], high = gradient->stop[above].part[c];
        part[c] = (uint16_t)((low * (32768u - share) + high * share + 16384u) >> 15);
    }
    return put_together(part, gradient->mix);
}
