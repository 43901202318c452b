/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <diachrome/diachrome.h>

/* One pair of colours mixed in two ways, a gradient with stops, and warm and cold white. */
static void say(const char *what, struct dia_rgb c)
{
    printf("%-22s #%02x%02x%02x\n", what, c.r, c.g, c.b);
}

int main(void)
{
    static const struct dia_rgb red = {255, 0, 0}, green = {0, 255, 0};
    static const struct dia_stop ends[] = {{0, {255, 0, 0}}, {65535, {0, 255, 0}}};
    static const struct dia_stop dusk[] = {
        {0, {16, 16, 64}}, {49152, {192, 64, 32}}, {65535, {255, 224, 160}}};
    struct dia_gradient even, sky;

    say("half way, as light", dia_rgb_mix(red, green, DIA_SHARE_ONE / 2));
    if (dia_gradient_init(&even, DIA_MIX_OKLAB, ends, 2) != DIA_OK)
        return 1;
    say("half way, to the eye", dia_gradient_at(&even, 32768));
    if (dia_gradient_init(&sky, DIA_MIX_LIGHT, dusk, 3) != DIA_OK)
        return 1;
    say("dusk, at its second", dia_gradient_at(&sky, 49152));
    say("a candle", dia_rgb_kelvin(1700));
    say("daylight", dia_rgb_kelvin(6500));
    return 0;
}
