/* SPDX-License-Identifier: MIT */
#include <stdlib.h>
#include <sys/timex.h>
#include <time.h>

#include "node_clock.h"

static int64_t error_ns;

void dia_node_clock_begin(void)
{
    const char *error = getenv("DIACHROME_CLOCK_ERROR");
    double ms = error ? strtod(error, NULL) : 0;
    error_ns = ms > -86400e3 && ms < 86400e3 ? (int64_t)(ms * 1e6) : 0;
}

uint64_t dia_node_clock_ns(void)
{
    struct timespec at;
    clock_gettime(CLOCK_REALTIME, &at);
    int64_t ns = (int64_t)at.tv_sec * 1000000000 + at.tv_nsec + error_ns;
    return ns > 0 ? (uint64_t)ns : 0;
}

uint64_t dia_steady_ms(void)
{
    struct timespec at;
    clock_gettime(CLOCK_MONOTONIC, &at);
    return (uint64_t)at.tv_sec * 1000u + (uint64_t)at.tv_nsec / 1000000u;
}

void dia_node_clock_ask(struct node_clock *clock)
{
    struct timex kernel = {.modes = 0};
    int state = adjtimex(&kernel);
    clock->is_known = state >= 0;
    clock->is_synchronised = state >= 0 && state != TIME_ERROR && !(kernel.status & STA_UNSYNC);
    clock->error_ms = state >= 0 ? (double)kernel.esterror / 1e3 : 0;
}
