/* SPDX-License-Identifier: MIT */
#ifndef DIA_TESTS_SUPPORT_H
#define DIA_TESTS_SUPPORT_H

/* cmocka wants these first */
#include <setjmp.h>
#include <stdarg.h>
#include <stddef.h>
#include <stdint.h>

#include <cmocka.h>

/* gcc and clang each have a word of their own for what a program is built with. */
#if defined(__SANITIZE_ADDRESS__)
#define WITH_ADDRESS_SANITIZER
#elif defined(__SANITIZE_THREAD__)
#define WITH_THREAD_SANITIZER
#elif defined(__has_feature)
#if __has_feature(address_sanitizer)
#define WITH_ADDRESS_SANITIZER
#elif __has_feature(thread_sanitizer)
#define WITH_THREAD_SANITIZER
#endif
#endif

/* A repeatable random number, 0 .. below - 1 (below at least 1). */
static inline uint32_t random_below(uint32_t *state, uint32_t below)
{
    *state = *state * 1664525u + 1013904223u;
    return (uint32_t)((uint64_t)(*state >> 4) * below >> 28);
}

#endif
