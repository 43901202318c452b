/* SPDX-License-Identifier: MIT */
#include <stdio.h>

#include <diachrome/diachrome.h>

/* Key 0, pressed shortly, begins a light or ends it; key 1, held, makes it red and faster. */
#define COUNT 20

/* Which keys are closed: on a controller, what the pins or a panel say. */
static uint8_t closed(uint32_t ms)
{
    return (uint8_t)((ms >= 500 && ms < 600) | (ms >= 1500 && ms < 2500) << 1);
}

int main(void)
{
    struct dia_surface line;
    struct dia_pulse pulse;
    struct dia_layer layers[1], now[1];
    struct dia_cued states[1];
    struct dia_knob knobs[] = {{.field = &pulse.colour, .is_colour = 1}};
    static const struct dia_cue cues[] = {
        {.key = 0, .kind = DIA_KEY_SHORT, .act = DIA_ACT_TOGGLE, .layers = 1},
        {.key = 1,
         .kind = DIA_KEY_LONG,
         .act = DIA_ACT_PACE,
         .layers = 1,
         .value = 768,
         .over_ms = 500},
        {.key = 1,
         .kind = DIA_KEY_LONG,
         .act = DIA_ACT_SET,
         .knob = 0,
         .value = 0xff0000,
         .over_ms = 500},
    };
    struct dia_cues play = {cues, 3, layers, states, 1, knobs, 1};
    struct dia_stack stack = {now, 1};
    struct dia_keys keys;
    struct dia_key_event event;
    struct dia_rgb pixels[COUNT];

    if (dia_surface_line(&line, COUNT, 0, 10000) != DIA_OK)
        return 1;
    dia_pulse_defaults(&pulse);
    pulse.speed_um_s = 50000;
    dia_layer_init(&layers[0], &line, dia_look_pulse.render, &pulse);
    dia_keys_init(&keys);
    dia_cues_init(&play);
    for (uint32_t ms = 0; ms <= 3500; ms += 10) {
        dia_keys_feed(&keys, ms, closed(ms));
        while (dia_keys_next(&keys, &event))
            dia_cues_take(&play, &event);
        dia_cues_apply(&play, ms, now);
        dia_stack_render(&stack, ms, 0, COUNT, pixels);
        if (ms % 500)
            continue;
        printf("%4u ms, green %3u ", (unsigned)ms, pulse.colour.g);
        for (int i = 0; i < COUNT; i++)
            putchar(" .:-=+*#%@"[dia_lamp_of(pixels[i]) * 9 / 255]);
        putchar('\n');
    }
    return 0;
}
