/* SPDX-License-Identifier: MIT */
/* proof: small large: -eva-precision 2 */
#include "proof.h"

/* Colours, light, signals, noise, the limiter, and all that makes drive bytes of colours. */

static void gradient(enum dia_mix mix, uint8_t count)
{
    static struct dia_stop stops[DIA_GRADIENT_MAX];
    struct dia_gradient gradient;
    struct dia_palette palette;
    ANY(stops);
    if (dia_gradient_init(&gradient, mix, stops, count) != DIA_OK)
        return;
    dia_gradient_at(&gradient, (uint16_t)any(0, UINT16_MAX));
    dia_palette_of(&palette, &gradient);
}

static void palette(uint8_t count, uint8_t placed)
{
    static struct dia_palette palette;
    ANY(palette.colours);
    palette.count = count;
    palette.placed = placed;
    palette.places[0] = (uint16_t)any(0, 20000);
    palette.places[1] = (uint16_t)any(20001, 40000);
    palette.places[2] = (uint16_t)any(40001, UINT16_MAX);
    dia_palette_at(&palette, (uint16_t)any(0, UINT16_MAX));
}

static void mixtures(void)
{
    dia_light_of((uint8_t)any(0, 255));
    dia_code_of((dia_light)any(0, UINT16_MAX));
    dia_rgb_mix(any_colour(), any_colour(), any_share());
    dia_rgb_kelvin(any_number());
    gradient(DIA_MIX_LIGHT, 0);
    gradient(DIA_MIX_LIGHT, 2);
    gradient(DIA_MIX_OKLAB, 1);
    gradient(DIA_MIX_OKLAB, 3);
    gradient(DIA_MIX_OKLAB, DIA_GRADIENT_MAX + 1);
    palette(1, 0);
    palette(3, 0);
    palette(DIA_PALETTE_MAX, 0);
    palette(3, 1);
}

static void signals(void)
{
    struct dia_ease ease = {any_share(), any_share(), any_share(), any_share()};
    dia_phase phase = dia_phase_at(any_number(), (uint32_t)any(1, INT32_MAX));
    dia_phase_at(any_number(), 1u + (any_number() >> 1));
    phase = any_number();
    dia_signal_sine(phase);
    dia_signal_triangle(phase);
    dia_signal_saw(phase);
    dia_signal_pulse(phase, any_share());
    dia_signal_steps(phase, (uint8_t)any(1, 255));
    dia_phase_there_and_back(phase);
    dia_ease_run(&ease, (uint16_t)any(0, UINT16_MAX));
    dia_envelope(any_number(), any_number(), any_number(), any_number());
    dia_noise(any_number(), any_number(), any_number(), any_number());
    for (uint8_t octaves = 0; octaves <= 8; octaves++)
        dia_noise_octaves(any_number(), any_number(), any_number(), octaves, any_number());
    dia_random(any_number(), any_number(), any_number());
}

static void lamps(void)
{
    static uint8_t levels[MOST], steps[MOST], digits[8];
    uint32_t wide[8];
    char text[12];
    ANY(levels);
    ANY(text);
    text[11] = 0;
    dia_lamp_of(any_colour());
    dia_lamps_develop(levels, MOST, any_share(), (uint8_t)any(1, 8), steps);
    dia_segments_of(text[0]);
    dia_segments_text(text, digits, 8);
    dia_segments14_of(text[0]);
    dia_segments16_of(text[0]);
    dia_segments14_text(text, wide, 8);
    dia_segments16_text(text, wide, 8);
}

static void shares(void)
{
    dia_share white[4];
    uint32_t seen[3] = {any_number(), any_number(), any_number()};
    dia_share_of(any_share(), any_share());
    dia_percent_of(dia_share_percent((uint8_t)any(0, 255)));
    dia_white_measured(white, seen);
    dia_status_text((enum dia_status)any(DIA_OK, DIA_PORT_FAILED));
    dia_version();
}

/* Every kind of part, with any limiter: first one pixel, then some. */
static void drives(void)
{
    static const struct dia_channels *const kinds[] = {&dia_channels_rgb,   &dia_channels_rgb_table,
                                                       &dia_channels_rgbw,  &dia_channels_series,
                                                       &dia_channels_level, &dia_channels_seven};
    static struct dia_rgb pixels[MOST];
    static uint8_t out[4u * MOST];
    static uint16_t curve[256], table[256];
    const struct dia_frame frame = {pixels, MOST};
    dia_frame_fill(&frame, any_colour());
    if (dia_curve_gamma(curve, (uint16_t)any(0, UINT16_MAX)) != DIA_OK)
        return;
    for (int i = 0; i < 256; i++)
        curve[i] = (uint16_t)any(0, 65280);
    for (unsigned k = 0; k < sizeof kinds / sizeof kinds[0]; k++) {
        const struct dia_order order = {{1, 0, 2, 3}};
        struct dia_power power;
        struct dia_develop develop;
        struct dia_budget budget;
        struct dia_carry carry;
        ANY(power);
        dia_develop_init(&develop, kinds[k]);
        dia_develop_order(&develop, order);
        develop.curve = any(0, 1) ? curve : dia_curve_straight;
        for (int i = 0; i < 4; i++)
            develop.white[i] = any_share();
        develop.master = any_share();
        develop.time_from = (uint8_t)any(0, 255);
        develop.mark = (uint8_t)any(0, 255);
        dia_develop_begin(&develop, any_number());
        dia_budget_init(&budget, any_number(), any_number());
        dia_budget_add(&budget, &develop, &power, pixels, MOST);
        dia_budget_asked_ua(&budget);
        dia_develop_limit(&develop, dia_budget_share(&budget));
        if (any(0, 1))
            dia_develop_prepare(&develop, table);
        dia_develop_choose(&develop, any_number(), pixels, MOST);
        if (dia_develop_whole(&develop, table) == DIA_OK)
            dia_develop_run_whole(&develop, pixels, MOST, out);
        dia_carry_begin(&carry, &develop);
        dia_develop_run(&develop, &carry, pixels, MOST, out);
    }
}

int main(void)
{
    mixtures();
    signals();
    lamps();
    shares();
    drives();
    return 0;
}
