/* SPDX-License-Identifier: MIT */
#include <stddef.h>

#include "sim_private.h"

void dia_sim_planes_begin(struct dia_sim *sim, uint8_t first_pin, uint8_t width,
                          const uint8_t *planes, const uint32_t *lengths,
                          const DIA_ROM struct dia_pulse_timing *timing)
{
    struct dia_sim_planes *p = &sim->planes;
    const DIA_ROM struct dia_pulse_range *range = timing->range;
    uint32_t zero = (uint32_t)range[DIA_T0H].nominal_ns + range[DIA_T0L].nominal_ns;
    uint32_t one = (uint32_t)range[DIA_T1H].nominal_ns + range[DIA_T1L].nominal_ns;
    sim->quiet_ns = 0;
    p->next = planes;
    p->first_pin = first_pin;
    p->width = width;
    p->bit = 0;
    p->longest = 0;
    for (uint8_t k = 0; k < width; k++) {
        p->ends[k] = lengths[k] * 8u;
        p->longest = p->ends[k] > p->longest ? p->ends[k] : p->longest;
    }
    p->at = sim->now_ns << 10;
    p->high[0] = dia_sim_duration(sim->clock_hz, range[DIA_T0H].nominal_ns);
    p->high[1] = dia_sim_duration(sim->clock_hz, range[DIA_T1H].nominal_ns);
    p->period = dia_sim_duration(sim->clock_hz, one > zero ? one : zero);
}

/* Pins that still send rise together; those with a 0 fall first, then the others. */
static void send_bit(struct dia_sim *sim, struct dia_sim_planes *p)
{
    uint32_t plane = *p->next++, live = 0;
    if (p->width > 8)
        plane |= (uint32_t)*p->next++ << 8;
    for (uint8_t k = 0; k < p->width; k++)
        live |= (uint32_t)(p->bit < p->ends[k]) << k;
    dia_sim_room(sim, 32);
    for (uint8_t k = 0; k < p->width; k++) {
        if (live >> k & 1)
            sim_edge(sim, p->at >> 10, (uint8_t)(p->first_pin + k), 1);
    }
    for (uint8_t value = 0; value < 2; value++) {
        for (uint8_t k = 0; k < p->width; k++) {
            if ((live >> k & 1) && (plane >> k & 1) == value)
                sim_edge(sim, (p->at + p->high[value]) >> 10, (uint8_t)(p->first_pin + k), 0);
        }
    }
    p->at += p->period;
    p->bit++;
}

uint64_t dia_sim_planes_until(struct dia_sim *sim)
{
    struct dia_sim_planes *p = &sim->planes;
    if (p->next == NULL)
        return UINT64_MAX;
    while (p->bit < p->longest && p->at >> 10 <= sim->now_ns)
        send_bit(sim, p);
    if (p->bit == p->longest && p->at >> 10 <= sim->now_ns) {
        p->next = NULL;
        return UINT64_MAX;
    }
    return p->at >> 10;
}
