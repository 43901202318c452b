/* SPDX-License-Identifier: MIT */
#include <stddef.h>

#include "sim_private.h"

/* Half a clock period in 1/1024 ns, rounded up: never faster than asked for. */
static uint64_t half_period(uint32_t clock_hz)
{
    return ((uint64_t)500000000u * 1024u + clock_hz - 1) / clock_hz;
}

void dia_sim_spi_begin(struct dia_sim *sim, uint8_t bus, uint32_t clock_hz, const uint8_t *bytes,
                       uint32_t n)
{
    struct dia_sim_spi *spi = &sim->spi[bus];
    spi->next = bytes;
    spi->left = n;
    spi->at = sim->now_ns << 10;
    spi->half = half_period(clock_hz);
    sim->spi_active++;
    sim->quiet_ns = 0;
}

/* Mode 0: data settles while the clock is low and is taken on the rising edge. */
static void send_byte(struct dia_sim *sim, struct dia_sim_spi *spi)
{
    dia_sim_room(sim, 24);
    uint8_t byte = *spi->next++;
    uint64_t at = spi->at;
    for (uint8_t mask = 0x80; mask != 0; mask = (uint8_t)(mask >> 1)) {
        sim_edge(sim, at >> 10, spi->data_pin, (byte & mask) != 0);
        at += spi->half;
        sim_edge(sim, at >> 10, spi->clock_pin, 1);
        at += spi->half;
        sim_edge(sim, at >> 10, spi->clock_pin, 0);
    }
    spi->at = at;
    spi->left--;
}

/* All bytes that are due at once, to a listener that takes them so. */
static void send_burst(struct dia_sim *sim, struct dia_sim_spi *spi)
{
    uint64_t now = sim->now_ns << 10 | 1023, lasts = 16 * spi->half;
    if (spi->left == 0 || spi->at > now || sim->level[spi->clock_pin])
        return;
    uint64_t due = (now - spi->at) / lasts + 1;
    struct dia_burst burst = {.bytes = spi->next,
                              .n = due < spi->left ? (uint32_t)due : spi->left,
                              .pin = spi->data_pin,
                              .clock_pin = spi->clock_pin,
                              .at = spi->at,
                              .high = {spi->half, spi->half},
                              .low = {spi->half, spi->half}};
    burst.end = burst.at + burst.n * lasts;
    if (!dia_sim_burst(sim, &burst))
        return;
    spi->next += burst.n;
    spi->left -= burst.n;
    spi->at = burst.end;
    sim->level[spi->data_pin] = spi->next[-1] & 1;
}

uint64_t dia_sim_spi_until(struct dia_sim *sim)
{
    uint64_t next = UINT64_MAX;
    uint8_t active = sim->spi_active;
    for (uint8_t bus = 0; active != 0 && bus < DIA_SIM_BUSES; bus++) {
        struct dia_sim_spi *spi = &sim->spi[bus];
        if (spi->next == NULL)
            continue;
        active--;
        if (dia_sim_takes_bursts(sim))
            send_burst(sim, spi);
        while (spi->left != 0 && spi->at >> 10 <= sim->now_ns)
            send_byte(sim, spi);
        if (spi->left == 0 && spi->at >> 10 <= sim->now_ns) {
            spi->next = NULL;
            sim->spi_active--;
            continue;
        }
        next = due_first(next, spi->at);
    }
    return next;
}
