/* SPDX-License-Identifier: MIT */
#include <stdio.h>
#include <string.h>

#include <diachrome/noise.h>
#include <diachrome/signal_text.h>

#include "host_private.h"
#include "show_private.h"

static const char *const shapes[] = {"sine",     "triangle",    "saw",    "pulse", "steps",
                                     "envelope", "noise",       "linear", "ease",  "ease-in",
                                     "ease-out", "ease-in-out", NULL};
static const uint8_t kinds[] = {DIA_SIGNAL_SINE,  DIA_SIGNAL_TRIANGLE, DIA_SIGNAL_SAW,
                                DIA_SIGNAL_PULSE, DIA_SIGNAL_STEPS,    DIA_SIGNAL_ENVELOPE,
                                DIA_SIGNAL_NOISE, DIA_SIGNAL_EASE,     DIA_SIGNAL_EASE,
                                DIA_SIGNAL_EASE,  DIA_SIGNAL_EASE,     DIA_SIGNAL_EASE};
#define FIRST_EASE 7

/* What each takes. */
static const struct key {
    const char *word;
    enum dia_quantity quantity;
    int64_t min, max;
    unsigned of; /* bit k: kind k takes it */
} keys[] = {
    {"period", DIA_TIME, 1, 86400000, ~(1u << DIA_SIGNAL_ENVELOPE)},
    {"duty", DIA_PERCENT, 0, 1000000, 1u << DIA_SIGNAL_PULSE},
    {"n", DIA_NUMBER, 1, 255, 1u << DIA_SIGNAL_STEPS},
    {"octaves", DIA_NUMBER, 1, 8, 1u << DIA_SIGNAL_NOISE},
    {"seed", DIA_NUMBER, 0, INT32_MAX, 1u << DIA_SIGNAL_NOISE},
    {"attack", DIA_TIME, 0, 86400000, 1u << DIA_SIGNAL_ENVELOPE},
    {"hold", DIA_TIME, 0, 86400000, 1u << DIA_SIGNAL_ENVELOPE},
    {"release", DIA_TIME, 0, 86400000, 1u << DIA_SIGNAL_ENVELOPE},
};
#define KEYS (sizeof keys / sizeof keys[0])

static void take(struct dia_signal *signal, size_t key, int64_t value)
{
    switch (key) {
    case 0:
        signal->period_ms = (uint32_t)value;
        break;
    case 1:
        signal->duty = (dia_share)((value * DIA_SHARE_ONE + 500000) / 1000000);
        break;
    case 2:
        signal->n = (uint8_t)value;
        break;
    case 3:
        signal->octaves = (uint8_t)value;
        break;
    case 4:
        signal->seed = (uint32_t)value;
        break;
    case 5:
        signal->attack_ms = (uint32_t)value;
        break;
    case 6:
        signal->hold_ms = (uint32_t)value;
        break;
    default:
        signal->release_ms = (uint32_t)value;
        break;
    }
}

static enum dia_status read_setting(struct dia_signal *signal, const char *shape, char *word,
                                    struct dia_diagnostic *wrong)
{
    const char *known[KEYS + 1] = {NULL};
    size_t n = 0, numbers[KEYS];
    uint8_t which;
    int64_t value;
    char *equals = strchr(word, '=');
    for (size_t k = 0; k < KEYS; k++) {
        if (keys[k].of >> signal->kind & 1u) {
            numbers[n] = k;
            known[n++] = keys[k].word;
        }
    }
    if (!equals)
        return dia_host_wrong(wrong, "'%.40s' sets nothing; write KEY=VALUE, such as %s=...", word,
                              known[0]);
    *equals = 0;
    enum dia_status status = dia_show_parameter(shape, word, known, &which, wrong);
    if (status != DIA_OK)
        return status;
    const struct key *key = &keys[numbers[which]];
    status =
        dia_show_amount(key->word, equals + 1, key->quantity, key->min, key->max, &value, wrong);
    if (status == DIA_OK)
        take(signal, numbers[which], value);
    return status;
}

enum dia_status dia_signal_read(const char *text, struct dia_signal *signal,
                                struct dia_diagnostic *wrong)
{
    static const struct dia_ease *const eases[] = {&dia_ease_linear, &dia_ease_ease, &dia_ease_in,
                                                   &dia_ease_out, &dia_ease_in_out};
    struct dia_signal read = {.period_ms = 1000, .duty = DIA_SHARE_ONE / 2, .n = 4, .octaves = 1};
    char shape[SHOW_WORD], inside[SHOW_WORD], word[SHOW_WORD];
    const char *at = inside;
    uint8_t number = 0;
    enum dia_status status = dia_show_brackets(text, "sine(period=3s)", shape, inside, wrong);
    if (status == DIA_OK)
        status = dia_show_choose("a signal", shape, shapes, &number, wrong);
    read.kind = kinds[number];
    read.ease = number >= FIRST_EASE ? eases[number - FIRST_EASE] : NULL;
    while (status == DIA_OK && dia_show_word(&at, word))
        status = read_setting(&read, shape, word, wrong);
    if (status == DIA_OK)
        *signal = read;
    return status;
}

uint16_t dia_signal_at(const struct dia_signal *signal, uint32_t ms)
{
    dia_phase phase = dia_phase_at(ms, signal->period_ms);
    switch (signal->kind) {
    case DIA_SIGNAL_SINE:
        return dia_signal_sine(phase);
    case DIA_SIGNAL_TRIANGLE:
        return dia_signal_triangle(phase);
    case DIA_SIGNAL_SAW:
        return dia_signal_saw(phase);
    case DIA_SIGNAL_PULSE:
        return dia_signal_pulse(phase, signal->duty);
    case DIA_SIGNAL_STEPS:
        return dia_signal_steps(phase, signal->n);
    case DIA_SIGNAL_EASE:
        return dia_ease_run(signal->ease, (uint16_t)(phase >> 16));
    case DIA_SIGNAL_ENVELOPE:
        return dia_envelope(ms, signal->attack_ms, signal->hold_ms, signal->release_ms);
    default:
        return dia_noise_octaves((uint32_t)((uint64_t)ms * 65536u / signal->period_ms), 0, 0,
                                 signal->octaves, signal->seed);
    }
}
