/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_EDGE_H
#define DIACHROME_EDGE_H

#include <stdint.h>

#include "linkage.h"

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

DIA_END

#endif
