/* SPDX-License-Identifier: MIT */
#include <stddef.h>

#include <diachrome/schedule.h>

/* A frame with limiter and develop, and a pixel of it, or of one that is dimmed, if that is more:
 * columns of what build/tests/look-cycles prints. */
const struct dia_look_cycles dia_look_cycles[] = {
    {"alternate", 9085, 257}, {"beam", 7855, 403},
    {"blink", 4321, 165},     {"bounce", 12756, 155},
    {"breathe", 4722, 221},   {"chase", 20349, 585},
    {"columns", 17041, 978},  {"draw", 42596, 150},
    {"drift", 10259, 687},    {"flame", 15522, 797},
    {"glimmer", 5886, 678},   {"hue-sweep", 8126, 231},
    {"pulse", 10206, 572},    {"reveal", 11569, 198},
    {"rings", 11515, 834},    {"scatter", 6006, 596},
    {"steady", 3345, 221},    {"text", 26104, 731},
    {"water", 19795, 1193},   {"waves", 13932, 1094},
    {"wipe", 12318, 230},     {NULL, 0, 0},
};

void dia_schedule_hold(struct dia_schedule_setup *setup, uint64_t ns)
{
    if (ns > setup->held_ns)
        setup->held_ns = ns;
}

int dia_schedule_tick(struct dia_schedule_setup *setup, uint32_t cycles, uint32_t unit_us,
                      uint32_t units)
{
    if (setup->tick_count == DIA_SCHEDULE_TICKS)
        return -1;
    setup->ticks[setup->tick_count] = (struct dia_schedule_tick){cycles, unit_us, units};
    return setup->tick_count++;
}

uint64_t dia_schedule_late_ns(const struct dia_schedule_setup *setup, int tick)
{
    uint64_t cycles = 0;
    for (int i = 0; i < setup->tick_count; i++)
        cycles += i == tick ? 0 : setup->ticks[i].cycles;
    return setup->held_ns + cycles * 1000000000u / setup->clock_hz;
}

/*
 * In a frame of length T a lamp is lit for T / n, and what is lit when interrupts go off for L - L
 * / n longer: half of that, in parts of the mean, is its modulation.
 */
uint32_t dia_schedule_modulation_permille(const struct dia_schedule_setup *setup, int tick)
{
    uint64_t frame_ns = 1000000000000u / setup->rate_mhz;
    uint64_t late_ns = dia_schedule_late_ns(setup, tick);
    uint64_t permille = late_ns * (setup->ticks[tick].units - 1) * 500u / frame_ns;
    return permille > 1000 ? 1000 : (uint32_t)permille;
}
