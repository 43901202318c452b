/* SPDX-License-Identifier: MIT */
#include <diachrome/diachrome.h>

#include "../../src/host/check/contexts.h"

/* What `diachrome check` counts for the structs of drivers, as this compiler lays them out. */
#ifdef __AVR__
#define IS(name, avr, other) _Static_assert(sizeof(struct dia_##name) == (avr), #name);
#else
#define IS(name, avr, other) _Static_assert(sizeof(struct dia_##name) == (other), #name);
#endif
DIA_CONTEXTS(IS)

int dia_contexts_are_checked; /* a file has something in it */
