/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_EDGE_H
#define DIACHROME_EDGE_H

#include <stdint.h>

#include "linkage.h"
#include "pin.h"

DIA_BEGIN

/* A pin that changes: all that goes from the simulated port to the bench and to a trace. */
struct dia_edge {
    uint64_t t_ns; /* since the simulation began */
    uint8_t pin;
    uint8_t level;  /* from now on: 0 or 1 */
    uint8_t let_go; /* 1: the controller has let the pin go; a pull-up or the other end sets it */
};

/* Takes n edges, those of one pin in the order of time. The edges are the giver's. */
typedef void dia_edge_listener(void *self, const struct dia_edge *edges, uint32_t n);

/*
 * Bytes that go out one after the other, most significant bit first, with bits that all have the
 * same shape: what hundreds of edges would say. Times in 1/1024 ns since the simulation began.
 *
 * Pulses: each bit is high for high[its value], then low for low[its value]. With a clock: each bit
 * is set on the pin, the clock rises low[0] later and falls high[0] after that.
 */
struct dia_burst {
    const uint8_t *bytes; /* the giver's */
    uint32_t n;           /* 1 or more */
    uint8_t pin;
    uint8_t clock_pin; /* DIA_NO_PIN: pulses */
    uint8_t lines;    /* 0: bits, highest first; else a byte is on so many pins at once, from pin */
    uint64_t at, end; /* where the first bit begins and the last one ends */
    uint64_t high[2], low[2];
};

/* Takes a burst: 1. Or will have its edges, which come then: 0. */
typedef int dia_burst_listener(void *self, const struct dia_burst *burst);

DIA_END

#endif
