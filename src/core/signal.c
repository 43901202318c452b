/* SPDX-License-Identifier: MIT */
#include <diachrome/signal.h>

#include "sine.h"

/* Up to here the rate is rounded up, so that nothing comes a millisecond late. */
#define LONG_MS 0x400000u

dia_phase dia_phase_at(uint32_t ms, uint32_t period_ms)
{
    uint32_t rate = UINT32_MAX / period_ms, rest = UINT32_MAX % period_ms;
    if (period_ms < LONG_MS || rest >= period_ms / 2)
        rate++;
    return ms * rate;
}

uint16_t dia_signal_sine(dia_phase phase)
{
    return sine_of(phase);
}

uint16_t dia_signal_triangle(dia_phase phase)
{
    return (uint16_t)((phase >> 31 ? ~phase : phase) >> 15);
}

uint16_t dia_signal_steps(dia_phase phase, uint8_t n)
{
    uint16_t step = (uint16_t)((phase >> 16) * n >> 16);
    return n < 2 ? 0 : (uint16_t)(step * 65535ul / (n - 1u));
}

/* CSS Easing Functions 1: ease, ease-in, ease-out, ease-in-out; in 32768ths. */
const DIA_ROM struct dia_ease dia_ease_linear = {0, 0, 32768, 32768};
const DIA_ROM struct dia_ease dia_ease_ease = {8192, 3277, 8192, 32768};
const DIA_ROM struct dia_ease dia_ease_in = {13763, 0, 32768, 32768};
const DIA_ROM struct dia_ease dia_ease_out = {0, 0, 19005, 32768};
const DIA_ROM struct dia_ease dia_ease_in_out = {13763, 0, 19005, 32768};

/* One coordinate of the curve at t: 3 (1-t)^2 t a + 3 (1-t) t^2 b + t^3, all of 65536. */
static uint32_t bezier(uint32_t t, dia_share a, dia_share b)
{
    uint32_t u = 65536u - t;
    uint32_t tt = (t >> 1) * t >> 15, uu = (u >> 1) * u >> 15; /* t may be 65536 */
    uint32_t uut = (uu >> 1) * t >> 15, utt = (tt >> 1) * u >> 15, ttt = (tt >> 1) * t >> 15;
    return (uut * 3u >> 1) * (a >> 1) / 8192u + (utt * 3u >> 1) * (b >> 1) / 8192u + ttt;
}

/* The time along the curve is not its parameter: that is looked for by halving. */
uint16_t dia_ease_run(const DIA_ROM struct dia_ease *ease, uint16_t part)
{
    uint32_t t = 0;
    if (part == 65535u)
        return 65535u;
    for (uint32_t bit = 32768; bit != 0; bit >>= 1) {
        if (bezier(t | bit, ease->x1, ease->x2) <= part)
            t |= bit;
    }
    uint32_t level = bezier(t, ease->y1, ease->y2);
    return level > 65535u ? 65535u : (uint16_t)level;
}

static uint16_t share_of(uint32_t ms, uint32_t all_ms)
{
    while (ms > 65535u) { /* so that 65535 * ms fits 32 bits; both alike */
        ms >>= 1;
        all_ms >>= 1;
    }
    return (uint16_t)(ms * 65535u / all_ms);
}

uint16_t dia_envelope(uint32_t ms, uint32_t attack_ms, uint32_t hold_ms, uint32_t release_ms)
{
    if (ms < attack_ms)
        return share_of(ms, attack_ms);
    ms -= attack_ms;
    if (ms < hold_ms)
        return 65535u;
    ms -= hold_ms;
    return ms < release_ms ? (uint16_t)(65535u - share_of(ms, release_ms)) : 0;
}
