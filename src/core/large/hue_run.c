/* SPDX-License-Identifier: MIT */
#include <string.h>

#include "../look/hue_circle.h"
#include <diachrome/config.h>

/* Three times hue_at: where the hue stands in the bytes of the circle. */
static inline uint32_t byte_at(dia_phase phase)
{
    return ((phase >> 8) * 75u >> 20) * 3u;
}

/* Four bytes at once, of which the next hue goes over the last. The circle has a byte more than
 * its hues. */
static inline void put_hues(const uint32_t *which, uint32_t n, uint8_t *to)
{
    const uint8_t *hues = (const uint8_t *)dia_hue_circle;
    for (uint32_t i = 0; i < n; i++)
        memcpy(to + 3 * i, hues + which[i], 4);
}

/* Two loops of a length that is known: the first turns into vectors, the second is unrolled. */
#define AT_ONCE 64u

static void run_on_line(uint32_t value, uint32_t step, uint8_t *to)
{
    uint32_t which[AT_ONCE];
    for (uint32_t i = 0; i < AT_ONCE; i++) {
        which[i] = byte_at(value);
        value += step;
    }
    for (uint32_t i = 0; i < AT_ONCE; i += 4, to += 12)
        put_hues(which + i, 4, to);
}

/* The last hue has three bytes: nothing is written behind it. */
static void run_on_phases(const uint32_t *phases, uint32_t n, uint8_t *to)
{
    uint32_t which[DIA_RUN];
    for (uint32_t i = 0; i < n; i++)
        which[i] = byte_at(phases[i]);
    put_hues(which, n - 1, to);
    memcpy(to + 3 * (n - 1), (const uint8_t *)dia_hue_circle + which[n - 1], 3);
}

void dia_hue_run(const struct dia_ramp *ramp, uint32_t first, uint32_t n, struct dia_rgb *out)
{
    uint32_t phases[DIA_RUN];
    if (!ramp->surface) {
        for (; n > AT_ONCE; first += AT_ONCE, out += AT_ONCE, n -= AT_ONCE)
            run_on_line(ramp->start + first * ramp->step, ramp->step, (uint8_t *)out);
    }
    while (n != 0) {
        uint32_t run = n < DIA_RUN ? n : DIA_RUN;
        dia_ramp_run(ramp, first, run, phases);
        run_on_phases(phases, run, (uint8_t *)out);
        first += run;
        out += run;
        n -= run;
    }
}
