/* SPDX-License-Identifier: MIT */
#ifndef DIA_TESTS_WITNESS_H
#define DIA_TESTS_WITNESS_H

#include <pthread.h>
#include <stdatomic.h>

#include "../quiet.h"

/* Keeps the same time as the light, beside it, with nothing to do: frames of 20 ms that it misses
 * were missed by the machine, which shared machines do for seconds together. */
static struct {
    pthread_t thread;
    atomic_int is_over;
    int was_quiet;
    unsigned missed; /* when it is over */
} witness;

static inline void *witness_rests(void *unused)
{
    (void)unused;
    const double frame_s = 0.02, begin = seconds();
    for (unsigned k = 1; !witness.is_over; k++) {
        double left = begin + k * frame_s - seconds();
        struct timespec rest = {0, left > 0 ? (long)(left * 1e9) : 0};
        nanosleep(&rest, NULL);
        unsigned newest = (unsigned)((seconds() - begin) / frame_s);
        if (newest > k) {
            witness.missed += newest - k;
            k = newest;
        }
    }
    return NULL;
}

static inline void quiet_begins(void)
{
    witness.is_over = 0;
    witness.missed = 0;
    witness.was_quiet = is_quiet();
    assert_int_equal(pthread_create(&witness.thread, NULL, witness_rests, NULL), 0);
}

/* Whether the machine was quiet from quiet_begins on. */
static inline int quiet_ends(void)
{
    witness.is_over = 1;
    pthread_join(witness.thread, NULL);
    if (witness.missed)
        print_message("this machine stood still for %u frames\n", witness.missed);
    return witness.was_quiet && !witness.missed && is_quiet();
}

#endif
