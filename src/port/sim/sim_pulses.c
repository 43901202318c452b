/* SPDX-License-Identifier: MIT */
#include <stddef.h>

#include "sim_private.h"

uint64_t dia_sim_duration(uint32_t clock_hz, uint32_t ns)
{
    if (clock_hz == 0)
        return (uint64_t)ns << 10;
    uint64_t cycles = ((uint64_t)ns * clock_hz + 500000000u) / 1000000000u;
    return (cycles == 0 ? 1 : cycles) * 1000000000u * 1024u / clock_hz;
}

void dia_sim_pulses_begin(struct dia_sim *sim, uint8_t pin, const uint8_t *bytes, uint32_t n,
                          const DIA_ROM struct dia_pulse_timing *timing)
{
    struct dia_sim_pulses *p = &sim->pulses[pin];
    p->next = bytes;
    p->left = n;
    p->at = sim->now_ns << 10;
    p->high[0] = dia_sim_duration(sim->clock_hz, timing->range[DIA_T0H].nominal_ns);
    p->low[0] = dia_sim_duration(sim->clock_hz, timing->range[DIA_T0L].nominal_ns);
    p->high[1] = dia_sim_duration(sim->clock_hz, timing->range[DIA_T1H].nominal_ns);
    p->low[1] = dia_sim_duration(sim->clock_hz, timing->range[DIA_T1L].nominal_ns);
    sim->active[sim->active_count++] = pin;
    sim->quiet_ns = 0;
}

static void send_byte(struct dia_sim *sim, struct dia_sim_pulses *p, uint8_t pin)
{
    dia_sim_room(sim, 16);
    uint8_t byte = *p->next++;
    uint64_t at = p->at;
    for (uint8_t mask = 0x80; mask != 0; mask = (uint8_t)(mask >> 1)) {
        uint8_t bit = (byte & mask) != 0;
        sim_edge(sim, at >> 10, pin, 1);
        at += p->high[bit];
        sim_edge(sim, at >> 10, pin, 0);
        at += p->low[bit];
    }
    p->at = at;
    p->left--;
}

static uint64_t byte_lasts(const struct dia_sim_pulses *p, uint8_t byte)
{
    uint64_t lasts = 0;
    for (; byte != 0; byte &= (uint8_t)(byte - 1))
        lasts += p->high[1] + p->low[1] - p->high[0] - p->low[0];
    return lasts + 8 * (p->high[0] + p->low[0]);
}

/* All bytes that are due at once, to a listener that takes them so. */
static void send_burst(struct dia_sim *sim, struct dia_sim_pulses *p, uint8_t pin)
{
    struct dia_burst burst = {.bytes = p->next, .pin = pin, .clock_pin = DIA_NO_PIN};
    uint64_t now = sim->now_ns << 10 | 1023, lasts = 8 * (p->high[0] + p->low[0]);
    burst.at = burst.end = p->at;
    if (p->high[1] + p->low[1] == p->high[0] + p->low[0] && p->at <= now) {
        uint64_t due = (now - p->at) / lasts + 1;
        burst.n = due < p->left ? (uint32_t)due : p->left;
        burst.end += burst.n * lasts;
    }
    for (; burst.n < p->left && burst.end <= now; burst.n++)
        burst.end += byte_lasts(p, p->next[burst.n]);
    for (int bit = 0; bit < 2; bit++) {
        burst.high[bit] = p->high[bit];
        burst.low[bit] = p->low[bit];
    }
    if (burst.n == 0 || sim->level[pin] || !dia_sim_burst(sim, &burst))
        return;
    p->next += burst.n;
    p->left -= burst.n;
    p->at = burst.end;
}

/* A byte is read when the clock has reached its first pulse; the pin is free after its last. */
static int finished(struct dia_sim *sim, uint8_t pin)
{
    struct dia_sim_pulses *p = &sim->pulses[pin];
    if (dia_sim_takes_bursts(sim))
        send_burst(sim, p, pin);
    while (p->left != 0 && p->at >> 10 <= sim->now_ns)
        send_byte(sim, p, pin);
    if (p->left != 0 || p->at >> 10 > sim->now_ns)
        return 0;
    p->next = NULL;
    return 1;
}

uint64_t dia_sim_pulses_until(struct dia_sim *sim)
{
    uint64_t next = UINT64_MAX;
    for (uint8_t i = 0; i < sim->active_count;) {
        if (finished(sim, sim->active[i]))
            sim->active[i] = sim->active[--sim->active_count];
        else
            next = due_first(next, sim->pulses[sim->active[i++]].at);
    }
    return next;
}
