/* SPDX-License-Identifier: MIT */
#include <string.h>

#include "../look/hue_circle.h"
#include <diachrome/config.h>

/* In two loops, so that the first turns into vectors. The circle has a byte more than its hues. */
void dia_hue_run(const struct dia_ramp *ramp, uint32_t first, uint32_t n, struct dia_rgb *out)
{
    uint32_t phases[DIA_RUN];
    uint16_t which[DIA_RUN];
    while (n != 0) {
        uint32_t run = n < DIA_RUN ? n : DIA_RUN;
        dia_ramp_run(ramp, first, run, phases);
        for (uint32_t i = 0; i < run; i++)
            which[i] = (uint16_t)(((phases[i] >> 8) * 75u >> 20) * 3u); /* hue_at, in bytes */
        /* four bytes at once, of which the next hue goes over the last */
        const uint8_t *hues = (const uint8_t *)dia_hue_circle;
        uint8_t *to = (uint8_t *)out;
        for (uint32_t i = 0; i + 1 < run; i++, to += 3)
            memcpy(to, hues + which[i], 4);
        /* cppcheck-suppress [negativeIndex,uninitvar]; a run is 1 or more */
        memcpy(to, hues + which[run - 1], 3);
        first += run;
        out += run;
        n -= run;
    }
}
