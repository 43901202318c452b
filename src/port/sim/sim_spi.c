/* SPDX-License-Identifier: MIT */
#include <stddef.h>

#include "sim_private.h"

/* Half a clock period in 1/1024 ns, rounded up: never faster than asked for. */
static uint64_t half_period(uint32_t clock_hz)
{
    return ((uint64_t)500000000u * 1024u + clock_hz - 1) / clock_hz;
}

void sim_spi_begin(struct dia_sim *sim, uint32_t clock_hz, const uint8_t *bytes, uint32_t n)
{
    sim->spi.next = bytes;
    sim->spi.left = n;
    sim->spi.at = sim->now_ns << 10;
    sim->spi.half = half_period(clock_hz);
}

/* Mode 0: data settles while the clock is low and is taken on the rising edge. */
static void send_byte(struct dia_sim *sim)
{
    sim_room(sim, 24);
    uint8_t byte = *sim->spi.next++;
    uint64_t at = sim->spi.at;
    for (uint8_t mask = 0x80; mask != 0; mask = (uint8_t)(mask >> 1)) {
        sim_edge(sim, at >> 10, sim->spi.data_pin, (byte & mask) != 0);
        at += sim->spi.half;
        sim_edge(sim, at >> 10, sim->spi.clock_pin, 1);
        at += sim->spi.half;
        sim_edge(sim, at >> 10, sim->spi.clock_pin, 0);
    }
    sim->spi.at = at;
    sim->spi.left--;
}

void sim_spi_until(struct dia_sim *sim)
{
    if (sim->spi.next == NULL)
        return;
    while (sim->spi.left != 0 && sim->spi.at >> 10 <= sim->now_ns)
        send_byte(sim);
    if (sim->spi.left == 0 && sim->spi.at >> 10 <= sim->now_ns)
        sim->spi.next = NULL;
}
