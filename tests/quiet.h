/* SPDX-License-Identifier: MIT */
#ifndef DIA_TESTS_QUIET_H
#define DIA_TESTS_QUIET_H

#include <stdlib.h>
#include <time.h>

#include "support.h"

static inline double seconds(void)
{
    struct timespec at;
    clock_gettime(CLOCK_MONOTONIC, &at);
    return (double)at.tv_sec + (double)at.tv_nsec / 1e9;
}

static inline void rest_ms(long ms)
{
    struct timespec time = {ms / 1000, ms % 1000 * 1000000};
    nanosleep(&time, NULL);
}

/* Whether this machine does now what it should: short rests end soon, and the same work takes the
 * same time. Bounds of time are judged where it is so before and after; elsewhere only wide ones,
 * and so under a sanitizer of threads (NO_TIMING), which makes all ten times slower. */
static inline int is_quiet(void)
{
    if (getenv("NO_TIMING"))
        return 0;
    double fastest = 1e9, slowest = 0, latest = 0;
    for (int k = 0; k < 60; k++) {
        double begin = seconds();
        rest_ms(1);
        double rested = seconds();
        for (volatile unsigned n = 0; n < 400000; n++) {
        }
        double worked = seconds() - rested;
        latest = rested - begin > latest ? rested - begin : latest;
        fastest = worked < fastest ? worked : fastest;
        slowest = worked > slowest ? worked : slowest;
    }
    int quiet = latest < 0.006 && slowest < 3 * fastest + 0.002;
    if (!quiet)
        print_message("this machine is busy: a rest of 1 ms took %.1f ms, work %.1f to %.1f ms\n",
                      latest * 1e3, fastest * 1e3, slowest * 1e3);
    return quiet;
}

#endif
