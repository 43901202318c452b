/* SPDX-License-Identifier: MIT */
#include "../support.h"

#include <math.h>
#include <stdlib.h>

#include <diachrome/gradient.h>

static double light(double code)
{
    double c = code / 255;
    return c <= 0.04045 ? c / 12.92 : pow((c + 0.055) / 1.055, 2.4);
}

static double code(double l)
{
    l = l < 0 ? 0 : l > 1 ? 1 : l;
    return 255 * (l <= 0.0031308 ? 12.92 * l : 1.055 * pow(l, 1 / 2.4) - 0.055);
}

/* The matrices of B. Ottosson, 2020. */
static const double cones[3][3] = {{0.4122214708, 0.5363325363, 0.0514459929},
                                   {0.2119034982, 0.6806995451, 0.1073969566},
                                   {0.0883024619, 0.2817188376, 0.6299787005}};
static const double lab[3][3] = {{0.2104542553, 0.7936177850, -0.0040720468},
                                 {1.9779984951, -2.4285922050, 0.4505937099},
                                 {0.0259040371, 0.7827717662, -0.8086757660}};
static const double unlab[3][3] = {{1, 0.3963377774, 0.2158037573},
                                   {1, -0.1055613458, -0.0638541728},
                                   {1, -0.0894841775, -1.2914855480}};
static const double lights[3][3] = {{4.0767416621, -3.3077115913, 0.2309699292},
                                    {-1.2684380046, 2.6097574011, -0.3413193965},
                                    {-0.0041960863, -0.7034186147, 1.7076147010}};

static void times(const double m[3][3], const double in[3], double out[3])
{
    for (int r = 0; r < 3; r++)
        out[r] = m[r][0] * in[0] + m[r][1] * in[1] + m[r][2] * in[2];
}

static void to_lab(struct dia_rgb c, double out[3])
{
    double rgb[3] = {light(c.r), light(c.g), light(c.b)}, lms[3];
    times(cones, rgb, lms);
    for (int k = 0; k < 3; k++)
        lms[k] = cbrt(lms[k]);
    times(lab, lms, out);
}

static void mixed(enum dia_mix mix, struct dia_rgb a, struct dia_rgb b, double part, double out[3])
{
    double from[3] = {light(a.r), light(a.g), light(a.b)},
           to[3] = {light(b.r), light(b.g), light(b.b)};
    double lms[3];
    if (mix == DIA_MIX_OKLAB) {
        to_lab(a, from);
        to_lab(b, to);
    }
    for (int k = 0; k < 3; k++)
        from[k] += (to[k] - from[k]) * part;
    if (mix == DIA_MIX_OKLAB) {
        times(unlab, from, lms);
        for (int k = 0; k < 3; k++)
            lms[k] = lms[k] * lms[k] * lms[k];
        times(lights, lms, from);
    }
    for (int k = 0; k < 3; k++)
        out[k] = code(from[k]);
}

/* 3000 random pairs of colours, 33 places each, against doubles. */
static void mixes_are_those_of_a_double_reference(void **state)
{
    (void)state;
    uint32_t seed = 6;
    double worst[2][2] = {{0, 0}, {0, 0}};
    for (int k = 0; k < 3000; k++) {
        struct dia_stop stops[2] = {{0, {0, 0, 0}}, {65535, {0, 0, 0}}};
        for (int i = 0; i < 2; i++)
            stops[i].colour = (struct dia_rgb){(uint8_t)random_below(&seed, 256),
                                               (uint8_t)random_below(&seed, 256),
                                               (uint8_t)random_below(&seed, 256)};
        for (int mix = DIA_MIX_LIGHT; mix <= DIA_MIX_OKLAB; mix++) {
            struct dia_gradient gradient;
            assert_int_equal(dia_gradient_init(&gradient, (enum dia_mix)mix, stops, 2), DIA_OK);
            for (uint32_t place = 0; place <= 65535; place += 2047) {
                double exact[3];
                struct dia_rgb is = dia_gradient_at(&gradient, (uint16_t)place);
                const uint8_t *codes = &is.r;
                mixed((enum dia_mix)mix, stops[0].colour, stops[1].colour, place / 65535.0, exact);
                for (int c = 0; c < 3; c++) {
                    double off = fabs(codes[c] - exact[c]);
                    int dark = exact[c] < 16;
                    worst[mix][dark] = off > worst[mix][dark] ? off : worst[mix][dark];
                }
            }
        }
    }
    print_message("largest error: %.2f codes in light, %.2f in OKLab, %.2f in its dark\n",
                  worst[0][0], worst[1][0], worst[1][1]);
    assert_true(worst[0][0] <= 0.6 && worst[0][1] <= 0.6);
    assert_true(worst[1][0] <= 1.2 && worst[1][1] <= 1.5);
}

/* Stops anywhere, and their own colours at them. */
static void a_gradient_goes_through_its_stops(void **state)
{
    (void)state;
    static const struct dia_stop stops[] = {
        {1000, {255, 0, 0}}, {1001, {0, 255, 0}}, {30000, {9, 9, 9}}, {65000, {0, 0, 255}}};
    struct dia_gradient gradient;
    for (int mix = DIA_MIX_LIGHT; mix <= DIA_MIX_OKLAB; mix++) {
        assert_int_equal(dia_gradient_init(&gradient, (enum dia_mix)mix, stops, 4), DIA_OK);
        for (int k = 0; k < 4; k++) {
            struct dia_rgb is = dia_gradient_at(&gradient, stops[k].place);
            assert_true(abs(is.r - stops[k].colour.r) <= 1 && abs(is.g - stops[k].colour.g) <= 1 &&
                        abs(is.b - stops[k].colour.b) <= 1);
        }
        assert_int_equal(dia_gradient_at(&gradient, 0).r, 255);
        assert_int_equal(dia_gradient_at(&gradient, 65535).b, 255);
    }
    assert_int_equal(dia_gradient_init(&gradient, DIA_MIX_LIGHT, stops, 0), DIA_BAD_VALUE);
    static const struct dia_stop falling[] = {{5, {0, 0, 0}}, {5, {1, 1, 1}}};
    assert_int_equal(dia_gradient_init(&gradient, DIA_MIX_LIGHT, falling, 2), DIA_BAD_VALUE);
}

/* The equations of Kim et al. in double. */
static void kelvin(double t, double out[3])
{
    double x =
        t <= 4000 ? -0.2661239e9 / (t * t * t) - 0.2343589e6 / (t * t) + 0.8776956e3 / t + 0.179910
                  : -3.0258469e9 / (t * t * t) + 2.1070379e6 / (t * t) + 0.2226347e3 / t + 0.240390;
    double y = t <= 2222 ? -1.1063814 * x * x * x - 1.34811020 * x * x + 2.18555832 * x - 0.20219683
               : t <= 4000
                   ? -0.9549476 * x * x * x - 1.37418593 * x * x + 2.09137015 * x - 0.16748867
                   : 3.0817580 * x * x * x - 5.87338670 * x * x + 3.75112997 * x - 0.37001483;
    double X = x / y, Z = (1 - x - y) / y, most = 0;
    double rgb[3] = {3.2406 * X - 1.5372 - 0.4986 * Z, -0.9689 * X + 1.8758 + 0.0415 * Z,
                     0.0557 * X - 0.2040 + 1.0570 * Z};
    for (int c = 0; c < 3; c++)
        most = rgb[c] > most ? rgb[c] : most;
    for (int c = 0; c < 3; c++)
        out[c] = code(rgb[c] / most);
}

static void temperatures_are_on_the_locus(void **state)
{
    (void)state;
    double worst = 0;
    for (uint32_t t = 1667; t <= 25000; t++) {
        double exact[3];
        struct dia_rgb is = dia_rgb_kelvin(t);
        const uint8_t *codes = &is.r;
        kelvin(t, exact);
        for (int c = 0; c < 3; c++)
            worst = fabs(codes[c] - exact[c]) > worst ? fabs(codes[c] - exact[c]) : worst;
    }
    print_message("largest error: %.2f codes\n", worst);
    assert_true(worst <= 1.7);
    struct dia_rgb low = dia_rgb_kelvin(100), least = dia_rgb_kelvin(1667);
    assert_memory_equal(&low, &least, sizeof low);
}

int main(void)
{
    const struct CMUnitTest tests[] = {
        cmocka_unit_test(mixes_are_those_of_a_double_reference),
        cmocka_unit_test(a_gradient_goes_through_its_stops),
        cmocka_unit_test(temperatures_are_on_the_locus),
    };
    return cmocka_run_group_tests(tests, NULL, NULL);
}
