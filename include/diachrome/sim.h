/* SPDX-License-Identifier: MIT */
#ifndef DIACHROME_SIM_H
#define DIACHROME_SIM_H

#include <stdint.h>

#include "edge.h"
#include "linkage.h"
#include "port.h"

DIA_BEGIN

/*
 * The simulated port: a controller with a clock of its own, whose pins tell listeners every edge.
 *
 * Time is virtual. It passes when the program asks the port for something (each question takes
 * 1 us, so waiting loops end) and with dia_sim_advance_us. Bytes are read when their turn on the
 * wire comes, as a background transmission would: who changes them early sends the change.
 *
 * Writing or reading a pin takes two cycles of the controller (100 ns where it has no clock).
 * SPI and I2C: the pins of a bus are given with dia_sim_spi_pins and dia_sim_i2c_pins; without,
 * there is none.
 * Interrupts: dia_sim_timer calls a function at a time, in the middle of whatever the program
 * asks for. A controller that sends pulses itself has none meanwhile: dia_sim_hold.
 *
 * Cost: some steps an edge, or a byte where the only listener takes bursts; 14 KB.
 * Context: one thread at a time for an object; not from an interrupt.
 */
#define DIA_SIM_PINS      64
#define DIA_SIM_BUSES     16
#define DIA_SIM_TIMERS    16
#define DIA_SIM_LISTENERS 4
#define DIA_SIM_ANSWERS   32
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

/* An I2C bus at 100 kHz, and what it sends. */
struct dia_sim_i2c {
    uint8_t scl_pin, sda_pin, present, address, refused;
    const uint8_t *next; /* NULL: nothing */
    uint32_t left;
    uint8_t stage; /* address, bytes, stop */
    uint64_t at_ns;
};

/* A function called at a time; it returns after how many us it wants to be called again, 0 never.
 */
typedef uint32_t dia_sim_timer_run(void *self);
struct dia_sim_timer {
    dia_sim_timer_run *run; /* NULL: none */
    void *self;
    uint64_t due_ns;
    uint64_t latest_ns; /* how late it was called at the worst */
};

struct dia_sim {
    struct dia_port port; /* first: the port the encoders get */
    uint64_t now_ns;
    uint64_t quiet_ns; /* private: nothing goes out, and no timer is due, before */
    uint32_t clock_hz; /* pulses are whole cycles of it; 0: as exact as ns */
    uint8_t level[DIA_SIM_PINS];
    uint8_t let_go[DIA_SIM_PINS];  /* by the controller */
    uint8_t outside[DIA_SIM_PINS]; /* what the other end drives: 0, 1, or 2 for nothing */
    struct dia_sim_pulses pulses[DIA_SIM_PINS];
    uint8_t active[DIA_SIM_PINS]; /* pins that send */
    uint8_t active_count;
    struct dia_sim_planes planes; /* one group at a time */
    struct dia_sim_spi spi[DIA_SIM_BUSES];
    uint8_t spi_active; /* buses that send */
    struct dia_sim_i2c i2c[DIA_SIM_BUSES];
    uint8_t i2c_active; /* I2C buses that send */
    struct dia_sim_timer timers[DIA_SIM_TIMERS];
    uint8_t timer_count, in_timer;
    uint8_t holds;   /* 1: pulses are sent with interrupts off */
    uint32_t missed; /* how often a timer was 1 ms late, and what it had missed was given up */
    struct {
        dia_edge_listener *take;
        dia_burst_listener *burst; /* NULL: wants edges */
        void *self;
    } listeners[DIA_SIM_LISTENERS];
    uint8_t listener_count;
    struct dia_edge batch[DIA_SIM_BATCH];
    uint32_t batched;
    struct dia_edge answers[DIA_SIM_ANSWERS]; /* of the other end, while listeners are called */
    uint8_t answered, flushing;
};

/* All pins low at time 0. */
void dia_sim_init(struct dia_sim *sim, uint32_t clock_hz);

/* Adds a listener, and before anything has happened tells it which pins are high or let go already:
 * a desk may be set up in any order. DIA_UNSUPPORTED when there is no room. */
enum dia_status dia_sim_listen(struct dia_sim *sim, dia_edge_listener *take, void *self);

/* Lets the listener added last take bursts. It gets some while it is the only listener, and sees
 * the same wire with less work: edges are made only where it asks for them. DIA_UNSUPPORTED: there
 * is no listener. */
enum dia_status dia_sim_bursts(struct dia_sim *sim, dia_burst_listener *burst);

/* Gives the port an SPI bus on two pins. DIA_BAD_VALUE: no such bus or pins, or both the same. */
enum dia_status dia_sim_spi_pins(struct dia_sim *sim, uint8_t bus, uint8_t clock_pin,
                                 uint8_t data_pin);

/* The same for an I2C bus. */
enum dia_status dia_sim_i2c_pins(struct dia_sim *sim, uint8_t bus, uint8_t scl_pin,
                                 uint8_t sda_pin);

/* Calls run(self) after us from now (an interrupt), and again as it says. One that has no time for
 * all its turns makes up for those of a millisecond at most. Its number, or -1: no room. */
int dia_sim_timer(struct dia_sim *sim, dia_sim_timer_run *run, void *self, uint32_t us);

/*
 * From now on pulses and planes are sent before the call that starts them returns, and no timer is
 * called meanwhile, as on a controller that counts cycles with interrupts off. A timer that was due
 * is called once afterwards; what else it has missed is lost, as with the compare unit of a timer.
 */
void dia_sim_hold(struct dia_sim *sim);

/* The other end of a wire drives a pin (0 or 1) or lets it go (2) at t_ns, which shows where the
 * controller has let it go. self is the struct dia_sim; listeners may call it. */
void dia_sim_drive(void *self, uint64_t t_ns, uint8_t pin, uint8_t level);

/* Lets time pass; listeners have heard every edge up to then. */
void dia_sim_advance_us(struct dia_sim *sim, uint64_t us);

DIA_END

#endif
