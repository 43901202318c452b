/* SPDX-License-Identifier: MIT */
#include <inttypes.h>
#include <stdio.h>
#include <string.h>

#include "waveform_words.h"

char *dia_waveform_time(char text[40], double ns)
{
    if (ns < 1000)
        snprintf(text, 40, "%.4g ns", ns);
    else if (ns < 1e6)
        snprintf(text, 40, "%.5g us", ns / 1e3);
    else
        snprintf(text, 40, "%.6g ms", ns / 1e6);
    return text;
}

void dia_waveform_statistics(const struct dia_waveform_pulses *p, char *text, size_t size)
{
    int n = snprintf(text, size, "%" PRIu64 " of %" PRIu32 " to %" PRIu32 " ns, mean %.1f",
                     p->count, p->least, p->most, (double)p->sum / (double)p->count);
    if (p->may_most != UINT32_MAX)
        n += snprintf(text + n, size - (size_t)n, "; %" PRIu32 " to %" PRIu32 " ns", p->may_least,
                      p->may_most);
    else if (p->may_least)
        n += snprintf(text + n, size - (size_t)n, "; %" PRIu32 " ns or more", p->may_least);
    else
        return;
    if (p->outside)
        snprintf(text + n, size - (size_t)n, ": %" PRIu64 " outside", p->outside);
    else
        snprintf(text + n, size - (size_t)n, ": all inside");
}

/* Of the wire that has the pulses: the only one, or the clock. */
int dia_waveform_first(const struct dia_waveform *wave, char *text, size_t size)
{
    const struct dia_waveform_wire *w = &wave->wires[0];
    for (uint32_t i = 0; i + 2 < w->count; i++) {
        const struct dia_waveform_edge *e = &w->edges[i];
        if (!e[0].level || e[1].level || !e[2].level)
            continue;
        double high = (double)(e[1].t_ns - e[0].t_ns), low = (double)(e[2].t_ns - e[1].t_ns);
        double mhz = 1000 / (high + low);
        snprintf(text, size,
                 "first pulse: high %.0f ns, low %.0f ns, period %.0f ns, %.4g %s, duty %.1f %%",
                 high, low, high + low, mhz < 1 ? mhz * 1e3 : mhz, mhz < 1 ? "kHz" : "MHz",
                 100 * high / (high + low));
        return 1;
    }
    return 0;
}
