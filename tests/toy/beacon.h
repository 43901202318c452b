/* SPDX-License-Identifier: MIT */
#ifndef TESTS_TOY_BEACON_H
#define TESTS_TOY_BEACON_H

#include <diachrome/bench.h>
#include <diachrome/driver.h>

/*
 * A made-up family, to show what one takes: up to four lamps, each on a pin of its own, that are on
 * or off. docs/adding-a-family.md walks through it.
 *
 * Drawing: a byte a lamp; 128 and more is on.
 * Context: main loop. Cost: a pin write for each lamp that changes.
 */
#define BEACON_LAMPS 4

struct beacon {
    struct dia_driver driver;
    uint8_t pins[BEACON_LAMPS];
    uint8_t count; /* private, as all below */
    uint8_t next;  /* lamp to be written next; count: all are */
    uint8_t on[BEACON_LAMPS];
};

/* Dark. drawing has count bytes. DIA_BAD_VALUE: a count of 0 or more than 4, or no such pin. */
enum dia_status beacon_init(struct beacon *beacon, struct dia_port *port, const uint8_t *pins,
                            uint8_t count, uint8_t *drawing);

/* The model: the roles are the lamps, setup->count of them. */
int bench_beacon(struct dia_bench *bench, const struct dia_device_setup *setup);

#endif
