/* SPDX-License-Identifier: MIT */
#include <math.h>

#include "sampling.h"

#define TELLING    32           /* edges that are needed */
#define COUNTED_NS 10000000000u /* after which moments are no longer known well enough */

static const uint32_t rates_khz[] = {
    500,   1000,  2000,  3000,  4000,  5000,  6000,  8000,  10000, 12000,  12500,  16000, 20000,
    24000, 25000, 32000, 40000, 48000, 50000, 64000, 80000, 96000, 100000, 125000, 200000};
#define RATES (sizeof rates_khz / sizeof rates_khz[0])

void dia_sampling_init(struct sampling *sampling)
{
    *sampling = (struct sampling){(1u << RATES) - 1u, 0, 0};
}

void dia_sampling_take(struct sampling *sampling, uint64_t t_ns)
{
    if (t_ns > COUNTED_NS || (sampling->edges && t_ns == sampling->last_ns))
        return;
    sampling->edges++;
    sampling->last_ns = t_ns;
    for (uint32_t k = 0; k < RATES; k++) {
        if (!(sampling->left >> k & 1u))
            continue;
        double period = 1e6 / rates_khz[k], at = (double)t_ns / period;
        /* moments are rounded, or cut, to whole ns */
        if (fabs(at - floor(at + 0.5)) * period > 1.01)
            sampling->left &= ~(1u << k);
    }
}

uint32_t dia_sampling_khz(const struct sampling *sampling)
{
    for (uint32_t k = 0; k < RATES && sampling->edges >= TELLING; k++) {
        if (sampling->left >> k & 1u)
            return rates_khz[k];
    }
    return 0;
}
