/* SPDX-License-Identifier: MIT */
#ifndef DIA_TESTS_SUPPORT_H
#define DIA_TESTS_SUPPORT_H

/* cmocka wants these first */
#include <setjmp.h>
#include <stdarg.h>
#include <stddef.h>
#include <stdint.h>

#include <cmocka.h>

/* A repeatable random number, 0 .. below - 1 (below at least 1). */
static inline uint32_t random_below(uint32_t *state, uint32_t below)
{
    *state = *state * 1664525u + 1013904223u;
    return (uint32_t)((uint64_t)(*state >> 4) * below >> 28);
}

#endif
