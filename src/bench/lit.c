/* SPDX-License-Identifier: MIT */
#include <stdlib.h>

#include "lit.h"

int dia_lit_init(struct lit *lit, uint32_t count)
{
    lit->count = count;
    lit->on = calloc(count, sizeof *lit->on);
    lit->since = calloc(count, sizeof *lit->since);
    lit->lasted = calloc(count, sizeof *lit->lasted);
    return lit->on && lit->since && lit->lasted ? 0 : -1;
}

void dia_lit_free(struct lit *lit)
{
    free(lit->on);
    free(lit->since);
    free(lit->lasted);
}

void dia_lit_set(struct lit *lit, uint32_t lamp, uint16_t on, uint64_t t)
{
    if (lit->on[lamp] == on)
        return;
    if (lit->on[lamp] && t > lit->since[lamp])
        lit->lasted[lamp] += (t - lit->since[lamp]) * lit->on[lamp];
    lit->on[lamp] = on;
    lit->since[lamp] = t;
}

void dia_lit_expose(struct lit *lit, uint64_t t)
{
    lit->from = t;
    for (uint32_t i = 0; i < lit->count; i++) {
        lit->since[i] = t;
        lit->lasted[i] = 0;
    }
}

void dia_lit_settle(const struct lit *lit, uint64_t t, uint32_t lamp_ua,
                    struct dia_lamps_shown *shown)
{
    uint64_t length = (t - lit->from) * LIT_FULL, sum = 0;
    for (uint32_t i = 0; i < lit->count; i++) {
        uint64_t ns = lit->lasted[i] + (t - lit->since[i]) * lit->on[i];
        shown->level[i] = (uint16_t)(length       ? (ns * 65535 + length / 2) / length
                                     : lit->on[i] ? 65535u
                                                  : 0u);
        sum += shown->level[i];
    }
    shown->draws_ua = (sum * lamp_ua + 65534) / 65535;
}
