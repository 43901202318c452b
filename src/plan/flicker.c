/* SPDX-License-Identifier: MIT */
#include <math.h>
#include <stddef.h>
#include <string.h>

#include <diachrome/flicker.h>

uint32_t dia_flicker_low_risk_permille(uint32_t mhz)
{
    if (mhz >= 1250000)
        return 1000;
    return mhz < 90000 ? mhz / 4000 : mhz / 1250;
}

static uint32_t no_effect_permille(uint32_t mhz)
{
    if (mhz >= 3000000)
        return 1000;
    return mhz < 90000 ? mhz / 10000 : mhz / 3000;
}

enum dia_flicker_class dia_flicker_class(uint32_t mhz, uint32_t modulation_permille)
{
    if (modulation_permille <= no_effect_permille(mhz))
        return DIA_FLICKER_NO_EFFECT;
    return modulation_permille <= dia_flicker_low_risk_permille(mhz) ? DIA_FLICKER_LOW_RISK
                                                                     : DIA_FLICKER_ABOVE;
}

const char *dia_flicker_class_text(enum dia_flicker_class risk)
{
    return risk == DIA_FLICKER_NO_EFFECT  ? "no effect"
           : risk == DIA_FLICKER_LOW_RISK ? "low risk"
                                          : "above low risk";
}

uint32_t dia_flicker_dithering_permille(uint32_t step)
{
    return 1000u / (2u * step + 1u); /* step and step + 1 in turns */
}

/* Older sheets say 400 Hz, that of the V5 2 kHz; of parts after it and of others what is usual. */
const struct dia_flicker_part *dia_flicker_part(const char *part)
{
    static const struct dia_flicker_part parts[] = {
        {"WS2811-slow", 400000, 0, "WS2811 sheet: 400 Hz"},
        {"WS2811-fast", 400000, 0, "WS2811 sheet: 400 Hz"},
        {"WS2812", 400000, 0, "WS2812 sheet: 400 Hz"},
        {"WS2812B", 400000, 0, "WS2812B sheet (first): 400 Hz"},
        {"WS2812B-V5", 2000000, 0, "WS2812B-V5 sheet: 2 kHz"},
        {"WS2813", 2000000, 0, "usual, as WS2812B-V5: 2 kHz"},
        {"WS2815", 2000000, 0, "usual, as WS2812B-V5: 2 kHz"},
        {"SK6812", 1200000, 0, "usual: 1.2 kHz"},
        {"SK6812-RGBW", 1200000, 0, "usual: 1.2 kHz"},
        {"APA102", 19000000, 580000, "usual: 19 kHz, level 580 Hz"},
        {"SK9822", 4700000, 0, "usual: 4.7 kHz"},
    };
    for (size_t i = 0; i < sizeof parts / sizeof parts[0]; i++) {
        if (strcmp(parts[i].part, part) == 0)
            return &parts[i];
    }
    return NULL;
}

const uint32_t dia_camera_shutters_us[] = {41667, 40000, 33333, 20833, 20000, 16667, 10000,
                                           8333,  8000,  4000,  2000,  1000,  0};
const uint16_t dia_camera_shutters[] = {24, 25, 30, 48, 50, 60, 100, 120, 125, 250, 500, 1000, 0};

/*
 * A shutter is so many whole periods and a rest. With light for a part of the period the rest meets
 * between the most and the least of it that it can; the whole periods give the same to all rows.
 */
uint32_t dia_camera_bands_permille(uint32_t mhz, uint32_t duty_permille, uint32_t shutter_us)
{
    double periods = (double)mhz * shutter_us / 1e9, rest = periods - floor(periods);
    double duty = duty_permille / 1000.0;
    if (rest < 0.005 || rest > 0.995) /* shutters are good to a hundredth of a period or so */
        return 0;
    if (duty_permille == 0)
        duty = rest < 1 - rest ? rest : 1 - rest;
    double most = rest < duty ? rest : duty, least = rest - (1 - duty);
    double bands = (most - (least > 0 ? least : 0)) / (periods * duty) * 1000;
    return bands > 4e6 ? 4000000u : (uint32_t)(bands + 0.5);
}

/* Of the light from the beginning of period 0 to a time, in periods. */
static double light_until(double periods, double duty)
{
    double whole = floor(periods), rest = periods - whole;
    return whole * duty + (rest < duty ? rest : duty);
}

double dia_camera_share(double hz, double duty, double phase, double from_s, double shutter_s)
{
    double from = from_s * hz - phase, to = from + shutter_s * hz;
    if (duty <= 0 || shutter_s <= 0)
        return 1;
    return (light_until(to, duty) - light_until(from, duty)) / (duty * (to - from));
}
