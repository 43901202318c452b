/* SPDX-License-Identifier: MIT */
#include "sim_private.h"

#define LEAST_HALF_NS 25u

/* All of them, to a listener that takes them so: 1. */
static int send_burst(struct dia_sim *sim, struct dia_burst *burst)
{
    uint64_t half_ns = burst->high[0] >> 10;
    if (!dia_sim_takes_bursts(sim) || sim->level[burst->clock_pin] || burst->n == 0)
        return 0;
    burst->end = burst->at + burst->n * (burst->high[0] + burst->low[0]);
    if (!dia_sim_burst(sim, burst))
        return 0;
    for (uint8_t k = 0; k < burst->lines; k++)
        sim->level[burst->pin + k] = burst->bytes[burst->n - 1] >> k & 1u;
    dia_sim_go_on_to(sim, sim->now_ns + 2 * half_ns * burst->n);
    return 1;
}

/* Four cycles for each of the two halves of a byte's time. */
enum dia_status dia_sim_lines_shift(struct dia_port *port, uint8_t first_pin, uint8_t width,
                                    uint8_t clock_pin, const uint8_t *bytes, uint16_t n)
{
    struct dia_sim *sim = (struct dia_sim *)port;
    if (width == 0 || width > 8 || first_pin + width > DIA_SIM_PINS || clock_pin >= DIA_SIM_PINS)
        return DIA_BAD_VALUE;
    uint64_t half_ns =
        sim->clock_hz ? (4000000000u + sim->clock_hz - 1) / sim->clock_hz : LEAST_HALF_NS;
    half_ns = half_ns < LEAST_HALF_NS ? LEAST_HALF_NS : half_ns;
    struct dia_burst burst = {.bytes = bytes,
                              .n = n,
                              .pin = first_pin,
                              .clock_pin = clock_pin,
                              .lines = width,
                              .at = sim->now_ns << 10,
                              .high = {half_ns << 10},
                              .low = {half_ns << 10}};
    if (send_burst(sim, &burst))
        return DIA_OK;
    for (; n != 0; n--, bytes++) {
        dia_sim_room(sim, width + 2u);
        for (uint8_t k = 0; k < width; k++)
            dia_sim_write(sim, sim->now_ns, first_pin + k, *bytes >> k & 1u);
        dia_sim_go_on_to(sim, sim->now_ns + half_ns);
        dia_sim_room(sim, 1);
        dia_sim_write(sim, sim->now_ns, clock_pin, 1);
        dia_sim_go_on_to(sim, sim->now_ns + half_ns);
        dia_sim_room(sim, 1);
        dia_sim_write(sim, sim->now_ns, clock_pin, 0);
    }
    if (!sim->in_timer)
        dia_sim_flush(sim);
    return DIA_OK;
}
