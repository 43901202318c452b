/* SPDX-License-Identifier: MIT */
/* proof: small large: -eva-precision 2 */
#include "proof.h"

/* What goes on in time: frames, keys, cues, layers and waves, at any time of a clock that wraps. */

static void pace(void)
{
    struct dia_pace pace;
    dia_pace_init(&pace, (uint32_t)any(1, 65535), (uint32_t)any(1, 4000));
    dia_pace_start(&pace, any_number());
    for (int k = 0; k < 3; k++) {
        dia_pace_due(&pace, any_number());
        dia_pace_next_us(&pace);
        dia_pace_speed(&pace, (uint32_t)any(0, 4096));
        dia_pace_pause(&pace, (uint8_t)any(0, 1));
        dia_pace_step(&pace);
        dia_pace_seek(&pace, any_number());
    }
}

static void keys(void)
{
    struct dia_keys keys;
    struct dia_key_event event;
    dia_keys_init(&keys);
    keys.bounce_ms = (uint16_t)any(0, UINT16_MAX);
    keys.double_ms = (uint16_t)any(0, UINT16_MAX);
    keys.long_ms = (uint16_t)any(0, UINT16_MAX);
    keys.repeat_ms = (uint16_t)any(0, UINT16_MAX);
    for (int k = 0; k < 3; k++) {
        dia_keys_feed(&keys, any_number(), (uint8_t)any(0, 255));
        while (dia_keys_next(&keys, &event)) {
        }
    }
}

/* A look that may ask for anything, and draws anything. */
static void anything(const void *values, const struct dia_surface *surface, uint32_t ms,
                     uint32_t first, uint32_t n, struct dia_rgb *out)
{
    (void)values;
    (void)surface;
    (void)ms;
    (void)first;
    for (uint32_t i = 0; i < n; i++)
        out[i] = any_colour();
}

static struct dia_surface line;
static struct dia_wave mask;

static struct dia_layer any_layer(uint32_t first)
{
    struct dia_layer layer;
    dia_layer_init(&layer, &line, anything, NULL);
    layer.first = first;
    layer.level = any_share();
    layer.blend = (uint8_t)any(DIA_BLEND_OVER, DIA_BLEND_DARKEN);
    layer.mask = any(0, 1) ? &mask : NULL;
    layer.start_ms = any_number();
    layer.ahead_ms = any_number();
    layer.length_ms = any_number();
    layer.fade_in_ms = any_number();
    layer.fade_out_ms = any_number();
    return layer;
}

static void wave(void)
{
    static uint16_t levels[5];
    struct dia_surface way = any_way();
    dia_wave_run(&mask, &way, any_number(), (uint32_t)any(0, 100), 5, levels);
}

static void layers(void)
{
    static struct dia_rgb out[12];
    struct dia_layer two[2] = {any_layer(0), any_layer(5)};
    struct dia_stack stack = {two, 2};
    dia_layers_settle(two, 2, any_number());
    dia_stack_render(&stack, any_number(), 0, 12, out);
    dia_stack_cross(&stack, &stack, any_share(), any_number(), 3, 7, out);
}

static void cues(void)
{
    static int32_t number;
    static struct dia_rgb colour;
    static struct dia_cue both[2];
    static struct dia_knob knobs[2] = {{.field = &number}, {.field = &colour, .is_colour = 1}};
    static struct dia_cued states[2];
    struct dia_layer two[2] = {any_layer(0), any_layer(0)}, now[2];
    struct dia_cues cues = {both, 2, two, states, 2, knobs, 2};
    number = any(INT32_MIN, INT32_MAX);
    knobs[0].min = any(INT32_MIN, 0);
    knobs[0].max = any(0, INT32_MAX);
    for (int k = 0; k < 2; k++) {
        both[k].key = (uint8_t)any(0, DIA_KEYS - 1);
        both[k].kind = (uint8_t)any(DIA_KEY_DOWN, DIA_KEY_REPEAT);
        both[k].act = (uint8_t)any(DIA_ACT_START, DIA_ACT_ADD);
        both[k].knob = (uint8_t)k;
        both[k].layers = any_number();
        both[k].value = both[k].act == DIA_ACT_PACE ? any(-4096, 4096) : any(INT32_MIN, INT32_MAX);
        both[k].over_ms =
            both[k].act == DIA_ACT_PACE ? (uint32_t)any(0, 600000) : (uint32_t)any(0, 86400000);
    }
    dia_cues_init(&cues);
    dia_cues_begin(&cues);
    for (int k = 0; k < 3; k++) {
        struct dia_key_event event = {any_number(), (uint8_t)any(0, DIA_KEYS - 1),
                                      (uint8_t)any(DIA_KEY_DOWN, DIA_KEY_REPEAT),
                                      (uint8_t)any(0, 255)};
        dia_cues_take(&cues, &event);
        dia_cues_apply(&cues, any_number(), now);
    }
}

int main(void)
{
    dia_wave_init(&mask);
    mask.shape = (uint8_t)any(DIA_WAVE_SINE, DIA_WAVE_PULSE);
    mask.axis = (uint8_t)any(DIA_ALONG, DIA_INDEX);
    mask.length_um = any(0, INT32_MAX);
    mask.speed_um_s = any(-1000000000, 1000000000);
    mask.period_ms = any_number();
    mask.duty = any_share();
    mask.low = any_share();
    if (dia_surface_line(&line, 9, 0, 1000) != DIA_OK)
        return 1;
    pace();
    keys();
    wave();
    layers();
    cues();
    return 0;
}
