/* SPDX-License-Identifier: MIT */
#ifndef DIA_PORT_SIM_PRIVATE_H
#define DIA_PORT_SIM_PRIVATE_H

#include <stddef.h>

#include <diachrome/sim.h>

/* Goes on to a time, with the interrupts that come until then. */
void dia_sim_go_on_to(struct dia_sim *sim, uint64_t until_ns);

enum dia_status dia_sim_lines_shift(struct dia_port *port, uint8_t first_pin, uint8_t width,
                                    uint8_t clock_pin, const uint8_t *bytes, uint16_t n);

/* Hands the edges collected to the listeners. */
void dia_sim_flush(struct dia_sim *sim);

/* Makes room for n more edges, n at most DIA_SIM_BATCH. */
void dia_sim_room(struct dia_sim *sim, uint32_t n);

/* Whether anybody takes bursts; and offers one. 1: it is taken, and there are no edges to make. */
static inline int dia_sim_takes_bursts(const struct dia_sim *sim)
{
    return sim->listener_count == 1 && sim->listeners[0].burst != NULL && !sim->flushing;
}
int dia_sim_burst(struct dia_sim *sim, const struct dia_burst *burst);

/* Notes an edge (if it is one); there must be room. */
static inline void sim_edge(struct dia_sim *sim, uint64_t t_ns, uint8_t pin, uint8_t level)
{
    if (sim->level[pin] == level)
        return;
    struct dia_edge *edge = &sim->batch[sim->batched++];
    edge->t_ns = t_ns;
    edge->pin = pin;
    edge->level = level;
    edge->let_go = sim->let_go[pin];
    sim->level[pin] = level;
}

/* The sooner of a time in ns and one in 1/1024 ns. */
static inline uint64_t due_first(uint64_t ns, uint64_t at)
{
    return at >> 10 < ns ? at >> 10 : ns;
}

/* Starts (sim->quiet_ns is over with it); and carries on to sim->now_ns: the time when it has to be
 * carried on next, ns, UINT64_MAX when nothing goes out. */
void dia_sim_pulses_begin(struct dia_sim *sim, uint8_t pin, const uint8_t *bytes, uint32_t n,
                          const DIA_ROM struct dia_pulse_timing *timing);
uint64_t dia_sim_pulses_until(struct dia_sim *sim);
void dia_sim_planes_begin(struct dia_sim *sim, uint8_t first_pin, uint8_t width,
                          const uint8_t *planes, const uint32_t *lengths,
                          const DIA_ROM struct dia_pulse_timing *timing);
uint64_t dia_sim_planes_until(struct dia_sim *sim);

/* A duration in 1/1024 ns, as the controller can make it: whole clock cycles, at least one. */
uint64_t dia_sim_duration(uint32_t clock_hz, uint32_t ns);
void dia_sim_spi_begin(struct dia_sim *sim, uint8_t bus, uint32_t clock_hz, const uint8_t *bytes,
                       uint32_t n);
uint64_t dia_sim_spi_until(struct dia_sim *sim);
void dia_sim_i2c_begin(struct dia_sim *sim, uint8_t bus, uint8_t address, const uint8_t *bytes,
                       uint32_t n);
uint64_t dia_sim_i2c_until(struct dia_sim *sim);

/* A pin let go shows what the other end drives, or the pull-up. */
void dia_sim_let_go(struct dia_sim *sim, uint64_t t_ns, uint8_t pin);
void dia_sim_write(struct dia_sim *sim, uint64_t t_ns, uint8_t pin, uint8_t level);

#endif
