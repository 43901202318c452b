/* SPDX-License-Identifier: MIT */
#include <string.h>

#include <diachrome/sim.h>

#include "sim_private.h"

#define ASKING_NS 1000u

void sim_flush(struct dia_sim *sim)
{
    if (sim->batched == 0)
        return;
    for (uint8_t i = 0; i < sim->listener_count; i++)
        sim->listeners[i].take(sim->listeners[i].self, sim->batch, sim->batched);
    sim->batched = 0;
}

void sim_room(struct dia_sim *sim, uint32_t n)
{
    if (DIA_SIM_BATCH - sim->batched < n)
        sim_flush(sim);
}

void dia_sim_advance_us(struct dia_sim *sim, uint64_t us)
{
    sim->now_ns += us * 1000u;
    sim_pulses_until(sim);
    sim_planes_until(sim);
    sim_spi_until(sim);
    sim_flush(sim);
}

static void ask(struct dia_sim *sim)
{
    sim->now_ns += ASKING_NS;
    sim_pulses_until(sim);
    sim_planes_until(sim);
    sim_spi_until(sim);
}

static uint32_t now_us(struct dia_port *port)
{
    struct dia_sim *sim = (struct dia_sim *)port;
    ask(sim);
    return (uint32_t)(sim->now_ns / 1000u);
}

static enum dia_status pin_write(struct dia_port *port, uint8_t pin, uint8_t level)
{
    struct dia_sim *sim = (struct dia_sim *)port;
    if (pin >= DIA_SIM_PINS || level > 1)
        return DIA_BAD_VALUE;
    ask(sim);
    sim_room(sim, 1);
    sim_edge(sim, sim->now_ns, pin, level);
    return DIA_OK;
}

static int in_planes(const struct dia_sim *sim, uint8_t pin)
{
    const struct dia_sim_planes *p = &sim->planes;
    return p->next != NULL && pin >= p->first_pin && pin < p->first_pin + p->width;
}

static enum dia_status pulse_start(struct dia_port *port, uint8_t pin, const uint8_t *bytes,
                                   uint32_t n, const DIA_ROM struct dia_pulse_timing *timing)
{
    struct dia_sim *sim = (struct dia_sim *)port;
    if (pin >= DIA_SIM_PINS || n == 0)
        return DIA_BAD_VALUE;
    ask(sim);
    if (sim->pulses[pin].next != NULL || in_planes(sim, pin))
        return DIA_BUSY;
    sim_pulses_begin(sim, pin, bytes, n, timing);
    return DIA_OK;
}

static enum dia_status planes_start(struct dia_port *port, uint8_t first_pin, uint8_t width,
                                    const uint8_t *planes, const uint32_t *lengths,
                                    const DIA_ROM struct dia_pulse_timing *timing)
{
    struct dia_sim *sim = (struct dia_sim *)port;
    uint32_t any = 0;
    if (width == 0 || width > 16 || first_pin + width > DIA_SIM_PINS)
        return DIA_BAD_VALUE;
    for (uint8_t k = 0; k < width; k++)
        any |= lengths[k];
    if (any == 0)
        return DIA_BAD_VALUE;
    ask(sim);
    if (sim->planes.next != NULL)
        return DIA_BUSY;
    for (uint8_t k = 0; k < width; k++) {
        if (sim->pulses[first_pin + k].next != NULL)
            return DIA_BUSY;
    }
    sim_planes_begin(sim, first_pin, width, planes, lengths, timing);
    return DIA_OK;
}

static enum dia_status pulse_poll(struct dia_port *port, uint8_t pin)
{
    struct dia_sim *sim = (struct dia_sim *)port;
    if (pin >= DIA_SIM_PINS)
        return DIA_BAD_VALUE;
    ask(sim);
    if (sim->pulses[pin].next != NULL || in_planes(sim, pin))
        return DIA_BUSY;
    sim_flush(sim);
    return DIA_OK;
}

static enum dia_status spi_start(struct dia_port *port, uint8_t bus, uint32_t clock_hz,
                                 const uint8_t *bytes, uint32_t n)
{
    struct dia_sim *sim = (struct dia_sim *)port;
    if (bus >= DIA_SIM_BUSES || !sim->spi[bus].present || n == 0 || clock_hz == 0)
        return DIA_BAD_VALUE;
    ask(sim);
    if (sim->spi[bus].next != NULL)
        return DIA_BUSY;
    sim_spi_begin(sim, bus, clock_hz, bytes, n);
    return DIA_OK;
}

static enum dia_status spi_poll(struct dia_port *port, uint8_t bus)
{
    struct dia_sim *sim = (struct dia_sim *)port;
    if (bus >= DIA_SIM_BUSES || !sim->spi[bus].present)
        return DIA_BAD_VALUE;
    ask(sim);
    if (sim->spi[bus].next != NULL)
        return DIA_BUSY;
    sim_flush(sim);
    return DIA_OK;
}

static const struct dia_port_ops ops = {
    .now_us = now_us,
    .pin_write = pin_write,
    .pulse_start = pulse_start,
    .pulse_poll = pulse_poll,
    .planes_start = planes_start,
    .spi_start = spi_start,
    .spi_poll = spi_poll,
};

void dia_sim_init(struct dia_sim *sim, uint32_t clock_hz)
{
    memset(sim, 0, sizeof *sim);
    sim->port.ops = &ops;
    sim->clock_hz = clock_hz;
}

enum dia_status dia_sim_listen(struct dia_sim *sim, dia_edge_listener *take, void *self)
{
    if (sim->listener_count == DIA_SIM_LISTENERS)
        return DIA_UNSUPPORTED;
    sim->listeners[sim->listener_count].take = take;
    sim->listeners[sim->listener_count].self = self;
    sim->listener_count++;
    return DIA_OK;
}

enum dia_status dia_sim_spi_pins(struct dia_sim *sim, uint8_t bus, uint8_t clock_pin,
                                 uint8_t data_pin)
{
    if (bus >= DIA_SIM_BUSES || clock_pin >= DIA_SIM_PINS || data_pin >= DIA_SIM_PINS ||
        clock_pin == data_pin)
        return DIA_BAD_VALUE;
    sim->spi[bus].clock_pin = clock_pin;
    sim->spi[bus].data_pin = data_pin;
    sim->spi[bus].present = 1;
    return DIA_OK;
}
