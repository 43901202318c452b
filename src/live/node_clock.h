/* SPDX-License-Identifier: MIT */
#ifndef DIA_LIVE_NODE_CLOCK_H
#define DIA_LIVE_NODE_CLOCK_H

#include <stdint.h>

/*
 * The clock that nodes share: that of the system, which NTP or PTP keeps by a daemon of its own.
 * For tests $DIACHROME_CLOCK_ERROR, in ms, is added to it.
 */
void dia_node_clock_begin(void);  /* before the first use, and before there are threads */
uint64_t dia_node_clock_ns(void); /* Unix time */

uint64_t dia_steady_ms(void); /* of a clock that nobody sets */

struct node_clock {
    int is_known;        /* the kernel says how good it is */
    int is_synchronised; /* it follows another clock */
    double error_ms;     /* as the kernel reckons */
};
void dia_node_clock_ask(struct node_clock *clock);

#endif
