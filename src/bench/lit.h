/* SPDX-License-Identifier: MIT */
#ifndef DIA_BENCH_LIT_H
#define DIA_BENCH_LIT_H

#include "device.h"

/*
 * Lamps that are switched on and off: how long each was lit since an exposure began, and what an
 * eye makes of it.
 */
#define LIT_FULL 840 /* can be divided by 1 to 8 */

struct lit {
    uint16_t *on;     /* how bright each lamp is now, 0..LIT_FULL */
    uint64_t *since;  /* when it was switched on */
    uint64_t *lasted; /* LIT_FULL times ns lit before that, since the exposure began */
    uint64_t from;    /* when the exposure began */
    uint32_t count;
};

int dia_lit_init(struct lit *lit, uint32_t count); /* 0, or -1 */
void dia_lit_free(struct lit *lit);

/* A lamp is so bright from t. */
void dia_lit_set(struct lit *lit, uint32_t lamp, uint16_t on, uint64_t t);

/* Forgets all light before t. */
void dia_lit_expose(struct lit *lit, uint64_t t);

/* The shares of the time since then, and the current with lamp_ua for each lamp while it is on. */
void dia_lit_settle(const struct lit *lit, uint64_t t, uint32_t lamp_ua,
                    struct dia_lamps_shown *shown);

#endif
