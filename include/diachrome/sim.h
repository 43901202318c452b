/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_SIM_H
#define DIACHROME_SIM_H

#include <stdint.h>

#include "edge.h"
#include "port.h"

/*
 * The simulated port: a controller with a clock of its own, whose pins tell listeners every edge.
 *
 * Time is virtual. It passes when the program asks the port for something (each question takes
 * 1 us, so waiting loops end) and with dia_sim_advance_us. Bytes are read when their turn on the
 * wire comes, as a background transmission would: who changes them early sends the change.
 *
 * SPI: the clock and data pins of a bus are given with dia_sim_spi_pins; without there is none.
 */
#define DIA_SIM_PINS      64
#define DIA_SIM_BUSES     8
#define DIA_SIM_LISTENERS 4
#define DIA_SIM_BATCH     512

/* A transmission on a pin. Times in 1/1024 ns. */
struct dia_sim_pulses {
    const uint8_t *next; /* NULL: none */
    uint32_t left;
    uint64_t at;
    uint64_t high[2], low[2];
};

/* A group of pins set together, and what it sends. Times in 1/1024 ns. */
struct dia_sim_planes {
    const uint8_t *next; /* NULL: nothing */
    uint8_t first_pin, width;
    uint32_t bit;               /* being sent */
    uint32_t ends[16], longest; /* of each pin, and of the longest, in bits */
    uint64_t at, high[2], period;
};

/* A bus, and what it sends. Times in 1/1024 ns. */
struct dia_sim_spi {
    uint8_t clock_pin, data_pin, present;
    const uint8_t *next; /* NULL: nothing */
    uint32_t left;
    uint64_t at, half;
};

struct dia_sim {
    struct dia_port port; /* first: the port the encoders get */
    uint64_t now_ns;
    uint32_t clock_hz; /* pulses are whole cycles of it; 0: as exact as ns */
    uint8_t level[DIA_SIM_PINS];
    struct dia_sim_pulses pulses[DIA_SIM_PINS];
    uint8_t active[DIA_SIM_PINS]; /* pins that send */
    uint8_t active_count;
    struct dia_sim_planes planes; /* one group at a time */
    struct dia_sim_spi spi[DIA_SIM_BUSES];
    uint8_t spi_active; /* buses that send */
    struct {
        dia_edge_listener *take;
        void *self;
    } listeners[DIA_SIM_LISTENERS];
    uint8_t listener_count;
    struct dia_edge batch[DIA_SIM_BATCH];
    uint32_t batched;
};

/* All pins low at time 0. */
void dia_sim_init(struct dia_sim *sim, uint32_t clock_hz);

/* Adds a listener; DIA_UNSUPPORTED when there is no room. */
enum dia_status dia_sim_listen(struct dia_sim *sim, dia_edge_listener *take, void *self);

/* Gives the port an SPI bus on two pins. DIA_BAD_VALUE: no such bus or pins, or both the same. */
enum dia_status dia_sim_spi_pins(struct dia_sim *sim, uint8_t bus, uint8_t clock_pin,
                                 uint8_t data_pin);

/* Lets time pass; listeners have heard every edge up to then. */
void dia_sim_advance_us(struct dia_sim *sim, uint64_t us);

#endif
